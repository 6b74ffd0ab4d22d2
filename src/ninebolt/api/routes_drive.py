"""Drive: the picture in other conditions, measurements of a motor, labels, more amps in steps."""

from __future__ import annotations

from typing import Annotated, TypeVar

from fastapi import APIRouter, Query

from ninebolt.api.models import PROBLEMS
from ninebolt.api.routes_builds import HouseDep
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.drive.bolt import DriveDrawing
from ninebolt.core.bolts.drive.uprate import Uprate, uprate
from ninebolt.core.bolts.tune.bolt import ThrustAt, thrust_at
from ninebolt.core.drive.label import Reading, read_label
from ninebolt.core.drive.measure import (
    TELLS,
    Measured,
    kv_from_drill,
    kv_from_spin,
    pack_ohm,
    phase_henry,
    phase_ohm,
)
from ninebolt.errors import InputError
from ninebolt.services import workshop
from ninebolt.services.drive_at import Conditions, drive_at
from ninebolt.services.rewind import Rewinding, rewinding
from ninebolt.services.standing import named_stops

router = APIRouter(prefix="/api", tags=["drive"], responses=PROBLEMS)
T = TypeVar("T")
Volts = Annotated[float, Query(gt=0, le=2000)]
Amps = Annotated[float, Query(gt=0, le=5000)]
Line = Annotated[float, Query(ge=0, le=5000)]
Rpm = Annotated[float, Query(gt=0, le=60000)]


@router.get("/builds/{build_id}/drive")
def drive_picture(
    house: HouseDep,
    build_id: str,
    soc: Annotated[float | None, Query(ge=0.01, le=1)] = None,
    cells_c: Annotated[float | None, Query(ge=-30, le=60)] = None,
    motor_c: Annotated[float | None, Query(ge=-30, le=200)] = None,
    grade_pct: Annotated[float | None, Query(ge=-60, le=100)] = None,
    wind_m_s: Annotated[float | None, Query(ge=-30, le=30)] = None,
) -> DriveDrawing:
    """Drive's picture in other conditions; nothing is kept."""
    asked = Conditions(soc, cells_c, motor_c, grade_pct, wind_m_s)
    return drive_at(workshop.shown_build(house, build_id), asked)


def _computed(found: T | None, what: str, todo: str) -> T:
    """What was worked out. Raises InputError where it could not be."""
    if found is None:
        raise InputError(what, todo=todo)
    return found


@router.get("/builds/{build_id}/uprate")
def more_amps(
    house: HouseDep, build_id: str, line_a: Annotated[float, Query(gt=0, le=5000)]
) -> Uprate:
    """From the line amps set to a wish in small steps, as far as the chain allows, and over no stop."""
    build = workshop.shown_build(house, build_id)
    return _computed(
        uprate(Bike(build), line_a, named_stops(house, build)),
        "There are no steps yet: the bike does not compute, or its line amps are not set.",
        "Fill in what Drive calls missing, and the line amps of the controller.",
    )


@router.get("/builds/{build_id}/thrust")
def thrust(
    house: HouseDep, build_id: str, speed_m_s: Annotated[float, Query(ge=0, le=150)] = 0.0
) -> ThrustAt:
    """What each share of the torque pushes at a road speed: the throttle's curve is drawn over it."""
    return _computed(
        thrust_at(Bike(workshop.shown_build(house, build_id)), speed_m_s),
        "There is no thrust yet: the bike does not compute.",
        "Fill in what Tune calls missing.",
    )


@router.get("/builds/{build_id}/rewind")
def rewind(house: HouseDep, build_id: str, turns: float = 4.0, to_turns: float = 5.0) -> Rewinding:
    """The same motor with another number of turns; nothing is kept."""
    return rewinding(house, build_id, turns, to_turns)


@router.get("/sums/label")
def label(text: Annotated[str, Query(min_length=1, max_length=400)]) -> list[Reading]:
    """What a label may mean: hypotheses, the surest first."""
    found = read_label(text)
    if not found:
        raise InputError(
            "Nothing on this label is understood.",
            got=text[:60],
            expected="numbers with V, A, W, rpm or KV, as they stand on the case",
        )
    return list(found)


@router.get("/sums/spin")
def spin(rpm: Rpm, volts: Volts) -> Measured:
    """KV from free running at a voltage."""
    return kv_from_spin(rpm, volts)


@router.get("/sums/drill")
def drill(rpm: Rpm, volts: Volts) -> Measured:
    """KV from the AC volts between two leads while a drill turns it."""
    return kv_from_drill(rpm, volts)


@router.get("/sums/phase-ohm")
def ohm(
    volts: Volts,
    amps: Amps,
    lead_volts: Annotated[float, Query(ge=0, le=100)] = 0.0,
    winding_c: Annotated[float, Query(ge=-30, le=200)] = 20.0,
) -> Measured:
    """Resistance of one phase from a known current through two, the meter's leads taken off."""
    if lead_volts >= volts:
        raise InputError(
            "The leads alone cannot drop as much as leads and winding.",
            where="lead_volts",
            got=f"{lead_volts:g} V",
            expected=f"under {volts:g} V",
        )
    return _told(phase_ohm(volts, amps, lead_volts, winding_c), f"{volts - lead_volts:g} V")


def _told(found: Measured, drop: str) -> Measured:
    """What was found, unless the meter's own uncertainty swallows it. Raises InputError."""
    if found.spread > TELLS:
        raise InputError(
            "So small a drop tells no resistance.",
            got=f"{drop} between the readings: ± {found.spread:.0%}",
            expected="a drop that a meter reads well",
            todo="More amps, or readings that lie further apart.",
        )
    return found


@router.get("/sums/resistance")
def resistance(v1: Volts, a1: Line, v2: Volts, a2: Line) -> Measured:
    """Pack resistance from volts at two currents."""
    try:
        return _told(pack_ohm(v1, a1, v2, a2), f"{v1 - v2:.3g} V")
    except ValueError as error:
        raise InputError(
            "These two readings give no resistance.",
            got=f"{v1:g} V at {a1:g} A, {v2:g} V at {a2:g} A",
            expected="volts that fall as amps rise",
            todo="Read both at once, the clamp the same way round; the further apart the amps, the better.",
        ) from error


@router.get("/sums/phase-henry")
def henry(
    volts: Volts,
    amps: Amps,
    seconds: Annotated[float, Query(gt=0, le=10)],
    ohm: Annotated[float, Query(gt=0, le=10)],
) -> Measured:
    """Inductance of one phase from a step of voltage over two."""
    if amps >= volts / (2.0 * ohm):
        raise InputError(
            "So much current does not flow through this resistance.",
            where="amps",
            got=f"{amps:g} A",
            expected=f"under {volts / (2 * ohm):.3g} A, well before it levels off",
        )
    return phase_henry(volts, amps, seconds, ohm)
