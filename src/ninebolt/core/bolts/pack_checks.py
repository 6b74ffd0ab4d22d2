"""Pack: is what is claimed possible, how full is it, and may another be joined to it?"""

from __future__ import annotations

import math

from ninebolt.core.battery.joining import Joining, join
from ninebolt.core.battery.ocv import interpolator, soc_at
from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bolts.common import Notes, figure, term
from ninebolt.core.build import Build
from ninebolt.core.finding import PRACTICE, Change, Figure, Fix, Source, q
from ninebolt.core.simulate.assemble import cell_curve

CELL_READING_V = 0.010  # what a meter and a short rest leave open, per cell. Common practice.
CLAIM_SLACK = 0.08  # labels round up. Common practice, no source.
NEAR_SOC = 0.05


def check_figures(build: Build, facts: PackFacts) -> tuple[Figure, ...]:
    """Charge from rested volts, and the figures of joining, where the readings are given."""
    out = []
    rested, series = build.pack.rested_v.amount, build.pack.series or 1
    if rested is not None:
        low, mid, high = charge_of(build, rested / series)
        out.append(
            figure(
                "soc_rest",
                "Charge, from rested volts",
                mid * 100,
                "pct",
                "open-circuit curve read backwards",
                term("V", "Volts per cell", rested / series, "v", "pack.rested_v"),
                term("from", "if the reading is 10 mV high", low * 100, "pct"),
                term("to", "if it is 10 mV low", high * 100, "pct"),
            )
        )
    joined = joining_of(build, facts)
    if joined is not None:
        out += [
            figure(
                "join_peak",
                "Current when joined",
                joined.peak_a,
                "a",
                "ΔV / ΣR",
                term("heat", "Heat until level", joined.heat_wh, "wh"),
                term("moved", "Charge moved", joined.moved_ah, "ah"),
            ),
            figure(
                "join_tau", "Time constant of levelling", joined.tau_s, "s", "ΣR C₁C₂ / (C₁ + C₂)"
            ),
            figure(
                "join_share",
                "This pack's share of the load",
                joined.share * 100,
                "pct",
                "R₂ / (R₁ + R₂)",
            ),
        ]
    return tuple(out)


def charge_of(build: Build, cell_v: float) -> tuple[float, float, float]:
    """Charge 0…1 at a rested cell voltage: lowest, likely, highest."""
    curve = cell_curve(build.pack.cell)
    return (
        soc_at(curve, cell_v - CELL_READING_V),
        soc_at(curve, cell_v),
        soc_at(curve, cell_v + CELL_READING_V),
    )


def joining_of(build: Build, facts: PackFacts) -> Joining | None:
    """What happens when the other pack is joined; None while its voltage is not read."""
    pack, other = build.pack, build.pack.other
    own, theirs = pack.rested_v.amount, other.volts_v.amount
    if own is None or theirs is None or math.isnan(facts.r_ohm):
        return None
    series = pack.series or 1
    curve = cell_curve(pack.cell)
    soc = soc_at(curve, own / series)
    volts = interpolator(curve)
    low, high = max(soc - NEAR_SOC, 0.0), min(soc + NEAR_SOC, 1.0)
    slope = max(series * (volts(high) - volts(low)) / (high - low), 1e-3)
    return join(
        own - theirs,
        facts.r_ohm,
        other.r_ohm.or_else(facts.r_ohm),
        facts.capacity_ah * 3600.0 / slope,
        other.capacity_ah.or_else(facts.capacity_ah) * 3600.0 / slope,
    )


def judge_checks(build: Build, notes: Notes, facts: PackFacts) -> None:
    """Findings of claim, charge and joining."""
    claimed = build.pack.claimed_wh.amount
    if claimed is not None and claimed > facts.energy_wh * (1 + CLAIM_SLACK):
        notes.add(
            "caution",
            "claim",
            "More energy is claimed than volts times amp-hours give",
            f"{q(claimed, 'wh')} claimed, {q(facts.energy_wh, 'wh')} computed: "
            f"{claimed / facts.energy_wh - 1:+.0%} of the computed.",
            Source("computed", "S P x Ah x mean open-circuit volts"),
            measured=claimed,
            limit=facts.energy_wh,
            quantity="wh",
            parts=("pack",),
        )
    _judge_rest(build, notes, facts)
    joined = joining_of(build, facts)
    if joined is None:
        return
    delta = abs((build.pack.rested_v.amount or 0) - (build.pack.other.volts_v.amount or 0))
    # The lower pack is charged by the higher one: its charge limit counts.
    charge = build.pack.cell.i_charge_a.amount
    limit = charge * (build.pack.parallel or 1) if charge is not None else facts.capacity_ah
    close = delta * 0.2 * limit / joined.peak_a if joined.peak_a > 0 else delta
    if joined.peak_a > 0.2 * limit:
        notes.add(
            "stop" if joined.peak_a > limit else "caution",
            "join",
            "Do not join these packs yet",
            f"{q(delta, 'v')} apart drives {q(joined.peak_a, 'a')} at the first touch and takes "
            f"about {q(3 * joined.tau_s, 's')} to level. Bring them within "
            f"{q(close, 'v')} "
            "with a charger first, or join through a resistor.",
            Source("computed", "ΔV / ΣR"),
            measured=joined.peak_a,
            limit=0.2 * limit,
            quantity="a",
            parts=("pack.other",),
            fixes=(
                Fix(
                    "They have been charged level",
                    (
                        Change(
                            "pack.other.volts_v",
                            {
                                "amount": build.pack.rested_v.amount,
                                "origin": "measured",
                                "tolerance": 0.002,
                            },
                        ),
                    ),
                ),
            ),
        )
    if abs(joined.share - 0.5) > 0.1:
        notes.add(
            "note",
            "join_share",
            "The packs will not share alike",
            f"This one carries {joined.share:.0%} of the current; watch its own limit, not the "
            "sum.",
            Source("computed", "R₂ / (R₁ + R₂)"),
            measured=joined.share,
            limit=0.5,
        )


def _judge_rest(build: Build, notes: Notes, facts: PackFacts) -> None:
    rested = build.pack.rested_v.amount
    if rested is None:
        return
    if rested > facts.full_v * 1.005:
        notes.add(
            "stop",
            "overfull",
            "The pack stands above full",
            f"{q(rested, 'v')} against {q(facts.full_v, 'v')}: overcharged, or another series "
            "count than written. Do not charge it; find out outdoors.",
            PRACTICE,
            measured=rested,
            limit=facts.full_v,
            quantity="v",
            parts=("pack",),
        )
    elif rested < facts.empty_v:
        notes.add(
            "stop",
            "underempty",
            "The pack rests below empty",
            f"{q(rested, 'v')} against {q(facts.empty_v, 'v')}: some cells are over-discharged, or "
            "the series count is not as written. Read every group before anything else.",
            PRACTICE,
            measured=rested,
            limit=facts.empty_v,
            quantity="v",
            parts=("pack",),
        )
