"""The throttle's readings: rest, full, dead zone, fault ranges; what a broken wire and a short would do."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Linked, Outside


def rows(bike: Outside) -> dict[str, dict[str, Any]]:
    return {r["name"]: r for r in bike.body["assessment"]["drawings"]["tune"]["rows"]}


def test_ordinary_both_ends_and_the_fault_limits_around_them(bike: Outside) -> None:
    """0.88 V at rest, 4.10 V at full: 0.05 V inside each end; faults a quarter volt outside."""
    r = rows(bike)
    assert r["throttle_low_v"]["recommended"] == pytest.approx(0.93)
    assert r["throttle_high_v"]["recommended"] == pytest.approx(4.05)
    assert r["throttle_fault_low_v"]["recommended"] == pytest.approx(0.63)
    assert r["throttle_fault_high_v"]["recommended"] == pytest.approx(4.35)


@pytest.mark.parametrize(
    ("name", "value", "severity"),
    [
        ("throttle_low_v", 0.7, "stop"),  # under the reading at rest: it drives with the hand off
        ("throttle_low_v", 2.0, "caution"),
        ("throttle_high_v", 4.6, "caution"),
        ("throttle_high_v", 2.5, "caution"),
        ("throttle_fault_low_v", 0.9, "caution"),
        ("throttle_fault_high_v", 5.4, "stop"),  # over the supply: a short is full throttle
    ],
)
def test_dangerous_ends_on_either_side(
    bike: Outside, name: str, value: float, severity: str
) -> None:
    bike.put(("tune.chosen", [{"name": name, "value": value}]))
    assert bike.says(f"tune.param.{name}") == severity


def test_dangerous_learned_too_low_it_drives_by_itself_on_the_bench(linked: Linked) -> None:
    linked.put(
        (
            "tune.chosen",
            [
                {"name": "throttle_low_v", "value": 0.4},
                {"name": "throttle_fault_low_v", "value": 0.1},
            ],
        )
    )
    linked.written(anyway=True)
    linked.hand(stand=True, throttle=0.0)
    linked.bench("wait", seconds=3)
    assert linked.bench("state")["state"]["speed_m_s"] > 0.5


def test_a_range_learned_wrong_never_gives_all(linked: Linked) -> None:
    """The bench's throttle ends at about 3.1 V while 4.05 V is set."""
    linked.written()
    linked.bench("fault", name="throttle-range", on=True)
    linked.hand(stand=True, throttle=1.0)
    linked.bench("wait", seconds=1)
    seen = linked.client.app.state.link.live().values  # type: ignore[attr-defined]
    assert seen["throttle_pct"] < 80 and seen["throttle_v"] < 3.4


@pytest.mark.parametrize(
    ("full", "supply", "says"), [(4.9, 5.0, "stop"), (4.1, 5.0, ""), (3.2, 3.3, "stop")]
)
def test_dangerous_a_short_reads_as_full(
    bike: Outside, full: float, supply: float, says: str
) -> None:
    bike.put(("tune.throttle_full_v", full), ("tune.throttle_supply_v", supply))
    assert bike.says("tune.throttle_wire.full") == says


def test_unknown_is_asked_for_and_leaves_the_controller_s_own(bike: Outside) -> None:
    bike.put(("tune.throttle_rest_v", None), ("tune.throttle_full_v", None))
    assert bike.says("tune.throttle_open") == "caution"
    assert not any(n.startswith("throttle_") for n in rows(bike))


def test_not_there_a_throttle_that_hardly_moves(bike: Outside) -> None:
    bike.put(("tune.throttle_full_v", 1.5))
    assert bike.says("tune.throttle_span") == "caution"
