"""The run's kernel: plain and compiled alike, stiff bikes, books that close, peaks, most torque.

Outside: SciPy's optimiser and integrators; closed forms.
"""

from __future__ import annotations

import dataclasses
import math
import random
from typing import Any

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.optimize import differential_evolution

from cases import plain_case
from ninebolt.compiled import compile_now
from ninebolt.core.battery.ocv import TYPICAL, interpolator
from ninebolt.core.battery.pack import usable_wh
from ninebolt.core.drive.point import Machine, Solver, Supply
from ninebolt.core.kernel import is_compiled, kernel, plainly
from ninebolt.core.simulate.case import LineLimit, RunCase, Thermal
from ninebolt.core.simulate.run import Stop, run
from ninebolt.core.simulate.steady import cruise, envelope, top_speed
from physics.test_run_reference import CASES

STIFF: dict[str, dict[str, Any]] = {
    "ratio 30": {"ratio": 30.0},
    "short gear, hard machine": {
        "ratio": 16.0,
        "machine_r_ohm": 0.002,
        "machine_ld_h": 10e-6,
        "machine_lq_h": 10e-6,
        "r0_ohm": 0.002,
        "r1_ohm": 0.0005,
    },
    "quick pair": {"tau_s": 0.02},
    "quicker pair": {"tau_s": 0.001},
    "almost empty": {"start_soc": 0.001},
    "hill it cannot climb": {"body_grade_pct": 60.0, "phase_a": 120.0},
}
SALIENT = {"machine_ld_h": 80e-6, "machine_lq_h": 220e-6, "machine_fw_a": 260.0}


def random_case(seed: int) -> RunCase:
    """A bike of any sort: from a pit moto to something silly."""
    rng = random.Random(seed)
    ld = 10 ** rng.uniform(-5, -3.7)
    heat = Thermal(0.02 + rng.random() * 0.1, 0.1, 800.0, 4000.0, 120.0) if seed % 3 == 0 else None
    return plain_case(
        series=rng.choice([14, 20, 26]),
        ratio=rng.uniform(1, 25),
        phase_a=rng.uniform(60, 900),
        start_soc=rng.uniform(0.001, 1),
        limits=(LineLimit("line", rng.uniform(20, 500)),),
        machine_fw_a=rng.choice([0.0, 60.0, 300.0]),
        machine_ld_h=ld,
        machine_lq_h=ld * rng.choice([1.0, 1.0, 2.5]),
        machine_r_ohm=10 ** rng.uniform(-2.7, -1),
        machine_knee_a=rng.choice([math.inf, 200.0]),
        body_grade_pct=rng.choice([0.0, 0.0, 12.0, -6.0]),
        tau_s=rng.choice([0.003, 0.5, 20.0]),
        ramp_s=rng.choice([0.0, 0.3]),
        thermal=heat,
    )


def test_plain_and_compiled_agree() -> None:
    """To 1e-9 over the run's cases, the stiff ones and random bikes."""
    if not compile_now():
        pytest.skip("numba is not there")
    assert is_compiled()
    cases = [plain_case(**c) for c in [*CASES.values(), *STIFF.values(), SALIENT]]
    for case in [*cases, *(random_case(i) for i in range(12))]:
        stop = Stop(distance_m=120.0, seconds=20.0)
        fast, top, shown = run(case, stop), top_speed(case), envelope(case, 30.0, 9)
        with plainly():
            slow, slow_top, slow_shown = run(case, stop), top_speed(case), envelope(case, 30.0, 9)
        assert fast.rows.shape == slow.rows.shape and fast.ended == slow.ended
        # The best id of a salient rotor lies on a flat top: it is sure to the root of a rounding.
        near = 1e-9 if case.machine.ld_h == case.machine.lq_h else 1e-5
        np.testing.assert_allclose(fast.rows, slow.rows, rtol=near, atol=near)
        assert top.speed_m_s == pytest.approx(slow_top.speed_m_s, rel=1e-9)
        assert shown.thrust_n == pytest.approx(slow_shown.thrust_n, rel=1e-9, abs=1e-9)


@pytest.mark.parametrize("name", STIFF)
def test_a_stiff_bike_keeps_its_books(name: str) -> None:
    """The step follows what is stiffest: energy within 0.01 %, charge never below zero."""
    done = run(plain_case(**STIFF[name]), Stop(distance_m=402.336))
    assert abs(done.energy.imbalance) < 1e-4 and done.books_close
    assert min(done.series.soc) >= 0.0


@pytest.mark.parametrize("seed", range(60))
def test_any_bike_keeps_its_books(seed: int) -> None:
    done = run(random_case(seed), Stop(distance_m=402.336, seconds=40.0))
    assert abs(done.energy.imbalance) < 1e-3
    assert done.ended != "steps" and min(done.series.soc) >= 0.0


def test_half_the_steps_move_no_split() -> None:
    """The stated error bound: with steps of a quarter the end time stays within 2e-4, a tenth of
    what is asked of a split."""
    for changes in (*CASES.values(), *STIFF.values()):
        case = plain_case(**changes)
        a, b = (run(case, Stop(distance_m=100.0), coarse) for coarse in (1.0, 0.25))
        assert a.series.t_s[-1] == pytest.approx(b.series.t_s[-1], rel=2e-4)


def test_the_peak_is_the_runs_peak() -> None:
    """Line amps peak where the phase limit gives way to the voltage limit: a run cut finer finds no
    higher one."""
    case = plain_case(limits=(LineLimit("line", 900.0),), phase_a=420.0)
    for changed in (case, dataclasses.replace(case, ratio=7.0)):
        coarse = max(run(changed, Stop(distance_m=402.0)).series.line_a)
        fine = max(run(changed, Stop(distance_m=402.0), 0.02).series.line_a)
        assert coarse == pytest.approx(fine, rel=2e-4)


@pytest.mark.parametrize("seed", range(25))
def test_most_torque_against_an_optimiser(seed: int) -> None:
    """Torque per ampere, per volt and at the line limit: SciPy's differential evolution over both
    currents finds nothing better, for round and salient rotors."""
    rng = random.Random(seed)
    ld = rng.uniform(40e-6, 300e-6)
    m = Machine(
        4, rng.uniform(0.01, 0.04), 0.01, ld, ld * rng.choice([1.0, 1.8, 3.0]), math.inf, 0.95,
        0.001, 20.0, rng.choice([80.0, 250.0, 400.0]),
    )  # fmt: skip
    e, rs, limit, amps = 96.0, 0.03, rng.choice([60.0, 200.0, 1e9]), rng.uniform(80, 400)
    we = rng.uniform(50, 6000)
    solver = Solver(m)
    found = solver.solve(m.r_ohm, we, Supply(e, rs, limit), amps)

    def torque(x: Any) -> float:
        id_, iq = -x[0] * min(m.fw_a, amps), x[1] * amps
        power = solver.power(we, iq, id_)
        inside = e * e - 4 * rs * power
        bus = 0.5 * (e + math.sqrt(max(inside, 0.0)))
        over = max(0.0, solver.volts_needed(we, iq, id_) - bus) / e
        over += max(0.0, math.hypot(id_, iq) - amps) / amps
        over += max(0.0, power - (e - rs * limit) * limit) / 1e4 if limit < 1e6 else 0.0
        return -1.5 * 4 * (m.flux_vs + (m.ld_h - m.lq_h) * id_) * iq + 1e3 * over

    best = -differential_evolution(torque, [(0, 1), (0, 1)], seed=1, tol=1e-9, maxiter=400).fun
    assert found.torque_nm >= best - 2e-3 * abs(best) - 1e-3


def test_reluctance_torque_helps_below_base_speed() -> None:
    """A salient rotor takes id < 0 even while no voltage binds; closed form of most torque per
    ampere: id = (λ - sqrt(λ² + 8 Δ² I²)) / (4 Δ), Δ = Lq - Ld."""
    case = plain_case(**SALIENT)
    m = case.machine
    p = Solver(m).solve(m.r_ohm, 10.0, Supply(109.0, 0.02, 1e9), 300.0)
    delta = m.lq_h - m.ld_h
    root = math.sqrt(m.flux_vs**2 + 8 * delta**2 * 300.0**2)
    assert p.id_a == pytest.approx((m.flux_vs - root) / (4 * delta), rel=1e-9)
    assert p.bound == "current"


def test_no_first_press_compiles_anything() -> None:
    """What set-up compiled is what is called: no entry has a second form after all of them were used."""
    if not compile_now():
        pytest.skip("no compiler here")
    case = plain_case()
    ridden = run(case, Stop(distance_m=100.0))
    assert ridden.series.t_s and envelope(case, 20.0) and top_speed(case).speed_m_s > 0.0
    assert cruise(case, 10.0, 20.0) is not None
    solver, supply = Solver(case.machine), Supply(80.0, 0.05, 100.0)
    solver.solve(case.machine.r_ohm, 100.0, supply, 50.0)
    solver.at_torque(case.machine.r_ohm, 100.0, supply, 1.0)
    assert solver.power(100.0, 10.0, 0.0) != 0.0 and solver.volts_needed(100.0, 10.0, 0.0) > 0.0
    entries = {n: f for n, f in vars(kernel()).items() if hasattr(f, "signatures")}
    assert len(entries) > 10
    assert {n: len(f.signatures) for n, f in entries.items() if len(f.signatures) > 1} == {}


def test_a_descent_has_no_range_and_no_minus() -> None:
    down = cruise(plain_case(body_grade_pct=-8.0), 10.0)
    assert down is not None and down.range_m is None and down.battery_w >= 0.0
    flat = cruise(plain_case(), 10.0)
    assert flat is not None and flat.range_m is not None and flat.range_m > 0.0


@pytest.mark.parametrize("power", [0.0, 500.0, 6000.0, 20_000.0])
@pytest.mark.parametrize("floor", [0.0, 70.0, 92.0])
def test_usable_energy_against_quadrature(power: float, floor: float) -> None:
    """∫ V(P) dQ by SciPy's adaptive quadrature down to the charge where the floor is met."""
    curve, series, r, ah = TYPICAL["nickel_rich"], 26, 0.06, 50.0
    volts = interpolator(curve)

    def terminal(soc: float) -> float:
        e = series * volts(soc)
        inside = e * e - 4 * r * power
        return 0.5 * (e + math.sqrt(inside)) if inside >= 0 else 0.0

    marks = [x for x, _ in curve]
    grid = np.linspace(0.95, 0.0, 200_001)
    alive = [s for s in grid if terminal(s) >= floor and terminal(s) > 0]
    end = min(alive) if alive else 0.95
    kept = [x for x in marks if end < x < 0.95]
    want, _ = quad(terminal, end, 0.95, points=kept or None, limit=400)
    assert usable_wh(curve, series, ah, r, power, floor, 0.95) == pytest.approx(want * ah, rel=1e-4)
