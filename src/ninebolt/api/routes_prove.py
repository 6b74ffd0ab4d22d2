"""Prove: commissioning gates, the fault finder."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import Field

from ninebolt.api.answers import BENCH, answer
from ninebolt.api.models import Body
from ninebolt.api.routes_builds import HouseDep, Shown
from ninebolt.core.bolts.prove.finder import Hunt
from ninebolt.services import commission

router = APIRouter(prefix="/api/builds/{build_id}", tags=["prove"])
Text = Annotated[str, Field(max_length=400)]


class GateIn(Body):
    """What was found at a gate: a reading in SI, or a yes or no. Neither clears it."""

    value: float | None = None
    passed: bool | None = None
    note: Text = ""
    who: Annotated[str, Field(max_length=80)] = ""


class ReadingIn(Body):
    """A reading of the fault finder, in SI."""

    place: Annotated[str, Field(max_length=40)]
    value: float


class HuntIn(Body):
    """What is wrong with the bike, and what was read so far."""

    symptom: Annotated[str, Field(max_length=60)]
    readings: Annotated[list[ReadingIn], Field(max_length=60)]


@router.post("/gates/{gate}", **BENCH)
def enter_gate(
    house: HouseDep, build_id: str, gate: str, body: GateIn, bolt_shown: Shown = ""
) -> Response:
    """Enter a gate of commissioning; refused behind an open hold point."""
    done = commission.enter(house, build_id, gate, body.value, body.passed, body.note, body.who)
    return answer(done, bolt_shown)


@router.post("/finder")
def find_fault(house: HouseDep, build_id: str, body: HuntIn) -> Hunt:
    """Suspects after the readings, and the reading that tells most next."""
    return commission.find(
        house, build_id, body.symptom, [(r.place, r.value) for r in body.readings]
    )
