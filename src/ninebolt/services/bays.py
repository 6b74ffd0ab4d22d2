"""Bays from drawings: read an outline and put it into a build."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ninebolt.core.codec import encode
from ninebolt.errors import InputError
from ninebolt.services import workshop
from ninebolt.services.house import House
from ninebolt.services.workshop import Bench

if TYPE_CHECKING:
    from ninebolt.formats.outline import OutlineFile

MOST_BAYS = 3


def import_outline(house: House, build_id: str, data: bytes, name: str, bay: int | None) -> Bench:
    """Set the outline of a bay, or add a bay with it. Raises FormatError, InputError."""
    from ninebolt.formats.outline import read_outline  # its libraries take long to load

    found = read_outline(data, name)
    doc = encode(workshop.shown_build(house, build_id))
    bays = doc["donor"]["bays"]
    if bay is None:
        if len(bays) >= MOST_BAYS:
            raise InputError(
                "There are three bays already.",
                where="donor.bays",
                todo="Choose one to take this outline, or remove one.",
            )
        return workshop.change(house, build_id, [_new(len(bays), name, found)], f"Outline {name}")
    if not 0 <= bay < len(bays):
        raise InputError(
            "There is no such bay.", where="bay", got=str(bay + 1), expected=f"1 to {len(bays)}"
        )
    base = f"donor.bays.{bay}"
    changes: list[dict[str, Any]] = [
        {"path": f"{base}.outline", "value": [list(p) for p in found.corners]},
        {"path": f"{base}.length_m", "value": _measured(found.length_m)},
        {"path": f"{base}.height_m", "value": _measured(found.height_m)},
    ]
    return workshop.change(house, build_id, changes, f"Outline {name}")


def _measured(x: float) -> dict[str, Any]:
    return {"amount": round(x, 5), "origin": "measured", "tolerance": None}


def _new(index: int, name: str, found: OutlineFile) -> dict[str, Any]:
    return {
        "path": f"donor.bays.{index}",
        "value": {
            "name": name.rsplit(".", 1)[0][:40] or f"Bay {index + 1}",
            "outline": [list(p) for p in found.corners],
            "length_m": _measured(found.length_m),
            "height_m": _measured(found.height_m),
        },
    }
