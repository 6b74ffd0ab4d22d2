"""What forms and pages need to know: fields, parts, preferences."""

from __future__ import annotations

import dataclasses
from collections.abc import Hashable
from typing import Any, cast

from fastapi import APIRouter

from ninebolt.api.models import PROBLEMS, FieldOut, PreferenceIn
from ninebolt.api.routes_builds import HouseDep
from ninebolt.core.build import Build
from ninebolt.core.codec import fields_of
from ninebolt.core.parts.kinds import KINDS
from ninebolt.services import rides
from ninebolt.services.registers import Registers, registers

router = APIRouter(prefix="/api", tags=["reference"], responses=PROBLEMS)


# The road is no thing that one buys or weighs.
NOT_OFFERED = {("Road", "mass_kg"), ("Road", "price_money")}


def _walk(cls: type, out: dict[str, list[FieldOut]]) -> None:
    if cls.__name__ in out:
        return
    rows: list[FieldOut] = []
    out[cls.__name__] = rows
    for name, (spec, hint) in fields_of(cast(Hashable, cls)).items():
        for inner in (hint, *getattr(hint, "__args__", ())):
            if isinstance(inner, type) and dataclasses.is_dataclass(inner) and spec and spec.part:
                _walk(inner, out)
        if spec is not None and (cls.__name__, name) not in NOT_OFFERED:
            rows.append(
                FieldOut(
                    name=name,
                    label=spec.label,
                    kind=spec.kind,
                    quantity=spec.quantity(name).key,
                    lo=spec.lo,
                    hi=spec.hi,
                    above=spec.above,
                    assume=spec.assume,
                    assume_by=dict(spec.assume_by),
                    options=list(spec.options),
                    part=spec.part,
                    help=spec.help,
                    detail=spec.detail,
                    own=spec.own,
                    wish=spec.wish,
                    typed=spec.typed,
                    tells=name in getattr(cls, "TELLING", ()),
                )
            )


@router.get("/fields")
def fields() -> dict[str, list[FieldOut]]:
    """Fields of every part, by class name; 'Build' is the root."""
    out: dict[str, list[FieldOut]] = {}
    _walk(Build, out)
    for cls in KINDS.values():  # also what lies on the shelf and is no part of a build
        _walk(cls, out)
    return out


@router.get("/registers")
def get_registers() -> Registers:
    """Kinds of part, readers of files, forms of the parameter set, kinds of job."""
    return registers()


@router.get("/preferences")
def get_preferences(house: HouseDep) -> dict[str, Any]:
    """Units and theme as chosen."""
    return rides.preferences(house)


@router.put("/preferences")
def put_preference(house: HouseDep, body: PreferenceIn) -> dict[str, Any]:
    """Remember a choice."""
    return rides.set_preference(house, body.key, body.value)
