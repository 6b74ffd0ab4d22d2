"""Donor: what am I starting from? Mass ledger, centre of mass, axle split, bays, frame changes."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bolts.common import Context, Notes, Result, figure, term
from ninebolt.core.build import Build
from ninebolt.core.finding import PRACTICE, Figure, Fix, Source, q, setting
from ninebolt.core.simulate.assemble import fitted_parts, rider_kg, take

RIDER_X_M, RIDER_Y_M = 0.55, 0.95  # seated rider on an enduro frame. Common practice, no source.
Centre = tuple[float, float, float]  # kg, x, y
MOTOR_X_SHARE, MOTOR_Y_M = 0.36, 0.38  # where a mid-drive sits if nothing else is said


@dataclass(frozen=True, slots=True)
class LedgerRow:
    """kg is signed: negative = came off. index: place in donor.items, None for fitted parts."""

    label: str
    kg: float
    x_m: float
    y_m: float
    kind: str
    path: str
    index: int | None
    placed: bool


@dataclass(frozen=True, slots=True)
class BayBox:
    """Outline in the side view."""

    name: str
    x_m: float
    y_m: float
    length_m: float
    height_m: float


@dataclass(frozen=True, slots=True)
class DonorDrawing:
    """Side view, metres: x from the rear axle forward, y from the ground up."""

    wheelbase_m: float
    wheel_radius_m: float
    rows: tuple[LedgerRow, ...]
    bays: tuple[BayBox, ...]
    donor_cg: tuple[float, float]
    bike_cg: tuple[float, float] | None
    ridden_cg: tuple[float, float] | None
    bike_kg: float | None
    donor_kg: float | None
    front_share: float | None
    ridden_front_share: float | None


def _place(build: Build, path: str) -> tuple[float, float]:
    bays = build.donor.bays
    if path == "pack" and bays and bays[0].x_m.known and bays[0].y_m.known:
        return bays[0].x_m.or_else(0.0), bays[0].y_m.or_else(0.0)
    if path == "drive.motor":
        if build.drive.motor.kind == "hub":
            return 0.0, take(build.donor, "wheel_radius_m")
        return MOTOR_X_SHARE * take(build.road, "wheelbase_m"), MOTOR_Y_M
    return take(build.donor, "cg_x_m"), take(build.donor, "cg_y_m")


def ledger(build: Build) -> list[LedgerRow]:
    """All lines of the ledger: those written down and the fitted parts that know their mass."""
    home = take(build.donor, "cg_x_m"), take(build.donor, "cg_y_m")
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
            )
        )
    for path, label, kg in fitted_parts(build):
        x, y = _place(build, path)
        rows.append(LedgerRow(label, kg, x, y, "fitted", path, None, True))
    return rows


def _centre(points: list[Centre]) -> Centre:
    """(kg, x, y) of a set of (kg, x, y)."""
    kg = sum(p[0] for p in points)
    return kg, sum(p[0] * p[1] for p in points) / kg, sum(p[0] * p[2] for p in points) / kg


def assess(build: Build, context: Context) -> Result:
    donor = build.donor
    rows = ledger(build)
    home = take(donor, "cg_x_m"), take(donor, "cg_y_m")
    base = take(build.road, "wheelbase_m")
    kg = donor.mass_kg.amount
    notes = Notes("donor")
    bike = ridden = None
    if kg is not None:
        points = [(kg, *home), *((r.kg, r.x_m, r.y_m) for r in rows)]
        if sum(p[0] for p in points) > 0:
            bike = _centre(points)
            ridden = _centre([*points, (rider_kg(build.goal), RIDER_X_M, RIDER_Y_M)])
    _judge(build, notes, bike, ridden, base)
    bays = tuple(
        BayBox(
            b.name,
            b.x_m.or_else(home[0]),
            b.y_m.or_else(home[1]),
            b.length_m.or_else(0.0),
            b.height_m.or_else(0.0),
        )
        for b in donor.bays
    )
    drawing = DonorDrawing(
        base,
        take(donor, "wheel_radius_m"),
        tuple(rows),
        bays,
        home,
        bike[1:] if bike else None,
        ridden[1:] if ridden else None,
        bike[0] if bike else None,
        kg,
        bike[1] / base if bike else None,
        ridden[1] / base if ridden else None,
    )
    return Result(
        _figures(build, rows, bike, ridden, base),
        notes.done(),
        () if kg is not None else ("donor.mass_kg",),
        drawing,
    )


def _figures(
    build: Build, rows: list[LedgerRow], bike: Centre | None, ridden: Centre | None, base: float
) -> tuple[Figure, ...]:
    off = sum(r.kg for r in rows if r.kg < 0)
    on = sum(r.kg for r in rows if r.kg > 0)
    kg = build.donor.mass_kg.amount
    return (
        figure(
            "bike_mass",
            "Bike without rider",
            bike[0] if bike else None,
            "kg",
            "donor - what came off + what went on",
            term("donor", "Donor as weighed", kg, "kg", "donor.mass_kg"),
            term("off", "Came off", -off, "kg"),
            term("on", "Went on, parts included", on, "kg"),
        ),
        figure(
            "mass_change",
            "Against the donor",
            bike[0] - kg if bike and kg is not None else None,
            "kg",
            "bike - donor",
        ),
        figure(
            "front_share",
            "Front axle share, no rider",
            bike[1] / base if bike else None,
            "ratio",
            "x of the centre of mass / wheelbase",
            term("x", "Centre of mass forward of the rear axle", bike[1] if bike else None, "m"),
            term("L", "Wheelbase", base, "m", "road.wheelbase_m"),
        ),
        figure(
            "cg_height",
            "Centre of mass with rider",
            ridden[2] if ridden else None,
            "m",
            "sum(m y) / sum(m)",
        ),
        figure(
            "ridden_front",
            "Front axle share with rider",
            ridden[1] / base if ridden else None,
            "ratio",
            "x / wheelbase, rider seated",
        ),
    )


def _judge(
    build: Build, notes: Notes, bike: Centre | None, ridden: Centre | None, base: float
) -> None:
    donor = build.donor
    blank = [i.name or "item" for i in donor.items if not i.mass_kg.known]
    if blank:
        notes.add(
            "caution",
            "unweighed",
            f"{len(blank)} ledger lines have no mass",
            f"{', '.join(blank[:4])}: not weighed, so counted as nothing. Put each on a scale.",
            PRACTICE,
            measured=len(blank),
            limit=0,
            parts=("donor",),
        )
    if not donor.bays:
        notes.add(
            "caution",
            "no_bay",
            "The bay is not measured",
            "Without the inside length, height and width nobody can say whether a pack goes in. "
            "Measure before money is spent.",
            PRACTICE,
            parts=("donor",),
            measured=0,
            limit=1,
        )
    front, rear = donor.front_scale_kg.amount, donor.rear_scale_kg.amount
    if bike and front is not None and rear is not None:
        off = (front + rear - bike[0]) / bike[0]
        if abs(off) > 0.02:
            notes.add(
                "caution",
                "scale",
                "Scale and ledger disagree",
                f"The axles weigh {q(front + rear, 'kg')}, the ledger says {q(bike[0], 'kg')} "
                f"({off:+.1%}). A line is missing or wrong.",
                PRACTICE,
                measured=front + rear,
                limit=bike[0],
                quantity="kg",
            )
    top = build.goal.mass_max_kg.amount
    if bike and top is not None and bike[0] > top:
        notes.add(
            "caution",
            "heavy",
            "Heavier than wanted",
            f"The bike comes to {q(bike[0], 'kg')}, {q(bike[0] - top, 'kg')} over the wish.",
            Source("build", "the goal of this build"),
            measured=bike[0],
            limit=top,
            quantity="kg",
        )
    if ridden:
        share = take(build.road, "front_share")
        if (
            abs(ridden[1] / base - share) > 0.02
            or abs(ridden[2] - take(build.road, "cg_height_m")) > 0.05
        ):
            notes.add(
                "note",
                "use_ledger",
                "The runs use another centre of mass than the ledger",
                f"Ledger and rider put {ridden[1] / base:.0%} on the front at "
                f"{q(ridden[2], 'm')} height; the runs take {share:.0%} at "
                f"{q(take(build.road, 'cg_height_m'), 'm')}.",
                PRACTICE,
                measured=ridden[1] / base,
                limit=share,
                parts=("road",),
                fixes=(
                    Fix(
                        "Use the ledger's centre of mass",
                        (
                            setting(
                                "road.front_share", round(ridden[1] / base, 3), "measured", 0.05
                            ),
                            setting("road.cg_height_m", round(ridden[2], 3), "measured", 0.08),
                        ),
                    ),
                ),
            )
    cuts = [c for c in donor.frame_changes if c.kind != "bolt_on"]
    if cuts:
        notes.add(
            "caution",
            "frame",
            f"{len(cuts)} changes to the frame are not bolt-on",
            f"{', '.join(c.name or c.kind for c in cuts[:3])}. A cut, weld or hole can end the "
            "right to register the bike and weaken it: ask the local authority, and have welds "
            "inspected by someone licensed to.",
            PRACTICE,
            measured=len(cuts),
            limit=0,
        )
