"""Donor and Goal: scale, stock, candidates, running gear, duties, voltage classes, verdicts."""

from __future__ import annotations

import dataclasses
import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from builds import assess, changed
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import look
from ninebolt.core.bolts.assess import Assessment
from ninebolt.core.bolts.donor.bolt import DonorDrawing
from ninebolt.core.bolts.goal.bolt import GoalDrawing
from ninebolt.core.bolts.goal.need import need_of
from ninebolt.core.build import Build
from ninebolt.core.codec import encode
from ninebolt.core.logs.ride import RideReport
from ninebolt.core.vehicle.tyre import symbol_speed
from ninebolt.library.demo import brakka, moss, pip
from ninebolt.services.house import bundled_shelf


def donor(a: Assessment) -> DonorDrawing:
    assert a.drawings.donor is not None
    return a.drawings.donor


def goal(a: Assessment) -> GoalDrawing:
    assert a.drawings.goal is not None
    return a.drawings.goal


# The scale


@settings(max_examples=10)
@given(st.floats(45, 70), st.floats(50, 80))
def test_the_scale_s_word_makes_ledger_and_scale_agree(front: float, rear: float) -> None:
    """After the fix total and axle split are the scale's; a later change adds to them."""
    read = changed(brakka(), {"donor.front_scale_kg": front, "donor.rear_scale_kg": rear})
    found = next(f for f in assess(read).bolt("donor").findings if f.key == "donor.scale")
    fixed = changed(read, {c.path: c.value for c in found.fixes[0].changes})
    d = donor(assess(fixed))
    assert d.bike_kg == pytest.approx(front + rear, abs=1e-4)
    assert d.front_share == pytest.approx(front / (front + rear), abs=1e-4)
    assert "donor.scale" not in {f.key for f in assess(fixed).bolt("donor").findings}
    row = next((r for r in d.rows if r.kind == "scale"), None)
    assert row is None or row.kg == pytest.approx(fixed.donor.correction_kg.amount)
    heavier = changed(fixed, {"donor.items.3.mass_kg": 2.6 + 5.0})
    assert donor(assess(heavier)).bike_kg == pytest.approx(front + rear + 5.0, abs=1e-4)
    assert "donor.scale" in {f.key for f in assess(heavier).bolt("donor").findings}


def test_the_ledger_says_where_each_mass_comes_from() -> None:
    rows = {r.label: r for r in donor(assess(pip())).rows}
    assert rows["Torque arms and spacers"].origin == "unknown"
    assert rows["Stock 48 V blocks"].origin == "measured" and rows["Motor"].origin == "datasheet"


# Stock


def test_stock_performance_is_that_of_the_stock_bike_as_a_build_of_its_own() -> None:
    """Write the donor down as its own build: the same peak power, top speed and time."""
    build = moss()
    a = assess(build)
    s = build.donor.stock
    alone = changed(
        Build(),
        {
            "donor.mass_kg": 58.0,
            "goal": encode(build.goal),
            "pack": encode(s.pack),
            "guard.bms": encode(s.bms),
            "drive.controller": encode(s.controller),
            "drive.motor": encode(s.motor),
            "gear": encode(s.gear),
            "road": {**encode(build.road), "total_kg": 58.0 + 86 + 14},
        },
    )
    head = (look(alone)[1] or pytest.fail()).headline
    figures = {f.key: f.value for f in a.bolt("donor").figures}
    assert figures["stock_w"] == pytest.approx(head.peak_wheel_w, rel=1e-9)
    assert figures["stock_top"] == pytest.approx(head.top_speed_m_s, rel=1e-9)
    assert figures["stock_to"] == pytest.approx(head.to_time_s, rel=1e-6)


def test_percentages_are_of_what_was_measured_first_then_of_what_was_computed() -> None:
    a = assess(moss())
    rows = {r.label: r for r in donor(a).before_after}
    top = rows["Top speed"]
    assert top.measured == 19.6 and top.now is not None and top.change is not None
    assert top.change == pytest.approx((top.now - 19.6) / 19.6)
    power = rows["Peak power at the wheel"]
    assert power.measured is None and power.stock and power.now and power.change is not None
    assert power.change == pytest.approx((power.now - power.stock) / power.stock)


def test_the_stock_chain_is_sorted_and_names_its_narrowest() -> None:
    limits = donor(assess(moss())).limits
    powers = [x.power_w for x in limits if x.power_w is not None]
    assert powers == sorted(powers) and limits[0].label == "BMS, continuous"
    assert limits[0].power_w == pytest.approx(45 * 17 * 3.63)
    assert donor(assess(brakka())).limits == ()


# What must change, rules


def test_running_gear_ratios_by_hand() -> None:
    a = assess(moss())
    rows = {m.what: m for m in donor(a).must_change}
    mass = (a.headline.mass_kg or 0) + 86 + 14
    faster = (a.headline.top_speed_m_s or 0) / 19.6
    stands = symbol_speed(moss().gear.tyre.speed_symbol) or pytest.fail()
    assert rows["Tyres"].ratio == pytest.approx((a.headline.top_speed_m_s or 0) / stands)
    assert rows["Brakes"].ratio == pytest.approx(mass / 165 * faster**2)
    assert rows["Fork and shock"].ratio == pytest.approx(mass / 165)
    assert rows["Brakes"].verdict == "before riding"
    verdicts = [m.verdict for m in donor(a).must_change]
    order = ["before riding", "watch", "unknown", "stays"]
    assert verdicts == sorted(verdicts, key=order.index)


def test_a_hub_motor_always_asks_for_torque_arms() -> None:
    rows = {m.what: m for m in donor(assess(pip())).must_change}
    assert rows["Torque arms"].verdict == "before riding" and "nm}}" in rows["Torque arms"].reason
    assert "Torque arms" not in {m.what for m in donor(assess(brakka())).must_change}


def test_rules_become_questions_never_a_verdict() -> None:
    law = {
        "region": "Tarn Vey",
        "checked_on": "2031-04-02",
        "power_max_w": 11_000,
        "speed_max_m_s": 60,
        "mass_max_kg": 300,
    }
    asked = donor(assess(changed(brakka(), {"donor.legal": law}))).questions
    assert {x.about: x.open for x in asked} == {"Design speed": False, "Power": True, "Mass": False}
    words = " ".join(
        f.reason + f.title
        for f in assess(changed(brakka(), {"donor.legal": law})).bolt("donor").findings
    )
    assert "legal" not in words.lower().replace("illegal", "")


def test_a_class_aimed_at_is_asked_until_place_and_date_stand_beside_it() -> None:
    def first(**law: str) -> tuple[str, str, str, bool]:
        x = donor(assess(changed(brakka(), {"donor.legal": law}))).questions[0]
        return x.about, x.rule, x.build, x.open

    assert first(vehicle_class="Light moto") == (
        "Vehicle class",
        "Light moto",
        "no place noted, no date noted",
        True,
    )
    known = first(vehicle_class="Light moto", region="Tarn Vey", checked_on="2031-04-02")
    assert known[2:] == ("Tarn Vey, looked up 2031-04-02", False)


# Candidates


def test_candidates_are_judged_and_unknown_stays_unknown() -> None:
    c = donor(assess(brakka())).comparison
    assert c is not None
    verdicts = {j.name.split(",")[0]: j.verdict for j in c.judged}
    assert verdicts == {
        "Brakka 250 roller": "go",
        "Tolt 125 frame": "no",
        "Ulla 300 crashed": "open",
    }
    assert "mass" in c.judged[2].unknown and "bay" in c.judged[2].unknown
    mass = next(r for r in c.rows if r.label == "Mass")
    assert mass.cells[2].value is None and mass.best == (1,)
    price = next(r for r in c.rows if r.label == "Price with repairs")
    assert [x.value for x in price.cells] == [1080, 420, 950] and price.best == (1,)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"condition": "cracked"}, "cracked"),
        ({"condition": "bent", "frame_metal": "steel"}, "frame shop"),
        ({"bay_width_m": 0.07}, "the bay takes"),
        ({"price_money": 90_000}, "whole budget"),
    ],
)
def test_what_rules_a_candidate_out(change: dict[str, Any], words: str) -> None:
    doc = {f"donor.candidates.0.{k}": v for k, v in change.items()}
    c = donor(assess(changed(brakka(), doc))).comparison
    assert c is not None and c.judged[0].verdict == "no"
    assert any(words in r for r in c.judged[0].reasons)


def test_the_same_papers_matter_for_the_road_only() -> None:
    papers = {"donor.candidates.0.papers": "off-road only"}
    hill = donor(assess(changed(brakka(), papers))).comparison
    road = donor(assess(changed(brakka(), {**papers, "goal.use": "street"}))).comparison
    assert hill and road and hill.judged[0].verdict == "go" and road.judged[0].verdict == "no"


def test_a_label_proves_little() -> None:
    motor, pack = donor(assess(brakka())).salvage
    states = {p.label: p.state for p in motor.proofs}
    assert states["Voltage"] == "label" and states["Rpm per volt"] == "missing"
    assert motor.verdict == "open" and motor.missing == 3
    assert any("208 A" in u for u in motor.usable)  # 20 kW over 96 V
    assert pack.verdict == "open" and any("90 mV" in u for u in pack.usable)
    wet = changed(brakka(), {"donor.salvage.0.damage": "wet"})
    assert donor(assess(wet)).salvage[0].verdict == "no"


# Goal


def test_each_voltage_class_by_hand() -> None:
    """P / (0.84 x 0.9 V), S = V / nominal, P from energy and peak current both."""
    a = assess(brakka(), None, bundled_shelf())
    need = need_of(Bike(brakka())) or pytest.fail()
    for row in goal(a).volts:
        assert row.line_a == pytest.approx((need.most_w or 0) / 0.84 / (row.nominal_v * 0.9))
        assert row.series == round(row.nominal_v / 3.6)
        by_energy = (need.ride_wh or 0) / 0.9 / (row.series * 4.5 * 3.6)
        by_current = (row.line_a or 0) / 60
        assert row.parallel == math.ceil(max(by_energy, by_current, 1))
        assert row.pack_kg == pytest.approx(row.series * row.parallel * 0.07 + 4.2)
        assert row.controllers == 0 or row.controller
    amps = [r.line_a or 0 for r in goal(a).volts]
    assert amps == sorted(amps, reverse=True)
    assert [r.controllers for r in goal(assess(brakka())).volts] == [0, 0, 0, 0]  # empty shelf


def test_modules_come_whole_in_every_class() -> None:
    from ninebolt.library.catalogue import item

    module = encode(item("cell", "mm-2s2p").part)
    rows = goal(assess(changed(brakka(), {"pack.cell": module, "pack.series": 26}))).volts
    assert all(r.series and r.series % 2 == 0 and r.parallel and r.parallel % 2 == 0 for r in rows)


@pytest.mark.parametrize(
    ("changes", "verdict"),
    [
        ({"goal.to_time_s": 9.0, "goal.ride_m": 40_000}, "met"),
        ({"goal.to_time_s": 5.7, "goal.ride_m": 40_000}, "close"),
        ({}, "not met"),
        ({"goal.ride_m": 900_000, "donor.bays.0.width_m": 0.085}, "not with this bay"),
        ({"drive.motor.kv_rpm_v": None}, "open"),
    ],
)
def test_verdicts(changes: dict[str, Any], verdict: str) -> None:
    assert goal(assess(changed(brakka(), changes))).verdict == verdict


def test_what_would_have_to_give_makes_the_wish_come_true() -> None:
    """Ride as slowly, or as short, or with as many cells as it says: the range is met."""
    far = changed(brakka(), {"goal.ride_m": 200_000, "goal.to_time_s": 9.0, "goal.use": "street"})
    gives = {g.what: g for g in goal(assess(far)).gives if g.key == "range"}
    slow = changed(far, {"goal.cruise_m_s": (gives["speed of the ride"].to or 0) * 0.9})
    short = changed(far, {"goal.ride_m": gives["the ride"].to})
    more = changed(far, {"pack.parallel": int(gives["cells in parallel"].to or 0)})
    for build in (slow, short, more):
        check = next(c for c in goal(assess(build)).checks if c.key == "range")
        assert check.met in ("yes", "close"), check


def test_range_fix_buys_cells() -> None:
    far = changed(brakka(), {"goal.ride_m": 190_000, "goal.use": "street"})
    found = next(f for f in assess(far).bolt("goal").findings if f.key == "goal.short.range")
    assert found.fixes and found.fixes[0].changes[0].path == "pack.parallel"


def need(changes: dict[str, Any], ride: RideReport | None = None) -> Any:
    build = changed(brakka(), {"goal.use": "street", **changes})
    return need_of(Bike(build, ride)) or pytest.fail()


def test_duties_ask_for_more_than_steady_riding() -> None:
    steady = need({})
    stops = need({"goal.duty": "stop_and_go", "goal.stop_each_m": 300})
    assert stops.wh_per_m > steady.wh_per_m
    often = need({"goal.duty": "stop_and_go", "goal.stop_each_m": 100})
    assert often.wh_per_m > stops.wh_per_m
    by_time = need({"goal.ride_m": None, "goal.ride_s": 3600})
    assert by_time.ride_m == pytest.approx(3600 * 13.89)
    hill = need({"goal.duty": "hill_runs", "goal.runs": 10, "goal.climb_m": 80})
    assert hill.ride_wh == pytest.approx(10 * hill.run_wh) and hill.wh_per_m is None


def test_a_logged_ride_is_the_duty_once_a_log_is_chosen() -> None:
    assert need({"goal.duty": "logged"}).wh_per_m is None
    missing = assess(changed(brakka(), {"goal.duty": "logged"})).bolt("goal").missing
    assert "prove.log_id" in missing
    t = [0.2 * i for i in range(600)]
    report = RideReport("x", 5.0, 0.0, (), 0, (), 14.0, 0.0, None, None, t, [13.89] * 600, t, ())
    logged, steady = need({"goal.duty": "logged"}, report), need({})
    # Steady riding is worked with the drive's own losses, a log with the usual share of them.
    assert logged.wh_per_m == pytest.approx(steady.wh_per_m, rel=0.15)


def test_stock_of_a_gas_donor_is_not_asked_for() -> None:
    a = assess(dataclasses.replace(brakka()))
    assert donor(a).before_after == () and not any(
        f.key.startswith("stock") for f in a.bolt("donor").figures
    )
