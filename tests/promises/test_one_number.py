"""A figure that stands in more than one place is the same in all of them."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

BUILDS = ("brakka-96", "moss-84", "pip-72")


def seen(client: TestClient, build: str) -> dict[str, Any]:
    body = dict(client.get(f"/api/builds/{build}").json())
    bolts = body["assessment"]["bolts"]
    body["figures"] = {f"{b['bolt']}.{f['key']}": f["value"] for b in bolts for f in b["figures"]}
    return body


def check(body: dict[str, Any], label: str) -> float | None:
    rows = body["assessment"]["drawings"]["goal"]["checks"]
    return next((c["have"] for c in rows if c["label"] == label), None)


def alike(places: dict[str, float | None]) -> None:
    """All places that show it show the same."""
    values = {k: v for k, v in places.items() if v is not None}
    assert len(values) > 1, f"only {values}"
    first = next(iter(values.values()))
    assert all(v == pytest.approx(first, rel=1e-9) for v in values.values()), values


@pytest.mark.parametrize("build", BUILDS)
def test_top_speed(client: TestClient, build: str) -> None:
    b = seen(client, build)
    a, head = b["assessment"], b["assessment"]["headline"]
    rung = next((r for r in a["drawings"]["gear"]["rungs"] if r["current"]), None)
    rows = client.get("/api/beside", params={"id": [build, *(x for x in BUILDS if x != build)]})
    beside = next(r for r in rows.json()["rows"] if r["label"] == "Top speed")["cells"][0]["value"]
    alike(
        {
            "headline": head["top_speed_m_s"],
            "drive": a["drawings"]["drive"]["top_speed_m_s"],
            "prove": a["drawings"]["prove"]["top_predicted_m_s"],
            "gear": rung["top_speed_m_s"] if rung else None,
            "goal": check(b, "Top speed"),
            "side by side": beside,
            "choke": client.get(f"/api/builds/{build}/choke").json()["now"]["top_speed_m_s"],
            "card": next(c for c in client.get("/api/builds").json() if c["id"] == build)[
                "headline"
            ]["top_speed_m_s"],
        }
    )


@pytest.mark.parametrize("build", BUILDS)
def test_where_the_curves_cross_is_the_top_speed(client: TestClient, build: str) -> None:
    """Straight between the rows of the picture; to a row of it."""
    d = seen(client, build)["assessment"]["drawings"]["drive"]
    spare = [t - road for t, road in zip(d["held_n"], d["load_n"], strict=True)]
    i = next(i for i in range(1, len(spare)) if spare[i] <= 0 < spare[i - 1])
    step = d["speed_m_s"][i] - d["speed_m_s"][i - 1]
    cross = d["speed_m_s"][i - 1] + step * spare[i - 1] / (spare[i - 1] - spare[i])
    assert cross == pytest.approx(d["top_speed_m_s"], abs=0.25 * step)


@pytest.mark.parametrize("build", BUILDS)
def test_time_power_range_and_mass(client: TestClient, build: str) -> None:
    b = seen(client, build)
    a, head = b["assessment"], b["assessment"]["headline"]
    alike({"headline": head["mass_kg"], "donor": b["figures"]["donor.bike_mass"],
           "drawing": a["drawings"]["donor"]["bike_kg"], "goal": check(b, "Mass")})  # fmt: skip
    alike({"headline": head["peak_wheel_w"], "drive": b["figures"]["drive.peak_wheel"],
           "goal": check(b, "Power")})  # fmt: skip
    if check(b, "Range") is not None:
        alike({"headline": head["range_m"], "goal": check(b, "Range")})
    if head["to_time_s"] is not None and check(b, "Time to speed") is not None:
        alike({"headline": head["to_time_s"], "goal": check(b, "Time to speed")})
        row = [r for r in a["drawings"]["prove"]["rows"] if r["kind"] == "speed"]
        times = {r["name"]: r["predicted_s"] for r in row}
        assert any(t == pytest.approx(head["to_time_s"], rel=2e-3) for t in times.values() if t)


@pytest.mark.parametrize("build", BUILDS)
def test_line_amps(client: TestClient, build: str) -> None:
    """One advice: Guard's figure, its drawing, the recommended set, and every fix that sets it."""
    b = seen(client, build)
    a = b["assessment"]
    tune = next(r for r in a["drawings"]["tune"]["rows"] if r["name"] == "line_a")
    fixes = {
        f["key"]: c["value"]["amount"]
        for bolt in a["bolts"]
        for f in bolt["findings"]
        for x in f["fixes"]
        for c in x["changes"]
        if c["path"] == "drive.controller.line_a"
    }
    alike({"figure": b["figures"]["guard.advice"], "drawing": a["drawings"]["guard"]["advice"]["amps"],
           "tune": tune["recommended"], **fixes})  # fmt: skip


@pytest.mark.parametrize("build", BUILDS)
def test_torque_over_radius_is_the_thrust_and_energies_are_named(
    client: TestClient, build: str
) -> None:
    b = seen(client, build)
    a, f = b["assessment"], b["figures"]
    rung = next(r for r in a["drawings"]["gear"]["rungs"] if r["current"])
    assert f["gear.wheel_torque"] / f["gear.radius"] == pytest.approx(rung["launch_n"], rel=1e-9)
    assert f["drive.launch"] <= rung["launch_n"] * (1 + 1e-9)
    assert f["pack.usable"] < f["pack.energy"]
    labels = [x["label"] for bolt in a["bolts"] if bolt["bolt"] == "pack" for x in bolt["figures"]]
    assert len(labels) == len(set(labels))
    path = a["drawings"]["guard"]["links"]
    assert f["guard.path_ohm"] > 0 and path


def test_safe_to_touch_is_one_number(client: TestClient) -> None:
    """Under 5 V, measured, in every sentence that speaks of touching."""
    for build in BUILDS:
        said = str(seen(client, build)["assessment"])
        for words in said.split("before a hand goes in")[:-1]:
            assert "{{5|v}}" in words[-260:]
