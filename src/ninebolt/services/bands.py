"""Bands of the headline: which inputs are uncertain in this build, and what they do."""

from __future__ import annotations

import json
from collections.abc import Hashable
from dataclasses import dataclass
from typing import Any, cast

from ninebolt.core.bike.case import assemble
from ninebolt.core.bike.path import aux_load_w
from ninebolt.core.build import Build
from ninebolt.core.codec import decode, encode, fields_of, get_path, replaced
from ninebolt.core.simulate.band import Band, band, quick_figures
from ninebolt.core.trace import Trace, recorded, traced
from ninebolt.core.value import FieldSpec, Value
from ninebolt.services.house import House

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


def spec_at(path: str) -> FieldSpec | None:
    """The field spec at a path of the build; list places are passed through."""
    cls: Any = Build
    spec: FieldSpec | None = None
    for step in path.split("."):
        if step.isdigit():
            continue
        if not isinstance(cls, type):
            return None
        found = fields_of(cast(Hashable, cls)).get(step)
        if found is None:
            return None
        spec, hint = found
        cls = hint.__args__[0] if getattr(hint, "__args__", None) else hint
    return spec


def uncertain(build: Build) -> dict[str, float]:
    """Path -> relative half-width of every number that the run reads and that is not a choice."""
    trace = Trace()
    assemble(traced(build, trace))
    leaves = trace.top
    out = {}
    for path, doc in recorded(leaves).items():
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
    amount = old.amount if old.amount is not None else (spec.assume if spec else None)
    moved = float(amount or 0.0) * factor
    if spec and spec.hi is not None and moved > spec.hi:
        moved = float(amount or 0.0) * (2.0 - factor)
    return replaced(build, path, Value(moved, "guess", 0.0))


def value_at(build: Build, path: str) -> Value:
    """The Value at a path of the build."""
    here: Any = build
    for step in path.split("."):
        here = here[int(step)] if isinstance(here, tuple) else getattr(here, step)
    assert isinstance(here, Value), path
    return here


def band_of(house: House, doc: dict[str, Any]) -> BandView:
    """Band of the build in this document; kept for the same document."""
    key = "band:" + json.dumps(doc, sort_keys=True)
    made: BandView = house.keep(key, lambda: _band(doc))
    return made


def _band(doc: dict[str, Any]) -> BandView:
    build = decode(Build, doc)

    def figures(path: str | None, factor: float) -> dict[str, float | None] | None:
        made = build if path is None else _scaled(build, path, factor)
        case = assemble(made).case
        if case is None:
            return None
        extra = aux_load_w(made)
        speed, cruise = made.goal.to_speed_m_s.taken, made.goal.cruise_m_s.taken
        return quick_figures(case, speed, cruise, extra)

    result: Band = band(figures, uncertain(build))
    leading = []
    for share in result.shares[:5]:
        spec, old = spec_at(share.path), get_path(encode(build), share.path)
        origin = old["origin"] if old else "assumed"
        leading.append(
            MeasureNext(share.path, spec.label if spec else share.path, origin, share.spread)
        )
    return BandView(result.half, leading)
