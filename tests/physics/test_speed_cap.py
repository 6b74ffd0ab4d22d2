"""A speed cap in the run: closed forms on both sides of it."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest

from cases import plain_case
from ninebolt.compiled import compile_now
from ninebolt.core.kernel import plainly
from ninebolt.core.simulate.run import Stop, reached_s, run
from ninebolt.core.simulate.steady import cruise, envelope, top_speed
from ninebolt.core.simulate.thrust import instant
from ninebolt.core.vehicle.road import road_load
from ninebolt.units import GRAVITY_M_S2

QUARTER = Stop(distance_m=402.336, seconds=600.0)


@pytest.mark.parametrize("cap", [1.0, 12.5, 20.0])
def test_up_to_the_cap_as_without_it_and_at_the_cap_from_there(cap: float) -> None:
    """Closed form: the rest of the way at the cap's speed; the ground gets what the road takes."""
    case = plain_case()
    free, held = run(case, QUARTER), run(dataclasses.replace(case, cap_m_s=cap), QUARTER)
    at = reached_s(free, cap)
    assert at is not None and at == pytest.approx(reached_s(held, cap), rel=1e-4)
    x_at = float(np.interp(at, free.rows[:, 0], free.rows[:, 1]))
    assert held.rows[-1, 0] == pytest.approx(at + (402.336 - x_at) / cap, rel=2e-3)
    assert held.rows[:, 2].max() == pytest.approx(cap, abs=2e-3)
    assert held.books_close
    late = held.rows[-1]
    assert late[4] == pytest.approx(road_load(case.body, cap).total_n, rel=1e-3)
    assert late[3] == pytest.approx(0.0, abs=1e-6)


def test_the_top_speed_is_the_lesser_of_cap_and_what_it_reaches() -> None:
    case = plain_case()
    top = top_speed(case)
    capped = top_speed(dataclasses.replace(case, cap_m_s=0.5 * top.speed_m_s))
    assert capped.speed_m_s == pytest.approx(0.5 * top.speed_m_s, rel=1e-9)
    assert capped.choke == "throttle"
    above = top_speed(dataclasses.replace(case, cap_m_s=1.1 * top.speed_m_s))
    assert above == top
    over = envelope(dataclasses.replace(case, cap_m_s=10.0), 20.0, 21)
    assert all(x > 0.0 for x in over.thrust_n[:10]) and all(x <= 0.0 for x in over.thrust_n[11:])
    assert set(over.choke[11:]) == {"throttle"}
    at_cap = cruise(dataclasses.replace(case, cap_m_s=10.0), 10.0)
    assert at_cap is not None and at_cap == cruise(case, 10.0)
    assert cruise(dataclasses.replace(case, cap_m_s=10.0), 11.0) is None


def test_a_descent_pushes_past_the_cap_and_nothing_brakes_for_it() -> None:
    """A cap takes thrust away and adds none: on the slope the bike rolls to where drag holds it.
    Closed form of that speed with the motor's drag left out."""
    case = plain_case(body_grade_pct=-12.0, drag_nm=0.0, drag_nm_s_rad=0.0, cap_m_s=6.0)
    body = case.body
    weight, slope = body.mass_kg * GRAVITY_M_S2, math.atan(0.12)
    push = weight * (math.sin(slope) - body.crr * math.cos(slope))
    rolls = math.sqrt(push / (0.5 * body.air_kg_m3 * body.cda_m2))
    done = run(case, Stop(distance_m=1e5, seconds=400.0))
    assert done.rows[-1, 2] == pytest.approx(rolls, rel=1e-3)
    assert (
        instant(case, 6.005).line_a
        <= instant(dataclasses.replace(case, cap_m_s=math.inf), 6.005).line_a
    )
    assert instant(case, 8.0).thrust_n == pytest.approx(0.0, abs=0.5)


def test_plain_and_compiled_agree_at_a_cap() -> None:
    if not compile_now():
        pytest.skip("numba is not there")
    for grade in (0.0, 10.0, -8.0):
        case = plain_case(body_grade_pct=grade, cap_m_s=9.0)
        fast, top = run(case, QUARTER), top_speed(case)
        with plainly():
            slow, slow_top = run(case, QUARTER), top_speed(case)
        assert len(fast.rows) == len(slow.rows) and fast.ended == slow.ended
        np.testing.assert_allclose(fast.rows, slow.rows, rtol=1e-9, atol=1e-9)
        assert top.speed_m_s == pytest.approx(slow_top.speed_m_s, rel=1e-9)
