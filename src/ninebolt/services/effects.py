"""What a difference of two settings does to the bike, in figures where the build can be computed with both."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.back import motor_braking
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.hold import hold_s, until_s
from ninebolt.core.bike.opening import opening
from ninebolt.core.bike.reach import unused_wh
from ninebolt.core.bike.ride import bare_performance, pack_facts
from ninebolt.core.bike.running import AIR_C
from ninebolt.core.bolts.common import finite
from ninebolt.core.bolts.tune.rows import IN_BUILD
from ninebolt.core.bolts.tune.worn import in_build
from ninebolt.core.build import Build
from ninebolt.core.codec import replaced_all
from ninebolt.core.setting.sets import Difference
from ninebolt.core.simulate.thrust import back_emf_v

FACTS = {
    "pole_pairs": "the motor would stutter, or turn at another speed than it is told",
    "sensor": "it would look for the rotor with another sensor",
    "direction": "it would push the other way",
    "hall_offset_deg": "fewer newtons for the same amps, and heat",
    "brake_rule": "what the drive does while the brake is pulled",
    "start_mode": "in which mode it starts",
    "temp_sensor": "it would read another temperature than there is",
    "lvc_start_v": "where on an empty pack the power begins to fade",
    "ovc_v": "where it lets go of the wheel: on a full pack, or braking onto one",
    "regen_line_a": "how many amps braking may push into the pack",
    "capacity_ah": "what its charge gauge shows",
    "series": "what its charge gauge shows",
    "phase_cont_a": "what it gives for good, once its peak is over",
    "phase_peak_s": "how long it gives its peak",
    "motor_stop_c": "where a hot motor is cut out",
    "controller_c": "where a hot controller takes the power back",
    "r_phase_ohm": "how it turns the current without a sensor, and how smoothly",
    "l_phase_henry": "how it turns the current without a sensor, and how smoothly",
    "kv_rpm_v": "the speed that it believes the motor to have",
    "throttle_low_v": "from which reading on it pushes",
    "throttle_high_v": "at which reading it gives all",
    "throttle_fault_low_v": "below which reading a wire counts as off",
    "throttle_fault_high_v": "above which reading a wire counts as shorted",
    "dead_pct": "how much twist does nothing",
    "ramp_down_s": "how long it pushes on after the hand is shut",
    "creep_pct": "it pushes with the hand off",
    "regen_fade_m_s": "below which speed braking lets go",
    "regen_full_v": "from which pack volts on braking fades",
    "phase_trip_a": "at which current it lets go to save itself",
    "stall_s": "how long one phase carries all of it while the wheel is held",
    "units": "what its speed is shown in",
}


@dataclass(frozen=True, slots=True)
class Effect:
    """A sentence, and the figures that move: (what, before, after, quantity)."""

    sentence: str
    figures: tuple[tuple[str, float | None, float | None, str], ...] = ()


def effect(build: Build, d: Difference) -> Effect:
    """first is what is there, second what would be written. build: with all that the first set says in force."""
    if (
        d.first is None
        or d.second is None
        or isinstance(d.first, str | bytes)
        or isinstance(d.second, str | bytes)
    ):
        return Effect("")
    a, b = float(d.first), float(d.second)
    if d.name in IN_BUILD:
        before, after = (replaced_all(build, in_build(build, {d.name: x})) for x in (a, b))
        return between(before, after)
    if d.name in ("wheel_m", "ratio"):
        right = b if d.name == "ratio" else a
        wrong = a if d.name == "ratio" else b
        error = (right / wrong - 1.0) if wrong else 0.0
        return Effect(f"the speed that it shows moves by {100 * error:+.1f} %")
    if d.name == "motor_c":
        return _rolled_back(build, a, b)
    if d.name.startswith("hall_"):
        return Effect("a wrong angle stutters, or pushes little for its amps")
    if d.name.startswith("curve_"):
        return Effect("another part of the torque at this twist")
    if d.name.startswith("mode_"):
        return Effect("only in this mode")
    return Effect(FACTS.get(d.name, ""))


def between(build: Build, other: Build) -> Effect:
    """What moves from one build to another, in figures."""
    rows = []
    first, second = figures(build), figures(other)
    for key, (label, quantity) in LABELS.items():
        x, y = first.get(key), second.get(key)
        if key not in first or key not in second:
            continue
        same = x == y if x is None or y is None else abs(x - y) <= 1e-3 * max(abs(x), abs(y))
        if not same:
            rows.append((label, x, y, quantity))
    if not rows:
        return Effect("nothing that these figures show: another link limits first")
    return Effect("", tuple(rows))


def _rolled_back(build: Build, a: float, b: float) -> Effect:
    """Full phase amps until the winding is as hot as each."""
    perf = bare_performance(Bike(build))
    if perf is None:
        return Effect("")
    before, after = (finite(until_s(perf.case, AIR_C, v)) for v in (a, b))
    return Effect(
        "", ((f"full phase amps from {AIR_C:.0f} °C, until it rolls back", before, after, "s"),)
    )


LABELS = {
    "time": ("time to the chosen speed", "s"),
    "top": ("top speed", "m_s"),
    "peak": ("peak power at the wheel", "w"),
    "opens": ("something opens after", "s"),
    "heat": ("full phase amps from cold, until the winding's limit", "s"),
    "emf": ("the motor's own volts at top speed", "v"),
    "brake": ("motor braking, at most", "n"),
    "unused": ("energy that stays unused", "wh"),
}


def figures(build: Build) -> dict[str, float | None]:
    """By a key of LABELS; None where it is never, or for good. Empty while the build does not compute."""
    bike = Bike(build)
    perf, facts, run, back = (
        bare_performance(bike),
        pack_facts(bike),
        opening(bike),
        motor_braking(bike),
    )
    if perf is None:
        return {}
    first = [o.t_s for o in (run.trip, run.session_trip, run.fuse, run.breaker) if o] if run else []
    out: dict[str, float | None] = {
        "time": perf.headline.to_time_s, "top": perf.top.speed_m_s, "peak": perf.headline.peak_wheel_w,
        "opens": min(first, default=None), "heat": finite(hold_s(perf.case, AIR_C)),
        "emf": back_emf_v(perf.case, perf.top.speed_m_s),
        "brake": max(back.force_n) if back else None,
    }  # fmt: skip
    if facts is not None and build.drive.controller.lvc_v.amount is not None:
        out["unused"] = unused_wh(bike, facts, build.drive.controller.lvc_v.amount)[0]
    return out
