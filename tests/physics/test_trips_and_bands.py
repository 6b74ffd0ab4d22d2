"""When a BMS opens, what a band holds, what the bench bike hides, and the thermal path."""

from __future__ import annotations

import dataclasses
import math
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cases import plain_case
from ninebolt.bench.ride import ride
from ninebolt.bench.truth import FAULTS, hidden_truth
from ninebolt.core.codec import encode
from ninebolt.core.guard.trip import first_trip
from ninebolt.core.logs.ride import analyse
from ninebolt.core.simulate.case import Thermal
from ninebolt.core.simulate.run import Stop, run
from ninebolt.core.simulate.steady import cruise, envelope, top_speed
from ninebolt.errors import InputError
from ninebolt.library.demo import brakka, moss
from ninebolt.services.bands import band_of, uncertain
from ninebolt.services.house import House

T = [0.5 * i for i in range(61)]


def test_trip_after_the_allowed_time() -> None:
    amps = [80.0 if t < 5 else 150.0 for t in T]
    trip = first_trip(T, amps, T, 100, 300, 4.0)
    assert trip is not None and trip.cause == "time"
    assert trip.t_s == pytest.approx(5 + 4, abs=1.0)
    assert first_trip(T, amps, T, 160, 300, 4.0) is None


def test_trip_at_once_over_the_peak() -> None:
    trip = first_trip(T, [80.0 if t < 5 else 350.0 for t in T], T, 100, 300, 60)
    assert trip is not None and trip.cause == "peak" and trip.t_s == 5.0


def test_short_pulls_with_rests_do_not_trip() -> None:
    amps = [150.0 if int(t) % 4 < 2 else 20.0 for t in T]
    assert first_trip(T, amps, T, 100, 300, 4.0) is None


@given(st.floats(50, 150), st.floats(1, 10))
def test_a_larger_bms_never_trips_earlier(cont: float, seconds: float) -> None:
    amps = [min(40 * t, 200.0) for t in T]
    small, large = (first_trip(T, amps, T, c, 1e9, seconds) for c in (cont, cont + 20))
    if large is not None:
        assert small is not None and small.t_s <= large.t_s


def test_band_grows_with_the_guess_and_names_it(house: House) -> None:
    """A tolerance made ten times wider widens the band and comes out as what to measure next."""
    doc = encode(moss())
    narrow = band_of(house, doc)
    doc["road"]["cda_m2"] = {**doc["road"]["cda_m2"], "tolerance": 0.9}
    wide = band_of(house, doc)
    assert wide.half["top_speed_m_s"] > 2 * narrow.half["top_speed_m_s"]
    assert wide.leading[0].path == "road.cda_m2"


def test_choices_are_not_uncertain() -> None:
    inputs = uncertain(brakka())
    assert "drive.controller.line_a" not in inputs and "road.cda_m2" in inputs
    assert "road.crr" in inputs and inputs["drive.motor.kv_rpm_v"] == 0.05


@pytest.mark.parametrize("fault", sorted(FAULTS))
def test_every_fault_can_be_seen_in_the_log(fault: str) -> None:
    """The same bike with a fault is slower, or its pack resists more."""
    gps, controller = ride(brakka(), 9, [])
    bad_gps, bad_controller = ride(brakka(), 9, [fault])
    good, bad = analyse(gps), analyse(bad_gps)
    times = [
        next(m.split.time_s for m in r.splits if m.split.name == "1/8 mile") for r in (good, bad)
    ]
    ohms = [analyse(controller).pack_ohm, analyse(bad_controller).pack_ohm]
    assert times[0] and times[1] and ohms[0] and ohms[1]
    assert abs(times[1] - times[0]) > 0.05 or ohms[1] > 1.5 * ohms[0]


def test_the_same_seed_rides_the_same_ride() -> None:
    a, b = ride(moss(), 3, [])[0], ride(moss(), 3, [])[0]
    assert all((a.columns[k] == b.columns[k]).all() for k in a.columns)
    with pytest.raises(InputError, match="does not know this fault"):
        hidden_truth(plain_case(), random.Random(1), ["gremlin"])


def test_heat_settles_where_the_two_node_balance_says() -> None:
    """Creeping under a huge mass, the winding rises as the RC ladder does: by P (Rwc + Rca) in the
    end, with copper at its hot resistance."""
    th = Thermal(0.05, 0.10, 50.0, 100.0, 400.0, air_c=20.0)
    body = {"body_mass_kg": 1e7, "body_crr": 0.0}
    s = run(plain_case(phase_a=120.0, thermal=th, **body), Stop(seconds=200.0)).series
    copper_w = 1.5 * 0.008 * (1 + 0.00393 * (s.winding_c[-1] - 20.0)) * s.iq_a[-1] ** 2
    assert s.winding_c[-1] - 20.0 == pytest.approx(copper_w * 0.15, rel=2e-3)
    assert s.case_c[-1] - 20.0 == pytest.approx(copper_w * 0.10, rel=2e-3)


def test_a_hot_motor_is_derated_and_the_choke_says_heat() -> None:
    th = Thermal(0.05, 0.10, 60.0, 400.0, 100.0)
    cool, hot = plain_case(phase_a=600.0), plain_case(phase_a=600.0, thermal=th)
    series = run(hot, Stop(distance_m=402)).series
    assert "heat" in series.choke and max(series.winding_c) <= 100.5
    assert series.t_s[-1] > run(cool, Stop(distance_m=402)).series.t_s[-1]


def test_more_energy_more_range_more_speed_less_range() -> None:
    case = plain_case()
    slow, fast = cruise(case, 12.0), cruise(case, 24.0)
    more = cruise(dataclasses.replace(case, capacity_ah=9.0), 12.0)
    assert slow and fast and more
    assert fast.range_m < slow.range_m
    assert more.range_m > 1.9 * slow.range_m
    assert cruise(case, 60.0) is None


def test_cruise_power_is_road_load_over_the_chain_of_losses() -> None:
    """Battery power lies between road power and road power over 70 %."""
    case = plain_case()
    got = cruise(case, 20.0)
    road = (0.5 * 1.2 * 0.55 * 400 + 0.018 * 220 * 9.80665) * 20
    assert got is not None and road < got.battery_w < road / 0.7


def test_envelope_ends_where_top_speed_says() -> None:
    case = plain_case()
    top = top_speed(case).speed_m_s
    e = envelope(dataclasses.replace(case, r1_ohm=0.0), top, 41)
    assert e.thrust_n[-1] == pytest.approx(e.load_n[-1], rel=0.12)
    assert all(math.isfinite(x) for x in e.thrust_n)
