"""Balance leads: each one cell above the one before, all of them read, before the BMS is connected."""

from __future__ import annotations

from rows.conftest import Outside


def taps(n: int, volts: float = 3.6) -> list[list[float]]:
    return [[i + 1, round(volts * (i + 1), 3)] for i in range(n)]


def test_ordinary(bike: Outside) -> None:
    bike.put(("pack.tap_v", taps(23)))
    assert bike.says("pack.taps") == "" and bike.says("pack.taps_unread") == ""


def test_dangerous_two_leads_swapped(bike: Outside) -> None:
    rows = taps(23)
    rows[7][1], rows[8][1] = rows[8][1], rows[7][1]
    assert bike.put(("pack.tap_v", rows)).says("pack.taps") == "stop"


def test_dangerous_one_lead_dead(bike: Outside) -> None:
    rows = taps(23)
    rows[4][1] = 0.0
    assert bike.put(("pack.tap_v", rows)).says("pack.taps") == "stop"


def test_unread_leads_are_said(bike: Outside) -> None:
    assert bike.put(("pack.tap_v", taps(9))).says("pack.taps_unread") in ("caution", "stop")


def test_dangerous_a_lead_at_half_height(bike: Outside) -> None:
    rows = taps(23)
    rows[6][1] = rows[5][1] + 1.8
    assert bike.put(("pack.tap_v", rows)).says("pack.taps") == "stop"


def test_not_there_no_lead_read_is_not_silent(bike: Outside) -> None:
    """Also where there is no BMS to plug in: then it is the BMS that is missing."""
    assert bike.put(("pack.tap_v", [])).says("pack.taps_open") == "note"
    bike.put(("guard.bms.presence", "not there"))
    assert bike.says("pack.taps_open") == "" and bike.says("guard.no_bms") == "stop"


def test_what_is_wrong_with_a_lead_is_told_apart(bike: Outside) -> None:
    """By hand: 3.6 V a cell; what an electrician reads from the two steps beside the lead."""
    series = bike.body["doc"]["pack"]["series"]
    good = [round(3.6 * k, 3) for k in range(series + 1)]

    def words(changed: dict[int, float]) -> str:
        bike.put(("pack.tap_v", [[k, changed.get(k, v)] for k, v in enumerate(good)]))
        assert bike.says("pack.taps") == "stop"
        return bike.words("pack.taps")

    assert "hangs on nothing" in words({7: 0.0})
    assert "bad joint of the lead" in words({7: good[7] - 1.8})
    assert "leads 5 and 6 are swapped" in words({5: good[6], 6: good[5]})
    assert "one point" in words({9: good[8]} | {k: good[k - 1] for k in range(10, series + 1)})
    assert "cell is dead" in words({k: good[k] - 2.4 for k in range(10, series + 1)})
    assert "single groups" in words(dict.fromkeys(range(series + 1), 3.6))
