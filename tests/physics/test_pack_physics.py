"""Pack and guard physics against closed forms, scipy's integrators and brute simulation."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.constants import R as GAS
from scipy.integrate import quad, solve_ivp

from cases import plain_case
from ninebolt.core.battery.heat import after_rest, repeated, settled_peak_c
from ninebolt.core.battery.joining import level_time_s, lift_time_s
from ninebolt.core.battery.series import string_of
from ninebolt.core.battery.temperature import current_share, resistance_factor
from ninebolt.core.copper import COPPER_OHM_M, copper_factor
from ninebolt.core.guard.charging import charge, mains_amps
from ninebolt.core.guard.conductors import (
    METALS,
    STRANDING,
    continuous_amps,
    lug_bolt,
    peak_temp_c,
    plug_rise_k,
    rms,
    steady_rise_k,
    strip_amps,
    strip_ohm,
)
from ninebolt.core.guard.fuse import BREAKER, TYPICAL, least_rating, melt_s, opens_at
from ninebolt.core.guard.precharge import with_load
from ninebolt.core.simulate.run import Stop, run
from ninebolt.core.simulate.session import cool_down, on_grade, session
from ninebolt.core.vehicle.need import (
    ground_thrust_n,
    hill_run_j,
    logged_n,
    power_for_time,
    stop_and_go_n,
    thrust_for_time,
    time_with_power,
)
from ninebolt.core.vehicle.road import Body, road_load
from ninebolt.errors import QuantityError
from ninebolt.units import awg_section_m2, parse_quantity

# Temperature and heat


@pytest.mark.parametrize("temp", [-20.0, 0.0, 25.0, 45.0])
def test_resistance_follows_arrhenius(temp: float) -> None:
    """exp(Ea/R (1/T - 1/298.15)) with scipy's gas constant; 1 at 25 °C."""
    want = math.exp(20_000 / GAS * (1 / (temp + 273.15) - 1 / 298.15))
    assert resistance_factor(temp) == pytest.approx(want, rel=1e-6)
    assert resistance_factor(25.0) == 1.0


@given(st.floats(-30, 70), st.floats(-30, 70))
def test_cold_never_lowers_resistance_and_no_temperature_adds_current(a: float, b: float) -> None:
    low, high = sorted((a, b))
    assert resistance_factor(low) >= resistance_factor(high)
    assert 0.0 <= current_share(a, 60.0) <= 1.0
    assert current_share(61.0, 60.0) == 0.0 and current_share(25.0, 60.0) == 1.0


def test_repeated_heat_settles_where_the_geometric_series_says() -> None:
    ends = repeated(25.0, 25.0, [40_000.0] * 2000, 300.0, 20_000.0, 0.8)
    assert ends[-1] == pytest.approx(settled_peak_c(25.0, 40_000.0, 300.0, 20_000.0, 0.8), rel=1e-6)
    assert ends[0] == pytest.approx(27.0)


def test_cooling_is_newtons_law() -> None:
    """Against scipy's integrator of C dT/dt = -(T - Ta)/R."""
    done = solve_ivp(lambda t, y: -(y - 20) / (5000 * 0.5), (0, 900), [60.0], rtol=1e-10)
    assert after_rest(60.0, 20.0, 900.0, 5000.0, 0.5) == pytest.approx(done.y[0, -1], rel=1e-6)


def test_two_node_cool_down_against_an_integrator() -> None:
    th = replace(plain_case().thermal or _thermal(), air_c=25.0)
    a, b, c, d = th.winding_case_k_w, th.case_air_k_w, th.winding_j_k, th.case_j_k

    def rates(t: float, y: list[float]) -> list[float]:
        flow = (y[0] - y[1]) / a
        return [-flow / c, (flow - (y[1] - 25.0) / b) / d]

    done = solve_ivp(rates, (0, 240), [120.0, 60.0], rtol=1e-9)
    got = cool_down(th, 120.0, 60.0, 240.0)
    assert got == pytest.approx(tuple(done.y[:, -1]), rel=0.02)  # explicit steps of 2 s


def _thermal():  # type: ignore[no-untyped-def]
    from ninebolt.core.simulate.case import Thermal

    return Thermal(0.09, 0.35, 900.0, 6500.0, 140.0)


# Strings and joining


@given(
    st.lists(st.tuples(st.floats(10, 60), st.floats(0.05, 0.95)), min_size=2, max_size=12),
)
def test_series_string_against_stepping_it(modules: list[tuple[float, float]]) -> None:
    """Step the charge down until the first is empty, up until the first is full: the same span."""
    capacity = [c for c, _ in modules]
    charge_ah = np.array([c * s for c, s in modules])
    room = np.array(capacity) - charge_ah
    step = 1e-3
    down = int(charge_ah.min() / step) * step
    up = int(room.min() / step) * step
    got = string_of(capacity, [s for _, s in modules])
    assert got.usable_ah == pytest.approx(down + up, abs=3 * step)
    assert got.usable_ah <= min(capacity) + 1e-9


def test_levelling_through_a_resistor_is_an_rc_decay() -> None:
    both = 900 * 1200 / (900 + 1200)
    done = solve_ivp(
        lambda t, y: -y / (2.0 * both), (0, 9000), [4.0], dense_output=True, rtol=1e-10
    )
    t = level_time_s(4.0, 0.1, 2.0, both)
    assert done.sol(t)[0] == pytest.approx(0.1, rel=1e-4)
    assert level_time_s(0.05, 0.1, 2.0, both) == 0.0
    assert lift_time_s(-4.0, 10.0, 900.0) == pytest.approx(360.0)  # Q = C ΔV = 3600 C at 10 A


# Charging


def test_charge_of_a_linear_pack_is_cc_then_an_exponential() -> None:
    """E = E0 + k s: constant current until E + I R = V, then I decays with tau = R Q / k."""
    e0, k, r, ah, end, amps = 60.0, 24.0, 0.12, 30.0, 84.0, 10.0
    got = charge(lambda s: e0 + k * s, r, ah, end, amps, 0.5, rows=20_000)
    soc_cc = (end - amps * r - e0) / k
    assert got.cc_s == pytest.approx(soc_cc * ah * 3600 / amps, rel=1e-3)
    tau = r * ah * 3600 / k
    assert got.cv_s == pytest.approx(tau * math.log(amps / 0.5), rel=5e-3)
    q = ah * got.end_soc
    assert got.into_wh == pytest.approx(
        e0 * q + k * q * q / (2 * ah) + _heat_wh(got, amps, r, tau), rel=2e-3
    )


def _heat_wh(got, amps: float, r: float, tau: float) -> float:  # type: ignore[no-untyped-def]
    cv = quad(lambda t: (amps * math.exp(-t / tau)) ** 2 * r, 0, got.cv_s)[0]
    return (amps**2 * r * got.cc_s + cv) / 3600


@given(st.floats(0.01, 0.5), st.floats(2, 20))
def test_more_resistance_ends_constant_current_earlier_and_charges_no_fuller(
    r: float, amps: float
) -> None:
    low, high = (charge(lambda s: 60 + 24 * s, x, 30.0, 84.0, amps, 0.2) for x in (r, r * 1.2))
    assert high.cc_s <= low.cc_s + 1e-9 and high.end_soc <= low.end_soc + 1e-12


def test_mains_current_is_power_over_voltage() -> None:
    assert mains_amps(84.0, 10.0, 0.9, 230.0) == pytest.approx(84 * 10 / 0.9 / 230)


# Fuse, cable, strip, precharge


def test_fuse_curve_passes_its_points_and_falls() -> None:
    for multiple, seconds in TYPICAL:
        assert melt_s(multiple) == pytest.approx(seconds)
    assert melt_s(1.0) == math.inf and melt_s(50.0) == TYPICAL[-1][1]
    grid = [melt_s(m) for m in np.linspace(1.1, 12, 60)]
    assert all(a >= b for a, b in zip(grid, grid[1:], strict=False))


def test_a_breaker_holds_and_opens_where_its_standard_says() -> None:
    """IEC 60947-2, from memory: 1.05 times the rating held for two hours, at 1.30 times open
    within two hours."""
    assert melt_s(1.04, BREAKER) == math.inf and melt_s(1.05, BREAKER) >= 7200.0
    assert melt_s(1.30, BREAKER) <= 7200.0
    times = [melt_s(m, BREAKER) for m in np.linspace(1.05, 8, 60)]
    assert times == sorted(times, reverse=True)


@pytest.mark.parametrize("curve", [TYPICAL, BREAKER], ids=["fuse", "breaker"])
@given(amps=st.lists(st.floats(1.0, 900.0), min_size=2, max_size=40), dt=st.floats(0.05, 5.0))
def test_the_least_rating_holds_and_a_step_less_does_not(
    curve: tuple[tuple[float, float], ...], amps: list[float], dt: float
) -> None:
    t = [i * dt for i in range(len(amps))]
    least = least_rating(t, amps, curve)
    assert opens_at(t, amps, least, curve) is None
    if least > 25.0:
        assert opens_at(t, amps, least - 25.0, curve) is not None


@pytest.mark.parametrize("multiple", [1.35, 2.0, 3.0])
def test_a_fuse_opens_at_its_melting_time_and_remembers(multiple: float) -> None:
    t = np.arange(0, 1200, 0.05)
    row = opens_at(t, [100 * multiple] * len(t), 100.0)
    assert row is not None and t[row] == pytest.approx(melt_s(multiple), abs=0.11)
    half = melt_s(2.0) * 0.6
    amps = np.where((t < half) | ((t > half + 5) & (t < 2 * half + 5)), 200.0, 0.0)
    assert opens_at(t, amps, 100.0) is not None
    late = np.where((t < half) | ((t > half + 300) & (t < 2 * half + 300)), 200.0, 0.0)
    assert opens_at(t, late, 100.0) is None


def test_cable_along_a_run_against_an_integrator() -> None:
    """C dT/dt = I² r(T) - h pi d (T - Ta), I rising and falling; within 1 K."""
    section, air = 16e-6, 30.0
    t = np.linspace(0, 240, 481)
    amps = 150 + 100 * np.sin(t / 20)
    d = math.sqrt(4 * section / math.pi) * 1.12 + 2 * 0.0012

    def rate(s: float, y: list[float]) -> list[float]:
        heat = np.interp(s, t, amps) ** 2 * COPPER_OHM_M * STRANDING / section * copper_factor(y[0])
        return [(heat - 12.0 * math.pi * d * (y[0] - air)) / (section * 3.45e6)]

    done = solve_ivp(rate, (0, 240), [air], max_step=0.5, rtol=1e-8)
    assert peak_temp_c(section, t, amps, air) == pytest.approx(done.y[0].max(), abs=1.0)


@given(st.floats(4, 95), st.floats(20, 200))
def test_a_long_steady_current_ends_at_the_steady_rise(mm2: float, share: float) -> None:
    section = mm2 * 1e-6
    amps = continuous_amps(section, 75.0, 30.0) * min(share, 100) / 100
    hot = peak_temp_c(section, [0.0, 1e6], [amps, amps], 30.0)
    assert hot == pytest.approx(30.0 + steady_rise_k(section, amps, 30.0), abs=0.1)


def test_rms_of_a_sine_and_of_a_step() -> None:
    t = np.linspace(0, 2 * math.pi, 20_001)
    assert rms(t, 10 * np.sin(t)) == pytest.approx(10 / math.sqrt(2), rel=1e-6)
    assert rms([0, 1, 1.000001, 2], [4, 4, 0, 0]) == pytest.approx(math.sqrt(8), rel=1e-3)


def test_strips_by_hand() -> None:
    """rho l / (w t); nickel 4.05 times copper (from memory: 6.99e-8 against 1.7241e-8)."""
    assert strip_ohm("copper", 0.01, 0.0002, 0.02) == pytest.approx(1.7241e-8 * 0.02 / 2e-6)
    assert METALS["nickel"][0] / METALS["copper"][0] == pytest.approx(4.05, abs=0.02)
    i = strip_amps("nickel", 0.008, 0.00015, 30.0)
    heat = i * i * METALS["nickel"][0] * (1 + 0.006 * 40) / (0.008 * 0.00015)
    assert heat == pytest.approx(12.0 * (0.008 + 0.0003) * 30.0)
    assert strip_amps("copper", 0.008, 0.00015, 30.0) > 1.8 * i


def test_plug_heat_goes_with_the_square_and_lugs_grow() -> None:
    assert plug_rise_k(120, 60) == pytest.approx(4 * 30.0)
    bolts = [lug_bolt(mm2 * 1e-6) for mm2 in (4, 10, 25, 50, 70, 95)]
    assert bolts == sorted(bolts) == [5, 6, 8, 8, 10, 12]


@given(st.floats(20, 500), st.floats(48, 120), st.floats(0, 200))
def test_a_load_on_the_precharge_obeys_kirchhoff(r: float, volts: float, load: float) -> None:
    """Either V with (E - V)/R = P/V, or no root and the capacitors do not fill."""
    got = with_load(r, volts, load)
    if got.share > 0:
        v = got.share * volts
        assert (volts - v) / r * v == pytest.approx(load, abs=1e-6 * volts**2 / r + 1e-9)
        assert got.share >= 0.5 - 1e-9  # beyond maximum power transfer nothing is delivered
    else:
        assert load > volts**2 / (4 * r)


@pytest.mark.parametrize(
    ("text", "mm2"), [("AWG 10", 5.261), ("2 awg", 33.63), ("AWG 2/0", 67.43), ("0000 AWG", 107.2)]
)
def test_gauges_are_read_as_sections(text: str, mm2: float) -> None:
    """ASTM B258 sections (from memory, to four places)."""
    assert parse_quantity(text, "m2") * 1e6 == pytest.approx(mm2, rel=2e-3)
    assert awg_section_m2(36) == pytest.approx(math.pi / 4 * 0.127e-3**2)


@pytest.mark.parametrize("text", ["AWG 77", "9/0 AWG"])
def test_gauges_that_do_not_exist_are_refused(text: str) -> None:
    with pytest.raises(QuantityError, match="no such gauge"):
        parse_quantity(text, "m2")


# Session


def test_a_session_of_one_is_the_run_and_later_runs_are_no_faster() -> None:
    case = plain_case()
    one = session(case, 1, 60.0, 200.0)
    alone = run(case, Stop(distance_m=200.0, seconds=90.0))
    assert one.runs[0].time_s == pytest.approx(alone.series.t_s[-1], rel=2e-3)
    many = session(case, 5, 60.0, 200.0)
    times = [r.time_s for r in many.runs]
    assert all(b >= a - 1e-6 for a, b in zip(times, times[1:], strict=False))
    charges = [r.soc for r in many.runs]
    assert all(b < a for a, b in zip(charges, charges[1:], strict=False))
    assert list(many.t_s) == sorted(many.t_s)
    assert len(many.t_s) == len(many.line_a) == len(many.phase_a) == len(many.speed_m_s)


def test_a_session_on_a_hill_is_slower() -> None:
    case = plain_case()
    flat, hill = session(case, 2, 60.0, 150.0), session(on_grade(case, 20.0), 2, 60.0, 150.0)
    assert hill.runs[0].time_s > flat.runs[0].time_s
    assert hill.runs[-1].soc < flat.runs[-1].soc


# Need

BODY = Body(200.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.4, 1.45, 0.5, math.inf, 0.4)
ROUGH = Body(200.0, 10.0, 0.55, 0.02, 1.2, 0.0, 0.75, 1.45, 0.48, 0.9, 0.75)


def test_power_for_a_time_without_losses() -> None:
    """t = m v² / 2P while the ground takes any thrust needed; the step of the sum leaves 2 %."""
    low = replace(BODY, cg_height_m=0.0001)
    p = power_for_time(low, 20.0, 4.0)
    assert p == pytest.approx(200 * 20**2 / (2 * 4.0), rel=0.02)
    assert time_with_power(low, 20.0, p or 0) == pytest.approx(4.0, rel=1e-6)


def test_no_power_beats_the_ground() -> None:
    """At the wheelie limit a = g L share / h: a time below v / a is out of reach."""
    limit = 9.80665 * 1.45 * 0.5 / 0.4
    assert ground_thrust_n(BODY, 0.0) == pytest.approx(200 * limit)
    assert power_for_time(BODY, 20.0, 20.0 / limit * 0.95) is None
    assert power_for_time(BODY, 20.0, 20.0 / limit * 1.2) is not None


@given(st.floats(10, 35), st.floats(3, 15))
def test_the_needed_power_is_enough_and_no_more(speed: float, seconds: float) -> None:
    p = power_for_time(ROUGH, speed, seconds)
    if p is None:
        assert time_with_power(ROUGH, speed, 2e6) > seconds
    else:
        assert time_with_power(ROUGH, speed, p) <= seconds * (1 + 1e-9)
        assert time_with_power(ROUGH, speed, p * 0.98) > seconds


def test_thrust_and_duties_by_hand() -> None:
    assert thrust_for_time(BODY, 20.0, 5.0) == pytest.approx(200 * 20 / 5)
    assert stop_and_go_n(BODY, 10.0, 100.0) == pytest.approx(0.5 * 200 * 100 / 100)
    climb = hill_run_j(BODY, 50.0, 25.0, 12.0)
    assert climb == pytest.approx(200 * 9.80665 * 50 + 0.5 * 200 * 144)


def test_a_logged_steady_ride_takes_the_road_load() -> None:
    t = np.arange(0, 120, 0.2)
    got = logged_n(ROUGH, t, np.full_like(t, 14.0))
    assert got == pytest.approx(road_load(ROUGH, 14.0).total_n, rel=1e-9)
    saw = 10 + 4 * np.abs((t % 20) / 10 - 1)
    assert logged_n(ROUGH, t, saw) > road_load(ROUGH, 12.0).total_n  # braking throws energy away
    assert logged_n(ROUGH, [0.0, 0.1], [0.0, 0.0]) is None
