"""Commissioning and fault finding: what is entered at a gate, in its order; what a reading says about a symptom."""

from __future__ import annotations

import math
from typing import Any

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.prove.finder import Hunt, hunt
from ninebolt.core.bolts.prove.fitted import passed_on
from ninebolt.core.bolts.prove.gates import COLD, UNDER_POWER, Gate, gate_states, passes
from ninebolt.core.build import Build
from ninebolt.errors import ConflictError, InputError, NotFoundError
from ninebolt.formats.gate_sheet import write_gate_sheet
from ninebolt.services import pictures, workshop
from ninebolt.services.docs import build_at
from ninebolt.services.house import House, before
from ninebolt.services.standing import none_stands, sentences
from ninebolt.services.workshop import Bench
from ninebolt.store.database import session


def enter(
    house: House,
    build_id: str,
    key: str,
    value: float | None,
    passed: bool | None,
    note: str,
    who: str,
    ago_s: float | None = None,
    seq: int | None = None,
) -> Bench:
    """Enter what was found at a gate; None and None clears it. ago_s: how long ago it was found, where it comes in
    later; seq: the change after which the build stood then, whose parts it counts for. Raises NotFoundError for a gate
    that this build has not, ConflictError behind an open hold point, for one that passed while a stop stands, or that
    was found before what is written there or on a build that is gone, InputError for no answer of its kind."""
    build = workshop.kept_build(house, build_id)
    states = {s.gate.key: s for s in gate_states(Bike(build))}
    if key not in states:
        raise NotFoundError(f"This build has no gate '{key[:40]}'.", expected=", ".join(states))
    here = states[key]
    clears = value is None and passed is None
    if here.state == "blocked" and not clears:
        raise ConflictError(
            "A gate before this one is not passed.", where=key, got=states[here.behind].gate.title,
            todo="Do that one first: it protects a hand or the inverter.",
        )  # fmt: skip
    if here.gate.quantity and passed is True and value is None:
        raise InputError(
            "This gate wants a reading.", where=key, expected=f"a number in {here.gate.quantity}"
        )
    if value is not None and not math.isfinite(value):
        raise InputError("A reading is a number.", where=key, got=repr(value))
    at = before(house.now(), ago_s)
    if ago_s and here.at > at:
        raise ConflictError(
            "A later answer stands at this gate.", where=key, got=here.at,
            todo="Let this one go, or enter it again if it is what holds now.",
        )  # fmt: skip
    made = {
        "key": key,
        "value": {"amount": value, "origin": "measured", "tolerance": None},
        "passed": passed if not here.gate.quantity or passed is False else None,
        "note": note, "who": who, "at": at, "on": passed_on(_then(house, build_id, seq) or build, key),
    }  # fmt: skip
    if here.gate.phase != COLD and passes(here.gate, value, passed):
        _no_stop(house, build, here.gate)
    reason = f"{here.gate.title}: {'cleared' if clears else 'entered'}"

    def entered(doc: Any) -> list[dict[str, Any]]:
        others = [e for e in doc["prove"]["gates"] if e["key"] != key]
        return [{"path": "prove.gates", "value": others if clears else [*others, made]}]

    return workshop.change_by(house, build_id, entered, reason)


def _then(house: House, build_id: str, seq: int | None) -> Build | None:
    """The build as it stood where a gate was read; None where nobody said. Raises ConflictError."""
    if seq is None:
        return None
    with session(house.path) as db:
        try:
            return build_at(db, build_id, seq, "")
        except NotFoundError as error:
            raise ConflictError(
                "The build that this was found on is not there any more.",
                got=f"change {seq}",
                todo="Look at the gate again and enter it anew.",
            ) from error


def _no_stop(house: House, build: Build, gate: Gate) -> None:
    """What failed is always written down; nothing passes under power while a stop stands. Raises ConflictError."""
    ridden = gate.phase not in UNDER_POWER
    none_stands(
        house, build,
        f"A stop stands: the bike is not {'ridden' if ridden else 'powered'} before it is cleared.",
        "Clear it in its bolt. What failed can be written down all the same.",
        where=gate.key, power=not ridden,
    )  # fmt: skip


def sheet(house: House, build_id: str, paper: str = "a4") -> tuple[str, bytes]:
    """(file name, PDF): every gate with what was found there, its photos, and room for what was not. Raises
    NotFoundError, InputError for an unknown paper."""
    build = workshop.kept_build(house, build_id)
    with session(house.path) as db:
        photos = pictures.photo_files(db, build_id)
    return f"{build.name}-gates.pdf", write_gate_sheet(
        build.name,
        gate_states(Bike(build)),
        photos,
        paper,
        sentences(house, build),
    )


def find(
    house: House, build_id: str, symptom: str, readings: list[tuple[str, float | None]]
) -> Hunt:
    """Suspects and the next reading. Raises InputError."""
    return hunt(Bike(workshop.shown_build(house, build_id)), symptom, readings)
