"""Hub or mid-drive: by criteria, made equal where asked, no verdict."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside


def beside(bike: Outside, *equal: str) -> dict[str, Any]:
    got = bike.client.get("/api/beside", params={"id": ["moss-84", "pip-72"], "equal": list(equal)})
    assert got.status_code == 200, got.text
    return dict(got.json())


def row(made: dict[str, Any], label: str) -> list[dict[str, Any]]:
    return list(next(r for r in made["rows"] if r["label"] == label)["cells"])


def test_ordinary_criteria_of_both(bike: Outside) -> None:
    made = beside(bike)
    assert [c["words"] for c in row(made, "Chain to oil, line up and wear")] == ["yes", "no"]
    assert [c["value"] for c in row(made, "Motor's mass in the wheel")] == [0.0, 12.0]
    labels = {r["label"] for r in made["rows"]}
    assert {
        "Thrust from rest",
        "Full amps held, from cold",
        "Energy at the ride's speed",
        "Ratio",
    } <= labels
    assert not any("verdict" in k or "winner" in k for k in made)


def test_made_equal_it_is_equal_and_said(bike: Outside) -> None:
    made = beside(bike, "mass", "energy", "rider", "ride", "conditions")
    assert [e["key"] for e in made["equal"]] == ["rider", "ride", "conditions", "energy", "mass"]
    words = " ".join(w for e in made["equal"] for w in e["words"])
    assert "ballast" in words and "in parallel" in words
    usable = [c["value"] for c in row(made, "Energy, usable")]
    assert usable[0] == pytest.approx(usable[1], rel=0.08)  # stored alike; usable hangs on the draw
    assert made["unlike"] == []


def test_curves_cross_where_they_are_said_to(bike: Outside) -> None:
    made = beside(bike, "mass", "energy", "ride", "rider")
    c = made["crossings"][0]
    runs = {r["name"]: r for r in made["runs"]}

    def thrust(name: str, v: float) -> float:
        xs, ys = runs[name]["speed_m_s"], runs[name]["thrust_n"]
        i = next(k for k in range(1, len(xs)) if xs[k] >= v)
        u = (v - xs[i - 1]) / (xs[i] - xs[i - 1])
        return float(ys[i - 1] * (1 - u) + ys[i] * u)

    v = c["speed_m_s"]
    assert thrust(c["below"], v) == pytest.approx(thrust(c["above"], v), rel=0.02)
    assert thrust(c["below"], v * 0.8) > thrust(c["above"], v * 0.8)
    assert thrust(c["below"], v * 1.1) < thrust(c["above"], v * 1.1)


def test_dangerous_a_bike_that_cuts_out_has_no_time_to_win_with(bike: Outside) -> None:
    cells = row(beside(bike), "Time to speed")
    assert cells[1]["value"] is None and "opens" in cells[1]["words"] and not cells[0]["best"]


def test_unknown_a_wish_that_cannot_be_made_equal_is_refused(bike: Outside) -> None:
    got = bike.client.get("/api/beside", params={"id": ["moss-84", "pip-72"], "equal": ["luck"]})
    assert got.status_code == 422 and "luck" in got.json()["message"]


def test_not_there_a_build_without_a_motor_has_no_run(bike: Outside) -> None:
    bike.put(("drive.motor", {}))
    made = beside(bike, "mass")
    assert made["runs"][0] is None and made["runs"][1] is not None


def test_a_what_if_against_itself(bike: Outside) -> None:
    bike.client.post(f"{bike.url}/trial")
    bike.put(("gear.rear_teeth", 60))
    got = bike.client.get("/api/beside", params={"id": ["moss-84", "moss-84@kept"]}).json()
    ratio = row(got, "Ratio")
    assert ratio[0]["value"] == pytest.approx(5.0) and ratio[1]["value"] == pytest.approx(56 / 12)
