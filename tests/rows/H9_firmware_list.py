"""Before a firmware is changed: versions, media, supply, way back, nothing in between."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Linked, Outside

READY = {
    "wanted": "1.5", "image_hardware": "B", "media_checked": True, "way_back": True, "supply_v": 96.0,
    "wheel_free": True, "charger_off": True,
}  # fmt: skip


def listed(bike: Outside, **params: Any) -> tuple[dict[str, str], bool, str]:
    got = bike.client.get(f"{bike.url}/settings/firmware", params=params)
    assert got.status_code == 200, got.text
    body = got.json()
    return {i["key"]: i["state"] for i in body["items"]}, body["allowed"], str(body["items"])


def test_ordinary_everything_in_place(linked: Linked) -> None:
    linked.post(f"{linked.url}/link/read?why=before the firmware")
    states, allowed, words = listed(linked, **READY)
    assert allowed and states["versions"] == "done" and "From 1.4 to 1.5" in words
    assert states["interrupt"] == "open" and "interrupted" in words


@pytest.mark.parametrize(
    ("change", "key"),
    [
        ({"image_hardware": "C"}, "hardware"),
        ({"supply_v": 40.0}, "supply"),
        ({"way_back": False}, "way_back"),
        ({"media_checked": False}, "media"),
        ({"wanted": "1.4"}, "versions"),
        ({"charger_off": False}, "charger"),
    ],
)
def test_dangerous_each_forbids_it(linked: Linked, change: dict[str, Any], key: str) -> None:
    linked.post(f"{linked.url}/link/read")
    states, allowed, _ = listed(linked, **{**READY, **change})
    assert states[key] == "stop" and not allowed


def test_dangerous_without_a_backup_it_may_not_begin(linked: Linked) -> None:
    states, allowed, words = listed(linked, **READY)
    assert states["backup"] == "stop" and not allowed and "its own defaults" in words


def test_unknown_is_open_and_not_allowed(linked: Linked) -> None:
    linked.post(f"{linked.url}/link/read")
    states, allowed, _ = listed(linked, wanted="1.5")
    assert not allowed and {
        states[k] for k in ("media", "way_back", "supply", "wheel", "hardware")
    } == {"open"}


def test_not_there_no_controller(bike: Outside) -> None:
    states, allowed, _ = listed(bike, **READY)
    assert not allowed and states["versions"] == "open" and states["backup"] == "stop"
