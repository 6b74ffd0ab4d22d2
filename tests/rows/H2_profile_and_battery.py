"""A profile for each pack: which parameters differ, which pack is connected, and what cannot belong together."""

from __future__ import annotations

import pytest

from rows.conftest import Linked, Outside

SHORT = "Club's short pack"


def test_ordinary_cut_offs_follow_the_number_in_series(bike: Outside) -> None:
    """By hand: 20 cells of 2.80 V empty and 4.20 V full against 23."""
    plan = bike.client.get(
        f"{bike.url}/settings/swap", params={"before": "", "after": SHORT}
    ).json()
    rows = {r["name"]: r for r in plan["rows"]}
    assert rows["lvc_v"]["before"] == pytest.approx(23 * 2.8) and rows["lvc_v"][
        "after"
    ] == pytest.approx(20 * 2.8)
    assert rows["series"]["after"] == 20
    assert rows["line_a"]["after"] == 51  # 85 % of the short pack's 60 A BMS
    assert any("precharge" in s for s in plan["steps"]) and any(
        "under 5 V" in s for s in plan["steps"]
    )
    windows = {w["name"]: w for w in plan["windows"]}
    assert windows[SHORT]["high_v"] == pytest.approx(84.0)


@pytest.mark.parametrize(
    ("volts", "fits"), [(84.0, True), (70.0, True), (96.6, False), (50.0, False), (67.2, True)]
)
def test_dangerous_another_pack_is_refused(bike: Outside, volts: float, fits: bool) -> None:
    plan = bike.client.get(
        f"{bike.url}/settings/swap", params={"after": SHORT, "volts": volts}
    ).json()
    assert plan["verdict"]["fits"] is fits
    if volts == 96.6:
        assert "Nothing is written" in plan["verdict"]["sentence"] and plan["verdict"]["others"]


def test_dangerous_a_16_series_pack_on_a_20_series_cut_off(bike: Outside) -> None:
    bike.put(
        (
            "tune.profiles",
            [
                {"name": "16S", "purpose": "pack", "series": 16},
                {"name": "20S", "purpose": "pack", "series": 20},
            ],
        )
    )
    plan = bike.client.get(
        f"{bike.url}/settings/swap", params={"after": "20S", "volts": 52.0}
    ).json()
    assert plan["verdict"]["fits"] is False and "16S" in plan["verdict"]["sentence"]


def test_volts_that_two_packs_can_have_are_not_proof(bike: Outside) -> None:
    plan = bike.client.get(
        f"{bike.url}/settings/swap", params={"after": SHORT, "volts": 80.0}
    ).json()
    assert plan["verdict"]["fits"] and "check the label" in plan["verdict"]["sentence"]


def test_dangerous_the_link_refuses_the_set_of_another_pack(linked: Linked) -> None:
    """The bench carries 23 cells in series at 96 V; the set is for 20."""
    got = linked.write({"kind": "set", "name": SHORT}, (422,), anyway=True)
    assert "does not belong to this set" in got["message"] and "end at 84.0 V" in got["message"]
    assert linked.get(f"{linked.url}/settings/history") == []


def test_dangerous_the_charger_of_the_other_pack_is_named(linked: Linked) -> None:
    """A charger that ends at 23 cells would take a 20-cell pack past full: said, and its set is not written."""
    own = {"name": "S", "purpose": "pack", "series": 20, "charger_v": 96.6}
    linked.put(("tune.profiles", [own]))
    assert linked.says("tune.profile_charger") == "stop"
    assert "charges past full" in linked.write({"kind": "set", "name": "S"}, (409,))["message"]
    linked.put(("tune.profiles", [{**own, "charger_v": None}]))
    assert linked.says("tune.profile_charger") == "caution"


def test_a_bypassed_bms_raises_the_cut_off(bike: Outside) -> None:
    bike.put(("tune.profiles", [{"name": "B", "purpose": "bypass"}]))
    plan = bike.client.get(f"{bike.url}/settings/swap", params={"after": "B"}).json()
    lvc = next(r for r in plan["rows"] if r["name"] == "lvc_v")
    assert (
        lvc["after"] == pytest.approx(lvc["before"] + 23 * 0.1, abs=0.02) and "no BMS" in lvc["why"]
    )


def test_unknown_cells_in_series_is_no_verdict(bike: Outside) -> None:
    bike.put(("pack.series", None), ("tune.profiles", [{"name": "P", "purpose": "pack"}]))
    plan = bike.client.get(f"{bike.url}/settings/swap", params={"after": "P", "volts": 80.0}).json()
    assert plan["verdict"]["fits"] is False and "not known" in plan["verdict"]["sentence"]


def test_not_there_a_profile_that_is_none(bike: Outside) -> None:
    got = bike.client.get(f"{bike.url}/settings/swap", params={"after": "nope"})
    assert got.status_code == 404 and "nope" in got.json()["message"]


@pytest.mark.parametrize(
    ("volts", "words"),
    [
        (
            60.0,
            "run far below empty, or its BMS is open: read every group, and do not charge it first",
        ),
        (0.4, "its BMS is open"),
        (115.0, "over-charged: charger off"),
        (-92.0, "leads are swapped, or the plug's poles are"),
    ],
)
def test_dangerous_it_may_be_this_very_pack(bike: Outside, volts: float, words: str) -> None:
    """'The pack of no profile here' sent somebody to look for another pack, with a ruined one in hand."""
    got = bike.client.get(
        "/api/builds/brakka-96/settings/swap",
        params={"before": "", "after": "Road", "volts": volts},
    ).json()["verdict"]
    assert not got["fits"] and words in got["sentence"]
