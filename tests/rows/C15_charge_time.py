"""How long a charge takes, and what the outlet gives."""

from __future__ import annotations

import pytest

from rows.conftest import Outside


def test_ordinary_longer_than_amp_hours_over_amps(bike: Outside) -> None:
    """45 Ah at 10 A is 4.5 h; the taper makes it longer, and not twice as long."""
    seconds = bike.figure("guard", "charge_s")
    assert seconds is not None and 4.5 * 3600 < seconds < 9 * 3600


def test_half_the_amps_take_longer(bike: Outside) -> None:
    before = bike.figure("guard", "charge_s")
    after = bike.put(("guard.charger.i_a", 5)).figure("guard", "charge_s")
    assert before is not None and after is not None and after > 1.8 * before


def test_dangerous_too_strong_for_the_cells(bike: Outside) -> None:
    assert bike.put(("guard.charger.i_a", 39)).says("guard.charger_cells") != ""


def test_unknown(bike: Outside) -> None:
    assert bike.put(("guard.charger.i_a", None)).figure("guard", "charge_s") is None


def test_not_there_no_charger_no_time(bike: Outside) -> None:
    bike.put(("guard.charger.presence", "not there"))
    assert bike.figure("guard", "charge_s") is None and bike.says("guard.no_charger") == "note"


def test_a_slow_charger_takes_its_hours(bike: Outside) -> None:
    """Closed form: 45 Ah at 1 A is 45 h at constant current; the volts are never held, so no taper ends it."""
    seconds = bike.put(("guard.charger.i_a", 1)).figure("guard", "charge_s")
    assert seconds == pytest.approx(45 * 3600, rel=1e-3)
    assert bike.says("guard.charge_long") == "note"
    assert bike.put(("guard.charger.i_a", 10)).says("guard.charge_long") == ""


def test_dangerous_an_end_current_over_the_charge_current_is_said(bike: Outside) -> None:
    bike.put(("guard.charger.cut_a", 20))
    assert bike.says("guard.order.charger") == "caution"
    seconds = bike.figure("guard", "charge_s")
    assert seconds is not None and seconds > 3 * 3600


def test_unlike_any_charger(bike: Outside) -> None:
    assert bike.put(("guard.charger.efficiency", 0.4)).says("guard.usual.efficiency") == "caution"
