"""Donor: what am I starting from? Mass ledger, centre of mass, axle split, bays, frame changes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ninebolt.core.bike.mass import fitted_parts, rider_kg
from ninebolt.core.bike.shape import corners_of, keep_box
from ninebolt.core.bolts.common import Context, Notes, Result, figure, term
from ninebolt.core.bolts.donor.candidates import Comparison, Salvaged, compare, envelopes
from ninebolt.core.bolts.donor.checks import Centre, Weighed, judge_donor, scale_of
from ninebolt.core.bolts.donor.compare import (
    BeforeAfter,
    MustChange,
    Question,
    StockLimit,
    before_after,
    must_change,
    questions,
    stock_limits,
    stock_performance,
)
from ninebolt.core.build import Build
from ninebolt.core.finding import Figure
from ninebolt.core.simulate.headline import Performance

RIDER_X_M, RIDER_Y_M = 0.55, 0.95  # seated rider on an enduro frame. Common practice, no source.
Point = tuple[float, float]
MOTOR_X_SHARE, MOTOR_Y_M = 0.36, 0.38  # where a mid-drive sits if nothing else is said


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
class BayOutline:
    """Outline of a bay and of what must stay free in it, in the side view of the bike."""

    index: int
    name: str
    corners: tuple[tuple[float, float], ...]
    keep_free: tuple[tuple[tuple[float, float], ...], ...]
    x_m: float
    y_m: float


@dataclass(frozen=True, slots=True)
class DonorDrawing:
    """Side view, metres: x from the rear axle forward, y from the ground up. scale: what the two
    axles weighed (front, rear), if they were."""

    wheelbase_m: float
    wheel_radius_m: float
    rows: tuple[LedgerRow, ...]
    bays: tuple[BayOutline, ...]
    donor_cg: tuple[float, float]
    bike_cg: tuple[float, float] | None
    ridden_cg: tuple[float, float] | None
    bike_kg: float | None
    donor_kg: float | None
    front_share: float | None
    ridden_front_share: float | None
    scale: tuple[float, float] | None
    limits: tuple[StockLimit, ...]
    before_after: tuple[BeforeAfter, ...]
    must_change: tuple[MustChange, ...]
    questions: tuple[Question, ...]
    comparison: Comparison | None
    salvage: tuple[Salvaged, ...]


def _place(build: Build, path: str) -> tuple[float, float]:
    bays = build.donor.bays
    if path == "pack" and bays and bays[0].x_m.known and bays[0].y_m.known:
        return bays[0].x_m.or_else(0.0), bays[0].y_m.or_else(0.0)
    if path == "drive.motor":
        if build.drive.motor.kind == "hub":
            return 0.0, build.donor.wheel_radius_m.taken
        return MOTOR_X_SHARE * build.road.wheelbase_m.taken, MOTOR_Y_M
    return build.donor.cg_x_m.taken, build.donor.cg_y_m.taken


def ledger(build: Build) -> list[LedgerRow]:
    """All lines of the ledger: those written down, the fitted parts that know their mass, and what
    the scale corrected."""
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
    return rows


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


def assess(build: Build, context: Context) -> Result:
    donor = build.donor
    rows = ledger(build)
    home = donor.cg_x_m.taken, donor.cg_y_m.taken
    base = build.road.wheelbase_m.taken
    kg = donor.mass_kg.amount
    notes = Notes("donor")
    bike = ridden = None
    if kg is not None:
        points = [(kg, *home), *((r.kg, r.x_m, r.y_m) for r in rows if r.kind != "scale")]
        if sum(p[0] for p in points) + donor.correction_kg.or_else(0.0) > 0:
            bike = _with_scale(build, _centre(points))
            ridden = _centre([bike, (rider_kg(build.goal), RIDER_X_M, RIDER_Y_M)])
    _, perf = context.look(build)
    stock = stock_performance(build, context)
    weighed = Weighed(bike, ridden, base)
    changes = must_change(build, perf)
    judge_donor(build, notes, weighed, rows, changes, perf)
    drawing = DonorDrawing(
        base,
        donor.wheel_radius_m.taken,
        tuple(rows),
        _bays(build, home),
        home,
        bike[1:] if bike else None,
        ridden[1:] if ridden else None,
        bike[0] if bike else None,
        kg,
        bike[1] / base if bike else None,
        ridden[1] / base if ridden else None,
        scale_of(build),
        stock_limits(build, stock),
        before_after(build, stock, perf),
        changes,
        questions(build, perf),
        compare(build, perf),
        envelopes(build),
    )
    return Result(
        (*_figures(build, rows, bike, ridden, base), *_stock_figures(stock)),
        notes.done(),
        () if kg is not None else ("donor.mass_kg",),
        drawing,
    )


def _bays(build: Build, home: Point) -> tuple[BayOutline, ...]:
    out = []
    for i, b in enumerate(build.donor.bays):
        x, y = b.x_m.or_else(home[0]), b.y_m.or_else(home[1])
        boxes = [k for k in (keep_box(k) for k in b.keep_outs) if k is not None]
        keep = tuple(
            tuple(
                (x + u, y + v) for u, v in ((k.x0, k.y0), (k.x1, k.y0), (k.x1, k.y1), (k.x0, k.y1))
            )
            for k in boxes
        )
        corners = tuple((x + u, y + v) for u, v in corners_of(b))
        out.append(BayOutline(i, b.name or f"Bay {i + 1}", corners, keep, x, y))
    return tuple(out)


def _stock_figures(stock: Performance | None) -> tuple[Figure, ...]:
    if stock is None:
        return ()
    head = stock.headline
    return (
        figure(
            "stock_w",
            "Stock: peak power",
            head.peak_wheel_w,
            "w",
            f"as it left the maker; choke {head.choke}",
        ),
        figure(
            "stock_top", "Stock: top speed", head.top_speed_m_s, "m_s", f"held by {stock.top.choke}"
        ),
        figure("stock_to", "Stock: time to speed", head.to_time_s, "s", "the same standing start"),
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
