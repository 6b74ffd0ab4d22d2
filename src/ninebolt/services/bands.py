"""Bands of the headline: which inputs are uncertain in this build, and what they do."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from ninebolt.core.bike.case import assemble
from ninebolt.core.build import Build
from ninebolt.core.codec import decode, encode, get_path, replaced, replaced_all
from ninebolt.core.kernel import is_compiled
from ninebolt.core.simulate.band import KEYS, Band, band, drawn_factors, sampled
from ninebolt.core.value import FieldSpec, Value
from ninebolt.errors import InputError
from ninebolt.services.house import House
from ninebolt.services.moved import run_inputs, spec_at
from ninebolt.services.quick import quick

# Inputs that are choices, not measurements, even where someone typed them with an origin.
CHOICES = (
    "drive.controller.line_a",
    "drive.controller.phase_a",
    "drive.controller.fw_id_a",
    "drive.controller.lvc_v",
    "drive.controller.ramp_s",
    "pack.start_soc",
    "pack.floor_v",
    "road.grade_pct",
    "drive.controller.line_max_a",
    "drive.controller.phase_max_a",
)


@dataclass(frozen=True, slots=True)
class MeasureNext:
    """The uncertain input that widens the band most, with its label."""

    path: str
    label: str
    origin: str
    spread: float


@dataclass(frozen=True, slots=True)
class BandView:
    """half: half-width per figure (SI). leading: up to five inputs, heaviest first."""

    half: dict[str, float]
    leading: list[MeasureNext]


def uncertain(build: Build) -> dict[str, float]:
    """Path -> relative half-width of every number that the run reads and that is not a choice."""
    out = {}
    for path, doc in run_inputs(build).items():
        if path in CHOICES:
            continue
        spec = spec_at(path)
        if spec is None or spec.kind != "number":
            continue
        if isinstance(doc, dict) and doc.get("amount"):
            spread = Value(doc["amount"], doc["origin"], doc["tolerance"]).spread
        elif doc is None and spec.assume:
            spread = spec.assume_spread
        else:
            continue
        if spread > 0:
            out[path] = spread
    return out


def _scaled(build: Build, path: str, factor: float) -> Build:
    old, spec = value_at(build, path), spec_at(path)
    amount = old.amount if old.amount is not None else _assumed(spec, build)
    moved = float(amount or 0.0) * factor
    if spec and spec.hi is not None and moved > spec.hi:
        moved = float(amount or 0.0) * (2.0 - factor)
    return replaced(build, path, Value(moved, "guess", 0.0))


def _assumed(spec: FieldSpec | None, build: Build) -> float | None:
    """What stands for an unknown number in this build."""
    return None if spec is None else spec.assume_by.get(build.goal.use, spec.assume or 0.0)


def value_at(build: Build, path: str) -> Value:
    """The Value at a path of the build."""
    here: Any = build
    for step in path.split("."):
        here = here[int(step)] if isinstance(here, tuple) else getattr(here, step)
    assert isinstance(here, Value), path
    return here


def band_of(house: House, doc: dict[str, Any]) -> BandView:
    """Band of the build in this document; kept for the same document. Once its rides are drawn, by those."""
    text = json.dumps(doc, sort_keys=True)
    drawn: BandView | None = house.peek("drawn:" + text)
    if drawn is not None:
        return drawn
    key = "band:" + text
    made: BandView = house.keep(key, lambda: _band(doc))
    return made


def _figures(build: Build) -> dict[str, float | None] | None:
    found = quick(build, protected=False)
    if found is None:
        return None
    return dict(zip(KEYS, (found.peak_w, found.top_m_s, found.to_s, found.range_m), strict=True))


def _band(doc: dict[str, Any]) -> BandView:
    build = decode(Build, doc)

    def figures(path: str | None, factor: float) -> dict[str, float | None] | None:
        made = build if path is None else _scaled(build, path, factor)
        return _figures(made)

    result: Band = band(figures, uncertain(build))
    leading = []
    for share in result.shares[:5]:
        spec, old = spec_at(share.path), get_path(encode(build), share.path)
        origin = old["origin"] if old else "assumed"
        leading.append(
            MeasureNext(share.path, spec.label if spec else share.path, origin, share.spread)
        )
    return BandView(result.half, leading)


SAMPLES = 2000
SEED = 20310402
PART = 250  # rides between two looks at progress
HOW: dict[str, str] = {
    "road.cda_m2": "coast down from 70 km/h twice each way without wind, log the speed",
    "road.crr": "coast down from 20 km/h on the flat, or pull it with a spring scale at walking pace",
    "drive.motor.kv_rpm_v": "spin it with a drill, read the volts between two leads: Drive, Measure the motor",
    "drive.motor.r_phase_ohm": "a known current through two leads, its leads taken off: Drive, Measure the motor",
    "pack.cell.r0_ohm": "volts at two currents: Drive, Measure the motor, Resistance of the pack",
    "pack.cell.capacity_ah": "one full discharge of a cell or of the pack through a meter",
    "gear.tyre.rolling_radius_m": "roll the wheel one turn with the rider on, divide by 2π",
    "goal.rider_kg": "a bathroom scale, dressed to ride",
    "donor.mass_kg": "both axles on a scale",
    "road.cg_height_m": "both axles on a scale level, then with the front raised by a step",
    "gear.efficiency": "coast down in gear and out of it, or take it as it is",
    "gear.tyre.grip_mu": "a brake test to the point of slip on the same ground",
}


@dataclass(frozen=True, slots=True)
class FigureBand:
    """One figure: bounds of 95 % of the rides, and the inputs that make its spread, heaviest first."""

    key: str
    middle: float
    low: float
    high: float
    shares: list[MeasureShare]


@dataclass(frozen=True, slots=True)
class MeasureShare:
    """An input's share of a figure's spread, and how it is measured."""

    path: str
    label: str
    share: float
    how: str


@dataclass(frozen=True, slots=True)
class SampledView:
    """rides: how many of them are there. next: what to measure first, over all figures."""

    rides: int
    of: int
    figures: list[FigureBand]
    next: list[MeasureShare]


def how_to(path: str) -> str:
    """How an input is measured, in a sentence."""
    name = path.rsplit(".", 1)[-1]
    usual = {
        "mass_kg": "a scale",
        "length_m": "a tape",
        "section_m2": "read it off the insulation, or a calliper on the strands",
        "r_ohm": "volts across it at a known current",
        "r_switch_ohm": "volts across it at a known current",
    }
    return HOW.get(path) or usual.get(name, "its data sheet, or a measurement of its own")


def sampling_steps(build: Build) -> Callable[[], Iterator[SampledView]]:
    """Thousands of rides with every uncertain input drawn at once, the seed fixed. Raises InputError while the
    build does not compute."""
    if assemble(build).case is None:
        raise InputError(
            "There is nothing to draw yet: the bike does not compute.",
            todo="Fill in what the bolts call missing.",
        )
    return lambda: _sampled(build)


def sampling_job(
    house: House, build: Build, doc: dict[str, Any]
) -> Callable[[], Iterator[SampledView]]:
    """The same; when it is done the headline's band is that of these rides."""
    steps = sampling_steps(build)

    def go() -> Iterator[SampledView]:
        view = SampledView(0, SAMPLES, [], [])
        for view in steps():
            yield view
        half = {f.key: 0.5 * (f.high - f.low) for f in view.figures}
        wide = uncertain(build)
        leading = [
            MeasureNext(s.path, s.label, _origin(build, s.path), wide.get(s.path, 0.0))
            for s in view.next[:5]
        ]
        house.put("drawn:" + json.dumps(doc, sort_keys=True), BandView(half, leading))

    return go


def _origin(build: Build, path: str) -> str:
    old = value_at(build, path)
    return old.origin if old.known else "assumed"


def _sampled(build: Build) -> Iterator[SampledView]:
    wide = uncertain(build)
    inputs = {p: (spread, _guessed(build, p)) for p, spread in wide.items()}
    factors = drawn_factors(inputs, SAMPLES, SEED)
    specs = {p: (value_at(build, p), spec_at(p)) for p in factors}
    rows: list[dict[str, float | None]] = []

    def ride(i: int) -> dict[str, float | None]:
        pieces = {p: _held(specs[p], float(f[i])) for p, f in factors.items()}
        return _figures(replaced_all(build, pieces)) or {}

    with ThreadPoolExecutor(2 if is_compiled() else 1) as pool:
        for start in range(0, SAMPLES, PART):
            blocks = [range(s, min(s + 25, SAMPLES)) for s in range(start, start + PART, 25)]
            for part in pool.map(lambda block: [ride(i) for i in block], blocks):
                rows += part
            yield _view({p: f[: len(rows)] for p, f in factors.items()}, rows)


def _guessed(build: Build, path: str) -> bool:
    old = value_at(build, path)
    return not old.known or old.origin == "guess"


def _held(what: tuple[Value, FieldSpec | None], factor: float) -> Value:
    """The value times a factor, kept within what its field takes."""
    old, spec = what
    amount = (
        old.amount if old.amount is not None else (spec.assume if spec else 0.0) or 0.0
    ) * factor
    if spec and spec.hi is not None:
        amount = min(amount, spec.hi)
    if spec and spec.lo is not None:
        amount = max(amount, spec.lo)
    return Value(amount, "guess", 0.0)


def _view(
    factors: dict[str, npt.NDArray[np.float64]], rows: list[dict[str, float | None]]
) -> SampledView:
    found = sampled(factors, rows)
    figures = []
    total: dict[str, float] = {}
    for key, s in found.items():
        for p, share in s.shares:
            total[p] = total.get(p, 0.0) + share / max(1, len(found))
        figures.append(
            FigureBand(
                key, s.middle, s.low, s.high, [_share(p, x) for p, x in s.shares[:6] if x >= 0.01]
            )
        )
    heavy = sorted(total.items(), key=lambda x: -x[1])[:6]
    return SampledView(len(rows), SAMPLES, figures, [_share(p, x) for p, x in heavy if x >= 0.01])


def _share(path: str, share: float) -> MeasureShare:
    spec = spec_at(path)
    return MeasureShare(path, spec.label if spec else path, share, how_to(path))
