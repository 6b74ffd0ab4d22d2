"""Donor: what am I starting from? Mass ledger, centre of mass, axle split, bays, frame changes."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.running import stock_performance
from ninebolt.core.bike.shape import corners_of, keep_box
from ninebolt.core.bolts.common import Result, figure, term
from ninebolt.core.bolts.donor import checks, numbers
from ninebolt.core.bolts.donor.candidates import Comparison, Salvaged, compare, envelopes
from ninebolt.core.bolts.donor.compare import (
    BeforeAfter,
    MustChange,
    Question,
    StockLimit,
    before_after,
    must_change,
    questions,
    stock_limits,
)
from ninebolt.core.bolts.donor.ledger import Centre, LedgerRow, ledger, scale_of, weighed
from ninebolt.core.bolts.register import judge
from ninebolt.core.build import Build
from ninebolt.core.finding import Figure
from ninebolt.core.simulate.headline import Performance

__all__ = ["DonorDrawing", "assess", "checks", "numbers"]
Point = tuple[float, float]


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
    frame: str
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


def assess(bike: Bike) -> Result:
    rows, found = ledger(bike), weighed(bike)
    own, ridden, base = found.bike, found.ridden, found.base
    stock = stock_performance(bike)
    figures = (*_figures(bike.build, rows, own, ridden, base), *_stock_figures(stock))
    missing = () if bike.build.donor.mass_kg.amount is not None else ("donor.mass_kg",)
    return Result(figures, judge("donor", bike), missing, drawing)


@fact
def drawing(bike: Bike) -> DonorDrawing:
    build, donor = bike.build, bike.build.donor
    rows, found = ledger(bike), weighed(bike)
    home, kg = (donor.cg_x_m.taken, donor.cg_y_m.taken), donor.mass_kg.amount
    own, ridden, base = found.bike, found.ridden, found.base
    return DonorDrawing(
        base,
        donor.wheel_radius_m.taken,
        donor.frame,
        rows,
        _bays(build, home),
        home,
        own[1:] if own else None,
        ridden[1:] if ridden else None,
        own[0] if own else None,
        kg,
        own[1] / base if own else None,
        ridden[1] / base if ridden else None,
        scale_of(build),
        stock_limits(bike),
        before_after(bike),
        must_change(bike),
        questions(bike),
        compare(bike),
        envelopes(bike),
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
    build: Build,
    rows: tuple[LedgerRow, ...],
    bike: Centre | None,
    ridden: Centre | None,
    base: float,
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
