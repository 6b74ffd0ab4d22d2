"""Motors against one another: kW and torque per kilogram; a thick lead is no rating."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside


def motors(bike: Outside) -> list[dict[str, Any]]:
    got = bike.client.get("/api/library/motor")
    assert got.status_code == 200
    return list(got.json())


def figure(part: dict[str, Any], key: str) -> float | None:
    return next(f["value"] for f in part["figures"] if f["key"] == key)


def test_ordinary_torque_per_kilogram_by_hand(bike: Outside) -> None:
    """T = 30 / (π KV) x √3/2 x I below the knee; over the mass."""
    seen = 0
    for part in motors(bike):
        torque, kg, per = (figure(part, k) for k in ("torque", "mass", "nm_kg"))
        if torque and kg:
            assert per == pytest.approx(torque / kg, rel=1e-6)
            seen += 1
    assert seen >= 20


def test_hubs_are_heavier_for_their_watts(bike: Outside) -> None:
    """Common practice, no source: without a reduction a motor needs more iron."""
    by: dict[str, list[float]] = {"hub": [], "mid_drive": []}
    for part in motors(bike):
        watts, kg = figure(part, "label"), figure(part, "mass")
        if watts and kg:
            by[part["doc"]["kind"]].append(watts / kg)
    assert sum(by["mid_drive"]) / len(by["mid_drive"]) > 2 * sum(by["hub"]) / len(by["hub"])


def test_dangerous_thin_leads_are_named_and_thick_ones_are_no_rating(bike: Outside) -> None:
    bike.put(("drive.motor.lead_m2", "5 mm2"))
    assert bike.says("drive.lead") == "caution" and "no rating" in bike.words("drive.lead")
    label = bike.says("drive.over_label")
    bike.put(("drive.motor.lead_m2", "50 mm2"))
    assert bike.says("drive.lead") == "" and bike.says("drive.over_label") == label


def test_unknown_mass_has_no_per_kilogram(bike: Outside) -> None:
    part = {"name": "Barn find", "label_w": 3000, "kv_rpm_v": 20}
    assert bike.client.post("/api/library/motor", json={"doc": part}).status_code == 201
    rows = [p for p in motors(bike) if p["name"] == "Barn find"]
    assert len(rows) == 1 and figure(rows[0], "nm_kg") is None


def test_not_there_an_unknown_kind_is_refused(bike: Outside) -> None:
    assert bike.client.get("/api/library/engine").status_code == 404
