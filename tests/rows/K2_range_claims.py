"""Ranges that 'should be': the Wh/km that they imply, against what rides take."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside


def claim(bike: Outside, status: int = 200, **params: Any) -> dict[str, Any]:
    got = bike.client.get("/api/sums/range-claim", params=params)
    assert got.status_code == status, got.text
    return dict(got.json())


def test_ordinary_by_hand(bike: Outside) -> None:
    c = claim(bike, range_m=75_000, usable_wh=3000)
    assert c["wh_km"] == pytest.approx(40) and c["verdict"] == "usual"


@pytest.mark.parametrize(
    ("km", "verdict"), [(300, "impossible"), (180, "only slow"), (30, "pessimistic")]
)
def test_dangerous_claims(bike: Outside, km: float, verdict: str) -> None:
    assert claim(bike, range_m=km * 1000, usable_wh=3000)["verdict"] == verdict


def test_the_planner_s_own_range_is_usual(bike: Outside) -> None:
    """The demo bike's range against its usable energy."""
    usable = (
        bike.figure("pack", "usable")
        if any(f["key"] == "usable" for b in bike.body["assessment"]["bolts"] for f in b["figures"])
        else 3000
    )
    assert claim(bike, range_m=bike.head["range_m"], usable_wh=usable)["verdict"] in (
        "usual",
        "only slow",
    )


def test_unknown_energy_is_asked_for(bike: Outside) -> None:
    assert "above 0" in claim(bike, 422, range_m=50_000, usable_wh=0)["message"]


def test_not_there_no_range(bike: Outside) -> None:
    claim(bike, 422, range_m=-1, usable_wh=3000)


def test_dangerous_a_range_in_another_unit(bike: Outside) -> None:
    """60 m for 60 km is 60 000 Wh/km: no ride, not a pessimistic one."""
    c = claim(bike, range_m=60, usable_wh=3600)
    assert c["verdict"] == "impossible" and "another unit" in c["sentence"]
    assert "{{60|m}}" in c["sentence"]
