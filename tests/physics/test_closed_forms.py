"""Laws that have a closed form."""

from __future__ import annotations

import dataclasses
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cases import plain_case
from ninebolt.core.battery.joining import join
from ninebolt.core.battery.pack import usable_wh
from ninebolt.core.battery.sag import current_limit, max_power, volts_at_power
from ninebolt.core.drive.point import Solver, Supply
from ninebolt.core.guard.precharge import fill_energy_j, time_to_share_s
from ninebolt.core.simulate.case import LineLimit
from ninebolt.core.simulate.run import Stop, run
from ninebolt.core.simulate.steady import top_speed
from ninebolt.core.vehicle.road import grip_accel, rear_load, road_load, wheelie_accel
from ninebolt.core.vehicle.splits import splits_of, time_at_distance, time_at_speed


def free(**changes: object):  # type: ignore[no-untyped-def]
    """No drag, no grip or wheelie limit, a stiff pack, no losses."""
    stiff = {
        "body_cda_m2": 0.0,
        "body_crr": 0.0,
        "body_grip_mu": math.inf,
        "body_cg_height_m": 1e-6,
        "body_drag_height_m": 0.0,
        "body_rotating_kg": 0.0,
        "r0_ohm": 1e-9,
        "r1_ohm": 0.0,
        "interconnect_ohm": 0.0,
        "path_ohm": 0.0,
        "floor_v": 0.0,
        "drag_nm": 0.0,
        "drag_nm_s_rad": 0.0,
        "efficiency": 1.0,
        "machine_r_ohm": 1e-9,
        "machine_r_switch_ohm": 0.0,
        "machine_fixed_w": 0.0,
        "machine_ld_h": 1e-9,
        "machine_lq_h": 1e-9,
        "limits": (),
    }
    return plain_case(**{**stiff, **changes})


def test_constant_force() -> None:
    """v = F t / m and x = F t² / 2m while only phase amps limit."""
    case = free(machine_flux_vs=0.002)
    force = 1.5 * 5 * 0.002 * 500 * 5 / 0.3
    s = run(case, Stop(seconds=4.0)).series
    assert s.speed_m_s[-1] == pytest.approx(force * 4 / 220, rel=1e-6)
    assert s.distance_m[-1] == pytest.approx(force * 16 / 2 / 220, rel=1e-6)


def test_constant_power() -> None:
    """t = m v² / 2P once only line amps limit: the time between two speeds."""
    case = free(
        limits=(LineLimit("line", 100.0),),
        machine_flux_vs=0.001,
        phase_a=1e5,
        ocv=((0.0, 4.0), (1.0, 4.0)),
    )
    power = 26 * 4.0 * 100.0
    s = run(case, Stop(speed_m_s=40.0)).series
    a, b = (time_at_speed(s.t_s, s.speed_m_s, s.accel_m_s2, v) for v in (15.0, 35.0))
    assert a is not None and b is not None
    assert b - a == pytest.approx(220 * (35**2 - 15**2) / 2 / power, rel=2e-3)


def test_terminal_speed_at_constant_power() -> None:
    """v³ = 2P / rho CdA without rolling resistance."""
    case = free(
        limits=(LineLimit("line", 100.0),),
        body_cda_m2=0.6,
        machine_flux_vs=0.001,
        phase_a=1e5,
        ocv=((0.0, 4.0), (1.0, 4.0)),
    )
    assert top_speed(case).speed_m_s == pytest.approx((2 * 10400 / 1.2 / 0.6) ** (1 / 3), rel=1e-4)


def test_back_emf_ends_speed_without_weakening() -> None:
    """No-load: the wheel stops gaining where m V = √3 we flux."""
    case = free(body_cda_m2=1e-6)
    volts = 26 * 4.18
    we = 0.95 * volts / math.sqrt(3) / case.machine.flux_vs
    top = top_speed(case)
    assert top.choke == "volts"
    assert top.speed_m_s == pytest.approx(we / 5 / case.ratio * case.radius_m, rel=1e-3)


@given(st.floats(20, 400), st.floats(1e-3, 0.5), st.floats(0.01, 0.99))
def test_maximum_power_transfer(e: float, r: float, share: float) -> None:
    """No more than E²/4R can be drawn, and what can be satisfies V (E - V) / R = P."""
    top = e * e / 4 / r
    assert volts_at_power(e, r, top * 1.001) is None
    v = volts_at_power(e, r, top * share)
    assert v is not None and v * (e - v) / r == pytest.approx(top * share, rel=1e-6)
    assert max_power(e, r, math.inf, 0.0) == pytest.approx(top)
    assert current_limit(e, r, e + 1) == 0.0


@given(st.floats(0.0, 1.0), st.floats(0.0, 0.2))
def test_more_resistance_never_pulls_harder(soc: float, more: float) -> None:
    """Adding resistance never raises top speed."""
    case = plain_case(start_soc=max(soc, 0.2))
    worse = dataclasses.replace(case, path_ohm=case.path_ohm + more)
    assert top_speed(worse).speed_m_s <= top_speed(case).speed_m_s + 1e-6


def test_precharge() -> None:
    """RC charge: 63.2 % after RC, 95 % after 3 RC (2.996), energy ½CV²."""
    assert time_to_share_s(100, 0.005, 1 - math.exp(-1)) == pytest.approx(0.5)
    assert time_to_share_s(100, 0.005, 0.95) == pytest.approx(3 * 0.5, rel=2e-3)
    assert fill_energy_j(0.005, 100) == pytest.approx(25.0)


def test_wheelie_limit_is_where_the_front_wheel_carries_nothing() -> None:
    body = plain_case().body
    a = wheelie_accel(body, road_load(body, 20.0).aero_n)
    front = body.mass_kg * 9.80665 - rear_load(body, road_load(body, 20.0), a)
    assert front == pytest.approx(0.0, abs=1e-9)


def test_grip_limit_is_where_the_ground_force_meets_friction() -> None:
    body = dataclasses.replace(plain_case().body, grip_mu=0.5, grade_pct=8.0)
    load = road_load(body, 15.0)
    a = grip_accel(body, load)
    ground = body.mass_kg * a + load.total_n
    assert ground == pytest.approx(0.5 * rear_load(body, load, a), rel=1e-12)


def test_line_limit_is_met_exactly() -> None:
    """Where the line limit binds, exactly that many amps are drawn, with and without weakening."""
    for fw in (0.0, 100.0):
        case = plain_case(machine_fw_a=fw, limits=(LineLimit("line", 140.0),))
        p = Solver(case.machine).solve(0.008, 5 * 330.0, Supply(105.0, 0.03, 140.0), 500.0)
        assert p.bound == "line" and p.line_a == pytest.approx(140.0, rel=1e-5)
        assert p.bus_v == pytest.approx(105.0 - 0.03 * 140.0, rel=1e-6)


def test_usable_energy_without_resistance() -> None:
    """A lossless pack gives S P Ah times the mean voltage, at any power."""
    got = usable_wh(((0.0, 3.0), (1.0, 4.0)), 26, 12 * 4.5, 0.0, 5000.0, 0.0)
    assert got == pytest.approx(26 * 12 * 4.5 * 3.5, rel=1e-6)


def test_splits_of_uniform_acceleration() -> None:
    """x = t²: exact between samples too; rollout takes off t(0.3048 m)."""
    t = [0.5 * i for i in range(60)]
    x, v, a = [s * s for s in t], [2 * s for s in t], [2.0] * 60
    assert time_at_distance(t, x, v, 123.4) == pytest.approx(math.sqrt(123.4), rel=1e-9)
    plain = {s.name: s for s in splits_of(t, x, v, a)}
    rolled = {s.name: s for s in splits_of(t, x, v, a, rollout=True)}
    quarter = plain["1/4 mile"]
    assert quarter.time_s == pytest.approx(math.sqrt(402.336))
    assert quarter.trap_line_m_s == pytest.approx(2 * math.sqrt(402.336))
    mean = 20.1168 / (math.sqrt(402.336) - math.sqrt(402.336 - 20.1168))
    assert quarter.trap_mean_m_s == pytest.approx(mean)
    assert rolled["1/4 mile"].time_s == pytest.approx(math.sqrt(402.336) - math.sqrt(0.3048))


def test_stalled_bike_ends_by_itself() -> None:
    """A hill too steep: no speed, no endless loop, and the result says so."""
    done = run(plain_case(body_grade_pct=90.0, phase_a=60.0), Stop(seconds=30))
    assert done.ended == "stalled" and done.top_speed_m_s == 0.0


@given(
    st.floats(20, 400),
    st.floats(1e-3, 0.5),
    st.floats(0.0, 0.5),
    st.floats(0.0, 0.99),
    st.floats(10, 1000),
)
def test_resistance_never_adds_current_or_power(
    e_v: float, r: float, more: float, floor: float, limit: float
) -> None:
    """Rayleigh's monotonicity law: a larger resistance in a network never raises a current."""
    floor_v = floor * e_v
    assert current_limit(e_v, r + more, floor_v) <= current_limit(e_v, r, floor_v)
    weaker = max_power(e_v, r + more, limit, floor_v)
    assert weaker <= max_power(e_v, r, limit, floor_v) * (1 + 1e-9)
    assert join(e_v, r + more, r, 1e3, 2e3).peak_a <= join(e_v, r, r, 1e3, 2e3).peak_a
