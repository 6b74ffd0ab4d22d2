"""Salvaged cells: what is measured decides; what is not tested is refused."""

from __future__ import annotations

import io

from rows.conftest import Outside


def sort(bike: Outside, text: str, **rules: float) -> tuple[int, dict]:  # type: ignore[type-arg]
    got = bike.client.post(
        "/api/sort",
        files={"file": ("c.csv", io.BytesIO(text.encode()))},
        data={"series": 2, "parallel": 2, **rules},
    )
    return got.status_code, got.json()


HEAD = "cell,capacity [Ah],ir [mohm]"
GOOD = "\n".join(f"g{i},2.5,22" for i in range(5))


def rejected(bike: Outside, row: str, **rules: float) -> dict[str, str]:
    status, done = sort(bike, f"{HEAD}\n{GOOD}\n{row}\n", **rules)
    assert status == 200, done
    return {r["id"]: r["reason"] for r in done["rejects"]}


def test_ordinary(bike: Outside) -> None:
    assert rejected(bike, "x,2.4,23") == {}


def test_dangerous_too_little_capacity(bike: Outside) -> None:
    assert "x" in rejected(bike, "x,1.1,22", capacity_min_ah=2.0)


def test_dangerous_resistance(bike: Outside) -> None:
    assert "x" in rejected(bike, "x,2.5,90", r_max_ohm=0.05)


def test_untested_is_refused(bike: Outside) -> None:
    assert "x" in rejected(bike, "x,,22")


def test_salvaged_cells_without_a_test_are_said(bike: Outside) -> None:
    bike.put(("pack.source", "salvaged_cells"))
    assert bike.says("pack.untested") in ("caution", "stop")
