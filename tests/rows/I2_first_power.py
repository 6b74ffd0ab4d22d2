"""First power as a ladder: small fuse, wheel up, low amps; no full throttle first."""

from __future__ import annotations

from rows.conftest import Outside
from rows.I1_cold_checks import enter, gates


def up_to(bike: Outside, last: str) -> None:
    """Every gate before `last`, passed."""
    for key, s in gates(bike).items():
        if key == last:
            return
        g = s["gate"]
        if g["quantity"]:
            low, high = g["low"], g["high"]
            value = low * 1.1 if high is None else high * 0.5 if low is None else 0.5 * (low + high)
            enter(bike, key, value=value)
        else:
            enter(bike, key, passed=True)


def test_ordinary_the_order_of_the_ladder(bike: Outside) -> None:
    keys = list(gates(bike))
    ladder = [
        "polarity",
        "isolation",
        "small_fuse",
        "drop_out",
        "throttle_rest",
        "identified",
        "free_amps",
        "slow_ride",
        "full_run",
        "retorque",
    ]
    assert [k for k in keys if k in ladder] == ladder


def test_all_passed_is_commissioned(bike: Outside) -> None:
    up_to(bike, "")
    assert bike.says("prove.gates_open") == ""
    assert all(s["state"] == "passed" for s in gates(bike).values())


def test_dangerous_no_full_run_before_the_wheel_was_free(bike: Outside) -> None:
    assert "not passed" in enter(bike, "full_run", 409, passed=True)["message"]


def test_dangerous_a_blown_small_fuse_ends_it(bike: Outside) -> None:
    up_to(bike, "small_fuse")
    enter(bike, "small_fuse", passed=False, note="blew at once")
    assert bike.says("prove.gate.small_fuse") == "stop" and "a short behind the fuse" in bike.words(
        "prove.gate.small_fuse"
    )
    enter(bike, "drop_out", 409, value=0.2)


def test_dangerous_a_throttle_that_reads_full_at_rest(bike: Outside) -> None:
    up_to(bike, "throttle_rest")
    enter(bike, "throttle_rest", value=4.1)
    assert bike.says("prove.gate.throttle_rest") == "stop"


def test_dangerous_it_stays_live_after_the_key(bike: Outside) -> None:
    up_to(bike, "drop_out")
    enter(bike, "drop_out", value=91.0)
    assert "contactor welded" in bike.words("prove.gate.drop_out")


def test_unknown_ends_of_the_throttle_take_the_usual_window(bike: Outside) -> None:
    bike.put(("tune.throttle_rest_v", None))
    g = gates(bike)["throttle_rest"]["gate"]
    assert (g["low"], g["high"]) == (0.6, 1.1)


def test_not_there_a_hub_motor_has_no_chain(bike: Outside) -> None:
    bike.put(("drive.motor.kind", "hub"))
    assert "chain" not in gates(bike)


def test_dangerous_a_reading_that_no_meter_gives_passes_nothing(bike: Outside) -> None:
    """A turning wheel takes some amps, a ridden motor is not colder than the coldest day: the meter reads nothing."""
    up_to(bike, "free_amps")
    enter(bike, "free_amps", value=0.0)
    assert bike.says("prove.gate.free_amps") == "stop"
    enter(bike, "free_amps", value=1.5)
    up_to(bike, "slow_ride")
    enter(bike, "slow_ride", value=-300.0)
    assert bike.says("prove.gate.slow_ride") == "stop"
