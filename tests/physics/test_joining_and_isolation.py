"""Packs joined in parallel and isolation readings, against circuits solved another way."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from builds import changed
from ninebolt.core.battery.joining import join
from ninebolt.core.bolts.assess import assess
from ninebolt.core.build import Build
from ninebolt.core.guard.isolation import isolation_ohm
from ninebolt.library.demo import brakka, moss


@given(st.floats(1e3, 1e7), st.floats(1e3, 1e7), st.floats(1e4, 1e6), st.floats(48, 400))
def test_two_readings_find_the_weaker_pole(
    r_plus: float, r_minus: float, known: float, volts: float
) -> None:
    """A network of two leaks and a known resistor, solved by node voltages: the formula of UN R100
    gives the leak of the pole whose reading is the smaller one."""

    def reading(plus: float, minus: float) -> float:
        return volts * minus / (plus + minus)

    minus_v, plus_v = reading(r_plus, r_minus), reading(r_minus, r_plus)
    shunted = 1 / (1 / max(r_plus, r_minus) + 1 / known)
    loaded = reading(min(r_plus, r_minus), shunted)
    found = isolation_ohm(volts, max(minus_v, plus_v), loaded, known)
    assert found == pytest.approx(min(r_plus, r_minus), rel=1e-6)


def test_levelling_of_two_packs() -> None:
    """Two capacitors behind resistances, integrated by SciPy: peak, charge, heat, time."""
    f1, f2, r1, r2, v1, v2 = 9000.0, 5000.0, 0.05, 0.08, 84.0, 80.0
    got = join(v1 - v2, r1, r2, f1, f2)

    def rates(t: float, s: np.ndarray) -> list[float]:
        i = (s[0] - s[1]) / (r1 + r2)
        return [-i / f1, i / f2, i * i * (r1 + r2), i]

    done = solve_ivp(
        rates,
        (0, 12 * got.tau_s),
        [v1, v2, 0.0, 0.0],
        rtol=1e-9,
        atol=1e-9,
        t_eval=[0, got.tau_s, 12 * got.tau_s],
    )
    assert got.peak_a == pytest.approx(4.0 / 0.13)
    assert done.y[2, -1] / 3600 == pytest.approx(got.heat_wh, rel=1e-4)
    assert done.y[3, -1] / 3600 == pytest.approx(got.moved_ah, rel=1e-4)
    gap = done.y[0] - done.y[1]
    assert gap[1] / gap[0] == pytest.approx(np.exp(-1), rel=1e-4)
    assert got.share == pytest.approx(r2 / (r1 + r2))


def found(build: Build, bolt: str) -> dict[str, str]:
    return {f.key: f.severity for f in assess(build).bolt(bolt).findings}


def test_leaking_pack_is_a_stop() -> None:
    """Under 100 Ω/V (UN R100): a stop; the demo's dry pack passes."""
    assert "guard.isolation" not in found(brakka(), "guard")
    wet = changed(brakka(), {"guard.isolation.loaded_v": 55.0})
    assert found(wet, "guard")["guard.isolation"] == "stop"


@pytest.mark.parametrize(
    ("volts", "severity"), [(87.4, None), (87.0, None), (86.4, "caution"), (78.0, "stop")]
)
def test_joining_packs_of_unlike_voltage(volts: float, severity: str | None) -> None:
    build = changed(moss(), {"pack.rested_v": 87.4, "pack.other.volts_v": volts})
    assert found(build, "pack").get("pack.join") == severity


def test_charge_from_rested_volts_reads_the_curve_backwards() -> None:
    build = changed(moss(), {"pack.rested_v": 23 * 3.70})
    charge = next(f for f in assess(build).bolt("pack").figures if f.key == "soc_rest")
    assert charge.value == pytest.approx(50.0)
    low, high = (t.value for t in charge.terms[1:])
    assert low is not None and high is not None and low < 50 < high


def test_claims_are_compared_with_volts_times_amp_hours() -> None:
    honest = changed(moss(), {"pack.claimed_wh": 3900})
    boast = changed(moss(), {"pack.claimed_wh": 5200})
    assert "pack.claim" not in found(honest, "pack") and "pack.claim" in found(boast, "pack")


@pytest.mark.parametrize(("volts", "key"), [(99.0, "pack.overfull"), (55.0, "pack.underempty")])
def test_impossible_rested_volts_stop(volts: float, key: str) -> None:
    assert found(changed(moss(), {"pack.rested_v": volts}), "pack")[key] == "stop"
