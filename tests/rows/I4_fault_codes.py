"""Fault codes: meaning, blinks, causes in order, what to measure; expected ones told from real ones."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Linked, Outside


def codes(bike: Outside, doing: str = "") -> dict[int, dict[str, Any]]:
    got = bike.client.get("/api/link/codes", params={"doing": doing})
    return {c["code"]["number"]: c for c in got.json()}


@pytest.mark.parametrize(
    ("fault", "throttle", "label"),
    [("hall-dead", 0.5, "hall signal wrong"), ("hall-order", 0.9, "rotor order does not fit")],
)
def test_ordinary_a_fault_shows_its_code_and_where_to_measure(
    linked: Linked, fault: str, throttle: float, label: str
) -> None:
    linked.bench("fault", name=fault, on=True)
    linked.written()
    linked.hand(stand=True, throttle=throttle)
    linked.bench("wait", seconds=2)
    seen = linked.client.app.state.link.live()  # type: ignore[attr-defined]
    assert seen.fault == label and seen.causes and seen.state == "fault"
    code = next(c["code"] for c in codes(linked).values() if c["code"]["label"] == label)
    points = {p["key"] for p in linked.bench("things")["points"]}
    assert code["measure"] and set(code["measure"]) <= points


def test_every_code_has_causes_and_blinks_of_its_own(bike: Outside) -> None:
    found = [c["code"] for n, c in codes(bike).items() if n]
    assert all(c["causes"] and c["measure"] for c in found)
    assert len({tuple(c["blinks"]) for c in found}) == len(found)


def test_expected_codes_are_told_from_real_ones(bike: Outside) -> None:
    assert codes(bike, "identification")[3]["expected"] is True
    assert codes(bike, "identification")[7]["expected"] is False
    assert codes(bike)[3]["expected"] is False


def test_dangerous_a_short_in_the_throttle_is_a_fault_and_no_drive(linked: Linked) -> None:
    """Its fault limit is set over what full twist reads: nothing tells a short. Within, it is a fault."""
    linked.written()
    linked.bench("fault", name="throttle-range", on=True)
    linked.put(("tune.chosen", [{"name": "throttle_fault_high_v", "value": 3.0}]))
    linked.written(anyway=True)
    linked.hand(stand=True, throttle=1.0)
    linked.bench("wait", seconds=1)
    assert linked.client.app.state.link.live().fault == "throttle out of range"  # type: ignore[attr-defined]


def test_unknown_a_code_that_nobody_described(bike: Outside) -> None:
    from ninebolt.core.setting.codes import decoded

    assert "not in this controller's table" in decoded(99).label and decoded(99).causes


def test_not_there_no_fault_no_words(linked: Linked) -> None:
    linked.written()
    seen = linked.client.app.state.link.live()  # type: ignore[attr-defined]
    assert seen.fault == "" and seen.causes == ()
