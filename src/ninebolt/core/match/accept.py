"""Which measured cells may go into a pack: the rules, those that are usual for a lot, and what
breaks them."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ninebolt.core.limits import Limit

KEEPS = Limit(0.8, "ratio", "of the lot's median capacity; a cell under it is worn out")
RESISTS = Limit(1.5, "ratio", "times the lot's median resistance; a cell over it runs hot")
FADES_V = Limit(0.003, "v", "a day, resting; a cell that loses more leaks inside")
RESTED_V = Limit(2.5, "v", "rested; a cell found lower has been emptied too far to trust")
RESTED_MOST_V = Limit(4.25, "v", "rested; above the full volts of usual lithium cells")
HOLD_SPREAD_V = Limit(0.050, "v", "further apart than this: hold, bring them level first")
WORN_LOT = Limit(0.8, "ratio", "of what the build's cell holds; a lot under it is worn as a whole")
OFF = {
    "capacity_min_ah": 0.0,
    "r_max_ohm": math.inf,
    "fade_max_v_day": math.inf,
    "rested_min_v": 0.0,
    "rested_max_v": math.inf,
}


@dataclass(frozen=True, slots=True)
class MeasuredCell:
    """One measured cell: capacity in Ah, resistance in ohm (nan = not measured), self-discharge in
    volts a day (nan = not measured). damage: what was seen on it, empty if nothing."""

    id: str
    capacity_ah: float
    r_ohm: float
    fade_v_day: float
    rested_v: float
    damage: str = ""


@dataclass(frozen=True, slots=True)
class Rules:
    """A cell outside any of these is rejected. 0 (least) and inf (most): rule off."""

    capacity_min_ah: float = 0.0
    r_max_ohm: float = math.inf
    fade_max_v_day: float = math.inf
    rested_min_v: float = 0.0
    rested_max_v: float = math.inf


@dataclass(frozen=True, slots=True)
class RuleInForce:
    """A rule as it was used. limit None: off. usual: not chosen by the person. words: where it comes
    from, or why it is off."""

    key: str
    limit: float | None
    quantity: str
    usual: bool
    words: str


@dataclass(frozen=True, slots=True)
class Reject:
    """A cell that is out, and the rule that it broke in words."""

    id: str
    reason: str


def rules_for(
    cells: list[MeasuredCell], chosen: dict[str, float | None]
) -> tuple[Rules, tuple[RuleInForce, ...]]:
    """The rules for a lot: those chosen (0 = off), the usual ones for the rest. A usual rule that asks
    for a test which no cell of the lot has is off, and says so."""
    made, shown = {}, []
    for key, (quantity, usual) in USUAL.items():
        want = chosen.get(key)
        if want is not None:
            limit, words = want or OFF[key], "as chosen" if want else "switched off"
        else:
            limit, words = usual(cells)
        made[key] = limit
        off = limit == OFF[key]
        shown.append(RuleInForce(key, None if off else limit, quantity, want is None, words))
    return Rules(**made), tuple(shown)


def _median(cells: list[MeasuredCell], get: Callable[[MeasuredCell], float]) -> float | None:
    known = [x for x in map(get, cells) if math.isfinite(x)]
    return float(np.median(known)) if known else None


def _capacity(cells: list[MeasuredCell]) -> tuple[float, str]:
    mid = _median(cells, lambda c: c.capacity_ah)
    if mid is None:
        return 0.0, "no cell was tested for it"
    return KEEPS * mid, f"{KEEPS:.0%} of the lot's median, {mid:.2f} Ah"


def _resistance(cells: list[MeasuredCell]) -> tuple[float, str]:
    mid = _median(cells, lambda c: c.r_ohm)
    if mid is None:
        return math.inf, "no cell was tested for it"
    return RESISTS * mid, f"{float(RESISTS):g} times the lot's median, {mid * 1000:.0f} mΩ"


def _fade(cells: list[MeasuredCell]) -> tuple[float, str]:
    if _median(cells, lambda c: c.fade_v_day) is None:
        return math.inf, "no cell was tested for it"
    return float(FADES_V), "usual"


def _rested(cells: list[MeasuredCell]) -> tuple[float, str]:
    if _median(cells, lambda c: c.rested_v) is None:
        return 0.0, "no cell was tested for it"
    return float(RESTED_V), "usual"


def _not_over(cells: list[MeasuredCell]) -> tuple[float, str]:
    if _median(cells, lambda c: c.rested_v) is None:
        return math.inf, "no cell was tested for it"
    return float(RESTED_MOST_V), "usual"


USUAL: dict[str, tuple[str, Callable[[list[MeasuredCell]], tuple[float, str]]]] = {
    "capacity_min_ah": ("ah", _capacity),
    "r_max_ohm": ("ohm", _resistance),
    "fade_max_v_day": ("v", _fade),
    "rested_min_v": ("v", _rested),
    "rested_max_v": ("v", _not_over),
}


def reject(cells: list[MeasuredCell], rules: Rules) -> tuple[list[MeasuredCell], list[Reject]]:
    """Cells that pass, and those that do not with the first rule they break."""
    kept: list[MeasuredCell] = []
    out: list[Reject] = []
    for c in cells:
        why = _untested(c, rules) or _broken(c, rules)
        if why:
            out.append(Reject(c.id, why))
        else:
            kept.append(c)
    return kept, out


def _broken(c: MeasuredCell, rules: Rules) -> str:
    if c.capacity_ah < rules.capacity_min_ah:
        return f"capacity {c.capacity_ah:.3f} Ah under the limit"
    if c.r_ohm > rules.r_max_ohm:
        return f"resistance {c.r_ohm * 1000:.0f} mΩ over the limit"
    if c.fade_v_day > rules.fade_max_v_day:
        return f"loses {c.fade_v_day * 1000:.1f} mV a day"
    if c.rested_v < rules.rested_min_v:
        return f"rested at {c.rested_v:.2f} V: do not revive"
    if c.rested_v > rules.rested_max_v:
        return f"rested at {c.rested_v:.2f} V: over-charged, or another kind of cell"
    return ""


def _untested(c: MeasuredCell, rules: Rules) -> str:
    """Why a cell cannot be judged by the rules that are on; '' if it can."""
    if c.damage:
        return f"damaged: {c.damage[:40]}"
    if math.isnan(c.capacity_ah):
        return "untested: no capacity"
    if math.isfinite(rules.r_max_ohm) and math.isnan(c.r_ohm):
        return "untested: no resistance, and a rule asks for it"
    if math.isfinite(rules.fade_max_v_day) and math.isnan(c.fade_v_day):
        return "untested: no self-discharge, and a rule asks for it"
    if -c.fade_v_day > rules.fade_max_v_day:
        return f"untested: it gained {-c.fade_v_day * 1000:.1f} mV a day, so it had not rested yet"
    volts_asked = rules.rested_min_v > 0 or math.isfinite(rules.rested_max_v)
    if volts_asked and math.isnan(c.rested_v):
        return "untested: no rested voltage, and a rule asks for it"
    return ""


def cautions(
    lot: list[MeasuredCell], groups: list[tuple[int, tuple[str, ...]]], new_ah: float
) -> tuple[str, ...]:
    """What to see to before the cells are joined: those of one group that stand apart, and a lot that
    is worn as a whole. groups: number and cell ids. new_ah: what the build's cell holds (nan)."""
    volts = {c.id: c.rested_v for c in lot if math.isfinite(c.rested_v)}
    apart: list[tuple[float, int, float, float]] = []
    for number, ids in groups:
        seen = [volts[i] for i in ids if i in volts]
        if seen and max(seen) - min(seen) > HOLD_SPREAD_V:
            apart.append((max(seen) - min(seen), number, min(seen), max(seen)))
    said = []
    if apart:
        _, number, low, high = max(apart)
        said.append(
            f"{len(apart)} of {len(groups)} groups join cells that stand apart: group {number} rests "
            f"from {low:.2f} to {high:.2f} V. The fuller ones charge the emptier ones through the first "
            f"joint, with nothing to limit it. Bring each cell within {HOLD_SPREAD_V * 1000:.0f} mV first."
        )
    mid = _median(lot, lambda c: c.capacity_ah)
    if mid is not None and mid < WORN_LOT * new_ah:
        said.append(
            f"The lot holds {mid:.2f} Ah a cell in the middle, {mid / new_ah:.0%} of the {new_ah:.2f} Ah "
            f"that the build's cell holds: worn as a whole, or another cell. A rule of the lot's own "
            f"median does not see that."
        )
    return tuple(said)
