"""Tune's findings on values that are each possible and together are not."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.bolts.tune.limits import EDGE_LEAST_DEG, THROTTLE_SPAN_V
from ninebolt.core.bolts.tune.rows import rows_of
from ninebolt.core.finding import Severity, q
from ninebolt.core.setting.ours import BY_NAME


@dataclass(frozen=True, slots=True)
class Pair:
    """lower must stay at least `gap` under upper. than: what is wrong where it does not."""

    lower: str
    upper: str
    severity: Severity
    title: str
    than: str
    gap: float = 0.0


PAIRS = (
    Pair("throttle_low_v", "throttle_high_v", "stop", "Rest and full of the throttle lie on each other",
         "it drives with the hand off, or never"),
    Pair("throttle_fault_low_v", "throttle_low_v", "caution", "The throttle is at fault at rest",
         "it does not start, or stops when the hand shuts"),
    Pair("throttle_high_v", "throttle_fault_high_v", "caution", "The throttle is at fault at full twist",
         "it lets go at full throttle"),
    Pair("lvc_v", "lvc_start_v", "caution", "It cuts out before it fades",
         "the power is gone at once on an empty pack"),
    Pair("regen_full_v", "ovc_v", "caution", "Motor braking does not fade before the over-voltage cut-off",
         "on a full pack the brake lets go at once"),
    Pair("motor_c", "motor_stop_c", "caution", "The motor is cut out before it is rolled back",
         "the power is gone at once on a hot motor"),
    Pair("phase_cont_a", "phase_a", "caution", "More phase amps for good than at peak",
         "the peak is held for ever, and nothing rolls it back", -0.5),
)  # fmt: skip


@check("tune.pairs", "two values of the set that cannot both be meant", parts=("tune",))
def pairs(bike: Bike) -> list[Says]:
    by = {r.name: r.value for r in rows_of(bike)}
    return [
        _says(p, by[p.lower], by[p.upper])
        for p in PAIRS
        if p.lower in by and p.upper in by and by[p.lower] > by[p.upper] - p.gap
    ]


def _says(p: Pair, low: float, high: float) -> Says:
    lower, upper = BY_NAME[p.lower], BY_NAME[p.upper]
    told = f"{lower.label} at {q(low, lower.quantity)}, {upper.label.lower()} at {q(high, upper.quantity)}"
    return Says(
        p.severity,
        p.title,
        f"{told}: {p.than}.",
        low,
        high - p.gap,
        lower.quantity,
        at=f"{p.lower}.{p.upper}",
    )


@check(
    "tune.travel",
    "the set gives the twist little travel, and nobody measured the grip",
    parts=("tune",),
)
def travel(bike: Bike) -> Says | None:
    t, by = bike.build.tune, {r.name: r.value for r in rows_of(bike)}
    low, high = by.get("throttle_low_v"), by.get("throttle_high_v")
    if low is None or high is None or (t.throttle_rest_v.known and t.throttle_full_v.known):
        return None
    if not 0.0 <= high - low < THROTTLE_SPAN_V:
        return None
    return Says(
        "caution",
        "The set gives the twist little travel",
        f"Rest at {q(low, 'v')}, full at {q(high, 'v')}: a little twist, or a warm sensor, is full throttle. "
        "Measure both ends at the grip, wheel free.",
        high - low,
        float(THROTTLE_SPAN_V),
        "v",
    )


HALLS = tuple(f"hall_{i}_deg" for i in range(1, 7))


@check("tune.halls", "hall edges that no sensor ring has", parts=("tune",))
def halls(bike: Bike) -> Says | None:
    by = {r.name: r.value for r in rows_of(bike)}
    if not all(name in by for name in HALLS):
        return None
    at = sorted(by[name] % 360.0 for name in HALLS)
    gaps = [(b - a) % 360.0 for a, b in zip(at, [*at[1:], at[0] + 360.0], strict=True)]
    least = min(gaps)
    if least >= EDGE_LEAST_DEG:
        return None
    return Says(
        "stop",
        "Two hall edges lie on each other",
        f"The six edges of a turn lie 60° apart, more or less; here two are {q(least, 'deg')} apart. "
        "The motor jerks, or turns by itself. Identify it, wheel free.",
        least,
        float(EDGE_LEAST_DEG),
        "deg",
    )
