"""Tune's findings: values outside their constraint, and what is wrong with the throttle curve."""

from __future__ import annotations

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.bolts.tune.limits import EARLY_TWIST, FULL_SHARE, PUSH_SHARE
from ninebolt.core.bolts.tune.rows import ParamRow, rows_of
from ninebolt.core.build import Build
from ninebolt.core.finding import Change, Fix, Source, q

HARD = ("line_a", "phase_a", "lvc_v", "ovc_v", "pole_pairs")
STRAIGHT = Fix("Use a straight curve", (Change("tune.throttle", [[0.0, 0.0], [1.0, 1.0]]),))


def _wrong(row: ParamRow) -> bool:
    if row.chosen is None:
        return False
    return (
        (row.bound == "most" and row.chosen > row.recommended * 1.001)
        or (row.bound == "least" and row.chosen < row.recommended * 0.999)
        or (row.bound == "" and abs(row.chosen - row.recommended) > 0.02 * abs(row.recommended))
        or not row.lo <= row.chosen <= row.hi
    )


@check("tune.param", "a value set by hand is outside its constraint", parts=("tune",))
def param(bike: Bike) -> list[Says]:
    return [_outside(bike.build, row) for row in rows_of(bike) if _wrong(row)]


def _outside(build: Build, row: ParamRow) -> Says:
    return Says(
        "stop" if row.name in HARD else "caution",
        f"{row.label} is outside its constraint",
        f"Set by hand to {q(row.chosen or 0.0, row.quantity)}; the build allows "
        f"{q(row.recommended, row.quantity)} ({row.constraint}).",
        row.chosen,
        row.recommended,
        row.quantity,
        source=Source("computed", row.constraint),
        fixes=(Fix("Use the recommended value", (_drop(build, row.name),)),),
        at=row.name,
    )


def _drop(build: Build, name: str) -> Change:
    kept = [{"name": p.name, "value": p.value} for p in build.tune.chosen if p.name != name]
    return Change("tune.chosen", kept)


@check("tune.curve_falls", "the throttle curve falls as one twists on")
def curve_falls(bike: Bike) -> Says | None:
    ys = [y for _, y in bike.build.tune.throttle]
    if all(b >= a for a, b in zip(ys, ys[1:], strict=False)):
        return None
    return Says(
        "stop",
        "The throttle curve falls as you twist on",
        f"It goes from {max(ys):.0%} back to {ys[-1]:.0%}: the bike slows while the hand asks for more.",
        ys[-1],
        max(ys),
        fixes=(STRAIGHT,),
    )


@check("tune.curve_early", "full torque comes before full twist")
def curve_early(bike: Bike) -> Says | None:
    early = next((x for x, y in bike.build.tune.throttle if y >= FULL_SHARE), 1.0)
    if early >= EARLY_TWIST:
        return None
    return Says(
        "caution",
        "Full torque comes before full twist",
        f"All of it is there at {early:.0%} of the twist; the rest of the grip does nothing.",
        early,
        EARLY_TWIST,
        fixes=(STRAIGHT,),
    )


@check("tune.curve_push", "torque with the throttle closed")
def curve_push(bike: Bike) -> Says | None:
    points = bike.build.tune.throttle
    if not points or points[0][1] <= PUSH_SHARE:
        return None
    return Says(
        "stop",
        "Torque with the throttle closed",
        f"The curve starts at {points[0][1]:.0%}: the bike pushes on when you let go.",
        points[0][1],
        PUSH_SHARE,
        fixes=(STRAIGHT,),
    )
