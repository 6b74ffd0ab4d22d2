"""Recommended sets over many builds: no value passes a limit of any part, and none leaves a stop in Tune."""

from __future__ import annotations

import math

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from builds import changed
from ninebolt.core.bike.back import charge_limit
from ninebolt.core.bike.chain import advice
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import bare_performance, pack_facts
from ninebolt.core.bolts.register import judge
from ninebolt.core.bolts.tune import checks, rows, sets, throttle
from ninebolt.core.bolts.tune.profiles import belongs, shaped
from ninebolt.core.build import PURPOSES, Build, TuneProfile
from ninebolt.core.drive.constants import amps_peak
from ninebolt.core.setting.objects import within
from ninebolt.core.setting.ours import BY_NAME, OURS, raw
from ninebolt.core.value import Value
from ninebolt.library.demo import DEMOS

assert checks and sets and throttle  # they fill the register

# Numbers that decide a set, and how far each is moved.
MOVED = {
    "pack.series": (10, 28), "pack.parallel": (2, 30), "guard.bms.i_cont_a": (15, 400), "guard.fuse.rated_a": (20, 400),
    "drive.controller.v_max_v": (60, 160), "drive.controller.phase_max_a": (60, 900),
    "drive.motor.phase_max_a": (60, 900),
    "drive.motor.kv_rpm_v": (10, 120), "goal.top_speed_m_s": (10, 45), "pack.temp_c": (-10, 40),
}  # fmt: skip
moves = st.fixed_dictionaries({}, optional={k: st.floats(*v) for k, v in MOVED.items()})


def moved(name: str, changes: dict[str, float], margin: str) -> Build:
    whole = {
        k: round(v) if k in ("pack.series", "pack.parallel") else v for k, v in changes.items()
    }
    return changed(
        DEMOS[name](),
        {**whole, "tune.margin": margin, "tune.throttle": [[0, 0], [1, 1]], "tune.profiles": []},
    )


@settings(max_examples=30, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.sampled_from(sorted(DEMOS)), moves, st.sampled_from(("gentle", "normal", "everything")))
def test_no_value_passes_a_limit_of_any_part(
    name: str, changes: dict[str, float], margin: str
) -> None:
    build = moved(name, changes, margin)
    bike = Bike(build)
    if bare_performance(bike) is None:
        return
    r = {x.name: x.recommended for x in rows.rows_of(bike)}
    c, m, facts = build.drive.controller, build.drive.motor, pack_facts(bike)
    assert facts is not None
    told = advice(bike)
    if told:
        assert r["line_a"] <= told.amps
    for limit in (
        amps_peak(c.phase_max_a.or_else(math.inf), c.amp_basis),
        amps_peak(m.phase_max_a.or_else(math.inf), m.amp_basis),
    ):
        assert r.get("phase_a", 0.0) <= limit * (1 + 1e-9)
    assert r["lvc_v"] >= facts.empty_v - 0.01 and r["lvc_start_v"] >= r["lvc_v"]
    if c.v_max_v.known:
        assert r["ovc_v"] <= c.v_max_v.taken + 0.01
    back = charge_limit(bike)
    assert r["regen_line_a"] <= (back.amps if back else 0.0)
    assert r["motor_c"] < r["motor_stop_c"] < m.temp_max_c.taken
    assert r.get("phase_cont_a", 0.0) <= r.get("phase_a", math.inf)
    assert r["mode_1_pct"] < r["mode_3_pct"] and r["start_mode"] == 1
    for key, value in r.items():
        spec = BY_NAME[key]
        if spec.lo <= value <= spec.hi:
            assert within(OURS.objects[spec.at], raw(spec, value)) == "", key


@settings(max_examples=15, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.sampled_from(sorted(DEMOS)), moves, st.sampled_from(("gentle", "normal", "everything")))
def test_a_set_as_recommended_leaves_no_stop_in_tune(
    name: str, changes: dict[str, float], margin: str
) -> None:
    build = moved(name, changes, margin)
    bike = Bike(build)
    if bare_performance(bike) is None:
        return
    chosen = [{"name": x.name, "value": x.recommended} for x in rows.rows_of(bike)]
    own = changed(build, {"tune.chosen": chosen})
    stops = [f.key for f in judge("tune", Bike(own)) if f.severity == "stop"]
    assert stops == []


@given(st.integers(8, 30), st.integers(8, 30), st.floats(0.02, 0.98), st.sampled_from(PURPOSES))
@settings(max_examples=30, deadline=None)
def test_a_pack_is_refused_exactly_where_its_volts_cannot_be(
    own: int, other: int, charge: float, purpose: str
) -> None:
    """A nickel-rich cell lies between 2.8 and 4.2 V: a pack of n cells at any charge belongs to a profile of m cells
    only where its volts lie within m times that."""
    build = changed(DEMOS["moss-84"](), {"pack.series": own})
    build = changed(build, {"tune.profiles": [{"name": "P", "purpose": purpose, "series": other}]})
    volts = own * (2.8 + 1.4 * charge)
    inside = other * 2.8 * 0.995 <= volts <= other * 4.2 * 1.005
    assert belongs(build, "P", volts).fits is inside


@pytest.mark.parametrize("purpose", PURPOSES)
def test_every_purpose_gives_a_set(purpose: str) -> None:
    p = TuneProfile("P", purpose, 20, 8, Value(60, "label"), Value(84, "label"), Value(12, "guess"))
    r = {x.name: x.recommended for x in rows.rows_of(Bike(shaped(DEMOS["moss-84"](), p)))}
    assert (
        r["series"] == 20
        and (r["line_a"] <= 51 or purpose == "bypass")
        and r["speed_cap_m_s"] == 12
    )
