"""Precharge: the resistor, how long, and nothing closed without."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    """Time to 95 % is 3 RC (closed form)."""
    for key in ("no_precharge", "precharge_blank", "precharge_w"):
        assert bike.says(f"guard.{key}") == "", key
    assert bike.figure("guard", "precharge_s")


def test_dangerous_the_contactor_is_sooner(bike: Outside) -> None:
    bike.put(("guard.isolator.kind", "contactor"), ("guard.precharge.delay_s", 0.1))
    assert bike.says("guard.precharge_wait") == "stop"


def test_dangerous_a_load_that_holds_the_capacitors_down(bike: Outside) -> None:
    assert bike.put(("guard.precharge.load_w", 60)).says("guard.precharge_load") in (
        "stop",
        "caution",
    )


def test_unknown_capacitance(bike: Outside) -> None:
    bike.put(("drive.controller.c_bus_farad", None))
    assert bike.says("guard.precharge_blank") != ""


def test_not_there(bike: Outside) -> None:
    """A breaker's contacts pit; a contactor's weld shut, which is worse."""
    bike.put(("guard.precharge.presence", "not there"))
    assert bike.says("guard.no_precharge") == "caution"
    assert bike.put(("guard.isolator.kind", "contactor")).says("guard.no_precharge") == "stop"
