"""What a difference of two settings does to the bike, in figures where the build can be computed with both."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.reach import unused_wh
from ninebolt.core.bike.ride import bare_performance, pack_facts
from ninebolt.core.bolts.tune.rows import IN_BUILD
from ninebolt.core.build import Build
from ninebolt.core.codec import replaced
from ninebolt.core.setting.sets import Difference
from ninebolt.core.value import Value

FACTS = {
    "pole_pairs": "the motor would stutter, or turn at another speed than it is told",
    "sensor": "it would look for the rotor with another sensor",
    "direction": "it would push the other way",
    "hall_offset_deg": "fewer newtons for the same amps, and heat",
    "brake_rule": "what the drive does while the brake is pulled",
    "start_mode": "in which mode it starts",
    "temp_sensor": "it would read another temperature than there is",
}


@dataclass(frozen=True, slots=True)
class Effect:
    """A sentence, and the figures that move: (what, before, after, quantity)."""

    sentence: str
    figures: tuple[tuple[str, float | None, float | None, str], ...] = ()


def effect(build: Build, d: Difference) -> Effect:
    """first is what is there, second what would be written."""
    if (
        d.first is None
        or d.second is None
        or isinstance(d.first, str | bytes)
        or isinstance(d.second, str | bytes)
    ):
        return Effect("")
    a, b = float(d.first), float(d.second)
    if d.name in IN_BUILD and d.name != "regen_pct":
        return _computed(build, d.name, a, b)
    if d.name in ("wheel_m", "ratio"):
        right = b if d.name == "ratio" else a
        wrong = a if d.name == "ratio" else b
        error = (right / wrong - 1.0) if wrong else 0.0
        return Effect(f"the speed that it shows moves by {100 * error:+.1f} %")
    if d.name.startswith("hall_"):
        return Effect("a wrong angle stutters, or pushes little for its amps")
    if d.name.startswith("curve_"):
        return Effect("another part of the torque at this twist")
    return Effect(FACTS.get(d.name, ""))


def _computed(build: Build, name: str, a: float, b: float) -> Effect:
    rows = []
    first, second = _figures(build, name, a), _figures(build, name, b)
    for key, (label, quantity) in LABELS.items():
        x, y = first.get(key), second.get(key)
        if x is not None and y is not None and abs(x - y) > 1e-3 * max(abs(x), abs(y)):
            rows.append((label, x, y, quantity))
    if not rows:
        return Effect("nothing that the headline shows: another link limits first")
    return Effect("", tuple(rows))


LABELS = {
    "time": ("time to the chosen speed", "s"),
    "top": ("top speed", "m_s"),
    "peak": ("peak power at the wheel", "w"),
    "unused": ("energy that stays unused", "wh"),
}


def _figures(build: Build, name: str, amount: float) -> dict[str, float | None]:
    bike = Bike(replaced(build, IN_BUILD[name], Value(amount, "guess", 0.0)))
    perf, facts = bare_performance(bike), pack_facts(bike)
    if perf is None:
        return {}
    out: dict[str, float | None] = {
        "time": perf.headline.to_time_s, "top": perf.top.speed_m_s, "peak": perf.headline.peak_wheel_w,
    }  # fmt: skip
    if name == "lvc_v" and facts is not None:
        out["unused"] = unused_wh(bike, facts, amount)[0]
    return out
