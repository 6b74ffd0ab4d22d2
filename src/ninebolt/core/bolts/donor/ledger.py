"""Donor: the mass ledger, the centre of mass of the bike and of the ridden bike, the scale."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.mass import fitted_parts, rider_kg
from ninebolt.core.build import Build

RIDER_X_M, RIDER_Y_M = 0.55, 0.95  # seated rider on an enduro frame. Common practice, no source.
MOTOR_X_SHARE, MOTOR_Y_M = 0.36, 0.38  # where a mid-drive sits if nothing else is said
Centre = tuple[float, float, float]  # kg, x, y


@dataclass(frozen=True, slots=True)
class LedgerRow:
    """kg is signed: negative = came off. index: place in donor.items, None for fitted parts and the
    scale's correction. origin: where the mass comes from."""

    label: str
    kg: float
    x_m: float
    y_m: float
    kind: str
    path: str
    index: int | None
    placed: bool
    origin: str


@dataclass(frozen=True, slots=True)
class Weighed:
    """The bike and the ridden bike as (kg, x, y), and the wheelbase."""

    bike: Centre | None
    ridden: Centre | None
    base: float


def scale_of(build: Build) -> tuple[float, float] | None:
    """Both axles on the scale (front, rear); None until both are read."""
    front, rear = build.donor.front_scale_kg.amount, build.donor.rear_scale_kg.amount
    return (front, rear) if front is not None and rear is not None else None


def _place(build: Build, path: str) -> tuple[float, float]:
    bays = build.donor.bays
    if path == "pack" and bays and bays[0].x_m.known and bays[0].y_m.known:
        return bays[0].x_m.or_else(0.0), bays[0].y_m.or_else(0.0)
    if path == "drive.motor":
        if build.drive.motor.kind == "hub":
            return 0.0, build.donor.wheel_radius_m.taken
        return MOTOR_X_SHARE * build.road.wheelbase_m.taken, MOTOR_Y_M
    return build.donor.cg_x_m.taken, build.donor.cg_y_m.taken


@fact
def ledger(bike: Bike) -> tuple[LedgerRow, ...]:
    """All lines of the ledger: those written down, the fitted parts that know their mass, and what
    the scale corrected."""
    build = bike.build
    home = build.donor.cg_x_m.taken, build.donor.cg_y_m.taken
    rows = []
    for i, item in enumerate(build.donor.items):
        sign = 1.0 if item.action == "added" else -1.0
        placed = item.x_m.known and item.y_m.known
        rows.append(
            LedgerRow(
                item.name,
                sign * item.mass_kg.or_else(0.0),
                item.x_m.or_else(home[0]),
                item.y_m.or_else(home[1]),
                item.action,
                f"donor.items.{i}",
                i,
                placed,
                item.mass_kg.origin if item.mass_kg.known else "unknown",
            )
        )
    for path, label, kg in fitted_parts(build):
        x, y = _place(build, path)
        rows.append(LedgerRow(label, kg, x, y, "fitted", path, None, True, _origin(build, path)))
    off = build.donor.correction_kg.or_else(0.0)
    if off:
        x = build.donor.correction_kg_m.or_else(off * home[0]) / off
        near = min(max(x, -0.3), build.road.wheelbase_m.taken + 0.3)
        rows.append(
            LedgerRow(
                "Scale correction", off, near, home[1], "scale", "donor", None, True, "measured"
            )
        )
    return tuple(rows)


def _origin(build: Build, path: str) -> str:
    """Origin of a fitted part's mass; the pack's is that of its cells."""
    part: Any = build.pack.cell if path == "pack" else build
    for step in () if path == "pack" else path.split("."):
        part = getattr(part, step)
    return str(part.mass_kg.origin)


def _centre(points: list[Centre]) -> Centre:
    """(kg, x, y) of a set of (kg, x, y)."""
    kg = sum(p[0] for p in points)
    return kg, sum(p[0] * p[1] for p in points) / kg, sum(p[0] * p[2] for p in points) / kg


def _with_scale(build: Build, centre: Centre) -> Centre:
    """The centre with the scale's moment, which may stand where no weight does."""
    donor = build.donor
    off = donor.correction_kg.or_else(0.0)
    home = donor.cg_x_m.taken, donor.cg_y_m.taken
    moment = donor.correction_kg_m.or_else(off * home[0])
    kg, x, y = centre
    return kg + off, (kg * x + moment) / (kg + off), (kg * y + off * home[1]) / (kg + off)


@fact
def weighed(bike: Bike) -> Weighed:
    """Both centres; None while the donor's mass is unknown."""
    donor, base = bike.build.donor, bike.build.road.wheelbase_m.taken
    kg, home = donor.mass_kg.amount, (donor.cg_x_m.taken, donor.cg_y_m.taken)
    if kg is None:
        return Weighed(None, None, base)
    points = [(kg, *home), *((r.kg, r.x_m, r.y_m) for r in ledger(bike) if r.kind != "scale")]
    if sum(p[0] for p in points) + donor.correction_kg.or_else(0.0) <= 0:
        return Weighed(None, None, base)
    own = _with_scale(bike.build, _centre(points))
    return Weighed(own, _centre([own, (rider_kg(bike.build.goal), RIDER_X_M, RIDER_Y_M)]), base)
