"""Assembly in order with hold points: nothing is ticked over a hold that is open."""

from __future__ import annotations

from typing import Any

from rows.conftest import Outside


def steps(bike: Outside) -> list[dict[str, Any]]:
    return list(bike.body["assessment"]["drawings"]["pack"]["assembly"]["steps"])


def test_ordinary_in_order(bike: Outside) -> None:
    keys = [s["key"] for s in steps(bike)]
    bike.put(("pack.done", keys[:2]))
    assert [s["done"] for s in steps(bike)][:3] == [True, True, False]
    assert bike.says("pack.hold") == ""


def test_dangerous_a_step_over_an_open_hold(bike: Outside) -> None:
    later = next(s["key"] for s in reversed(steps(bike)))
    assert bike.put(("pack.done", [later])).says("pack.hold") in ("stop", "caution")


def test_live_work_carries_its_caution(bike: Outside) -> None:
    assert any(s["hold"] for s in steps(bike)) and all(s["detail"] for s in steps(bike))
    assert any(s["caution"] for s in steps(bike))


def test_an_unknown_step_ticks_nothing(bike: Outside) -> None:
    bike.put(("pack.done", ["no such step"]))
    assert not any(s["done"] for s in steps(bike))


def test_not_there_a_ready_made_pack_is_not_welded(bike: Outside) -> None:
    bike.put(("pack.source", "ready_made"))
    keys = [s["key"] for s in bike.body["assessment"]["drawings"]["pack"]["assembly"]["steps"]]
    assert keys and not {"rings", "groups", "strips"} & set(keys)
