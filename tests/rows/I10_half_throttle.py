"""Strongest at half throttle, or pushing on after the hand is shut: which parameters are suspect."""

from __future__ import annotations

import pytest

from rows.conftest import Linked, Outside


def test_ordinary_neither_is_said_of_a_sound_set(bike: Outside) -> None:
    assert bike.says("tune.curve_falls") == "" and bike.says("tune.param.ramp_down_s") == ""


def test_dangerous_strongest_at_half_throttle(bike: Outside) -> None:
    bike.put(("tune.throttle", [[0, 0], [0.5, 1], [1, 0.6]]))
    assert bike.says("tune.curve_falls") == "stop" and "60%" in bike.words("tune.curve_falls")


def test_dangerous_it_pushes_on_after_the_hand_is_shut(bike: Outside) -> None:
    bike.put(("tune.chosen", [{"name": "ramp_down_s", "value": 1.5}]))
    assert bike.says("tune.param.ramp_down_s") == "caution"
    assert "pushes on" in bike.words("tune.param.ramp_down_s")


@pytest.mark.parametrize(("seconds", "pushes"), [(0.1, False), (1.5, True)])
def test_on_the_bench_a_slow_ramp_pushes_on(linked: Linked, seconds: float, pushes: bool) -> None:
    linked.put(("tune.chosen", [{"name": "ramp_down_s", "value": seconds}]))
    linked.written(anyway=True)
    linked.hand(stand=False, throttle=1.0)
    linked.bench("wait", seconds=3)
    linked.bench("record", on=True)
    linked.bench("wait", seconds=0.2)
    linked.hand(throttle=0.0)
    linked.bench("wait", seconds=0.5)
    got = linked.bench("record", on=False)  # by the bike's clock, however slow the machine is
    ridden = dict(zip(got["columns"], zip(*got["data"], strict=True), strict=True))
    shut = next(i for i, x in enumerate(ridden["throttle"]) if x < 0.1)
    later = next(i for i, t in enumerate(ridden["t_s"]) if t >= ridden["t_s"][shut] + 0.2)
    assert (ridden["phase_a"][later] > 0.4 * ridden["phase_a"][0]) is pushes


def test_dangerous_creep_is_a_stop(bike: Outside) -> None:
    bike.put(("tune.chosen", [{"name": "creep_pct", "value": 5}]))
    assert bike.says("tune.param.creep_pct") == "stop"


def test_unknown_throttle_ends_are_asked_for(bike: Outside) -> None:
    bike.put(("tune.throttle_full_v", None))
    assert bike.says("tune.throttle_open") == "caution" and "at full" in bike.words(
        "tune.throttle_open"
    )


def test_not_there_a_flat_curve_has_no_peak(bike: Outside) -> None:
    bike.put(("tune.throttle", [[0, 0], [1, 1]]))
    assert bike.says("tune.curve_falls") == "" and bike.says("tune.curve_push") == ""
