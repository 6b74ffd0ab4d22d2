"""The advisor: its promises are what the build then shows, and nothing better is left out on a small shelf."""

from __future__ import annotations

import dataclasses
import itertools

import pytest
from fastapi.testclient import TestClient

from builds import changed
from ninebolt.core.bike.facts import Bike, Shelf
from ninebolt.core.bike.layout import fitted
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bolts.assess import assess
from ninebolt.core.build import Build
from ninebolt.core.parts.cell import Cell
from ninebolt.core.parts.drive import Motor
from ninebolt.core.parts.rolling import Sprocket
from ninebolt.core.value import Value
from ninebolt.errors import InputError
from ninebolt.library.catalogue import item, items
from ninebolt.library.demo import brakka, moss, pip
from ninebolt.services.advisor import Aim, Proposal, advise
from ninebolt.services.candidates import Candidate, candidates
from ninebolt.services.house import bundled_shelf
from ninebolt.services.quick import quick

SMALL = Shelf(
    {
        "motor": tuple(i.part for i in items("motor"))[:6],
        "controller": tuple(i.part for i in items("controller"))[:6],
    }
)


def taken(build: Build, p: Proposal) -> Build:
    return changed(build, {c.path: c.value for c in p.fix.changes})


@pytest.mark.parametrize("make", [brakka, moss, pip], ids=["brakka", "moss", "pip"])
def test_what_is_promised_is_what_the_build_then_shows(make) -> None:  # type: ignore[no-untyped-def]
    """Headline, findings that come and go, mass: by assessing the changed build anew."""
    build = make()
    told = advise(build, shelf=bundled_shelf())
    was = {f.title for b in assess(build, shelf=bundled_shelf()).bolts for f in b.findings}
    assert told.proposals
    for p in told.proposals:
        after = assess(taken(build, p), shelf=bundled_shelf())
        now = {f.title for b in after.bolts for f in b.findings}
        assert after.headline == p.after
        assert {s.title for s in p.come} <= now
        assert {s.title for s in p.go} <= was - now
        assert p.mass_kg == pytest.approx((after.headline.mass_kg or 0) - (told.now.mass_kg or 0))


def test_a_bigger_motor_does_nothing_behind_a_small_bms() -> None:
    build = changed(
        moss(),
        {"guard.bms.i_cont_a": 30, "guard.bms.i_peak_a": 40, "drive.controller.line_a": 120,
         "drive.controller.phase_a": 100, "drive.motor.phase_max_a": 100},
    )  # fmt: skip
    told = advise(build, shelf=bundled_shelf())
    said = " ".join(f"{u.label} {u.words}" for u in told.useless)
    assert "More line amps does nothing" in said and "BMS" in said
    first = told.proposals[0]
    assert "BMS" in first.fix.label or "line setting" in first.kinds


def test_the_cheapest_next_step_may_be_a_setting() -> None:
    """A bike that cuts out because a setting asks too much: turning it down is offered, and costs nothing."""
    told = advise(pip(), shelf=bundled_shelf())
    free = [p for p in told.proposals if p.money == 0.0]
    assert free and any("line setting" in p.kinds for p in free)
    assert any("BMS opens" in s.title for p in free for s in p.go)


def test_no_single_change_is_better_than_the_best_that_is_shown() -> None:
    """Exhaustive over all candidates of a small shelf, by the same measure; the proposals' best (pairs too) is
    at least as near."""
    build = moss()
    told = advise(build, shelf=SMALL)
    start = quick(build)
    assert start is not None
    aim = Aim(build, start, told.checks)
    singles = [c for c in candidates(build, SMALL)]
    gaps = []
    for c in singles:
        made = quick(changed(build, {x.path: x.value for x in c.changes}))
        if made is not None:
            gaps.append(aim.gap(made))
    best = min(aim.gap(q) for p in told.proposals if (q := quick(taken(build, p))) is not None)
    assert best <= min(gaps) + 1e-9


def test_a_pair_of_sprockets_costs_what_has_to_be_bought() -> None:
    """By the shelf: only the one that is not on yet; unknown where the shelf has none."""
    shelf = bundled_shelf()
    price = {
        (p.place, p.teeth): p.price_money.taken
        for p in shelf.of("sprocket", Sprocket)
        if p.chain == moss().gear.chain
    }
    pairs = [c for c in candidates(moss(), shelf) if c.kind == "sprockets"]
    assert pairs
    for c in pairs:
        front, rear = (x.value for x in c.changes)
        own = [("front", front, moss().gear.front_teeth), ("rear", rear, moss().gear.rear_teeth)]
        bought = [price.get((place, teeth)) for place, teeth, on in own if teeth != on]
        known = None not in bought
        assert c.money == (pytest.approx(sum(b or 0.0 for b in bought)) if known else None)
    assert all(c.money is None for c in candidates(moss(), SMALL) if c.kind == "sprockets")


def other_cells(build: Build, *names: str) -> list[Candidate]:
    found = candidates(build, bundled_shelf())
    return [c for c in found if c.kind == "other cells" and all(n in c.label for n in names)]


def test_other_cells_are_as_many_as_hold_the_same_and_as_go_in() -> None:
    """23s9p of 5.0 Ah are 45 Ah: at least ten of 4.5 Ah; no more than the bay takes; priced by the piece."""
    build = moss()
    made = other_cells(build, "21700 power cell 4.5 Ah")
    assert next(c.label.rsplit(" ", 1)[1] for c in made) == "23s10p"
    for c in made:
        after = changed(build, {x.path: x.value for x in c.changes})
        room = fitted(Bike(after))
        assert room is not None and room.short == 0, c.label
        assert c.money is None or c.money == pytest.approx(
            after.pack.cell.price_money.taken * after.pack.series * after.pack.parallel
        )


def test_dangerous_nothing_measured_of_the_old_pack_is_kept_with_other_cells() -> None:
    """A rested reading or group volts of the pack that goes out would judge cells that never had them."""
    build = changed(
        moss(),
        {"pack.rested_v": 90.0, "pack.group_v": [[1, 3.9], [2, 3.9]], "pack.done": ["sorted"]},
    )
    for c in other_cells(build):
        after = changed(build, {x.path: x.value for x in c.changes}).pack
        assert not after.rested_v.known and after.group_v == () and after.done == ()
        assert after.sorted_groups == () and after.modules == () and after.placed == ()


def test_other_volts_than_the_build_s_are_not_slipped_in() -> None:
    """Full volts stay within a few per cent below and two above: charger, BMS and controller stay what they are."""
    build = moss()
    full = build.pack.series * 4.2 if build.pack.series else 0.0
    assert other_cells(build)
    for c in other_cells(build):
        after = changed(build, {x.path: x.value for x in c.changes}).pack
        assert 0.93 * full <= (after.series or 0) * after.cell.full_v.or_else(4.2) <= 1.03 * full


def test_unknown_volts_of_a_cell_on_the_shelf_do_not_stop_the_advice() -> None:
    odd = dataclasses.replace(
        bundled_shelf().of("cell", Cell)[0], name="odd", chemistry="unknown", full_v=Value()
    )
    shelf = Shelf({"cell": (odd,)})
    assert [c for c in candidates(moss(), shelf) if c.kind == "other cells"] == []


def test_unknown_untested_cells_are_not_bought_on_a_promise() -> None:
    for c in other_cells(moss()):
        cell = changed(moss(), {x.path: x.value for x in c.changes}).pack.cell
        assert cell.capacity_ah.origin != "guess"


def test_cells_that_cannot_give_the_amps_are_the_thing_to_change() -> None:
    """Tired cells hold a bike back; the advisor finds others, and they bring it nearer."""
    tired = changed(
        moss(),
        {
            "pack.cell.r0_ohm": 0.12,
            "pack.cell.i_cont_a": 6,
            "pack.cell.i_peak_a": 8,
            "pack.cell.name": "tired",
        },
    )
    told = advise(tired, shelf=bundled_shelf())
    swap = [p for p in told.proposals if "other cells" in p.kinds]
    assert swap and swap[0].gap < told.gap


def test_pairs_beat_both_of_their_halves() -> None:
    for p in advise(brakka(), shelf=bundled_shelf()).proposals:
        if len(p.kinds) == 2:
            assert p.kinds[0] != p.kinds[1]
            paths = [c.path for c in p.fix.changes]
            assert not any(b.startswith(a + ".") for a, b in itertools.permutations(paths, 2))


def test_over_the_budget_is_said_and_comes_last() -> None:
    build = changed(moss(), {"goal.budget_money": 1900})
    told = advise(build, shelf=bundled_shelf())
    over = [p.over_budget for p in told.proposals]
    assert any(over) or all(p.money in (0.0, None) for p in told.proposals)
    assert over == sorted(over) or any(s.severity == "stop" for p in told.proposals for s in p.come)


def test_an_empty_shelf_still_has_settings_and_sprockets() -> None:
    told = advise(moss(), shelf=Shelf({}))
    assert told.proposals and not any("motor" in p.kinds for p in told.proposals)


def test_a_goal_that_is_met_has_no_gap() -> None:
    easy = changed(
        moss(),
        {
            "goal.top_speed_m_s": 15,
            "goal.to_time_s": 30,
            "goal.ride_m": 5000,
            "goal.hill_pct": None,
        },
    )
    assert advise(easy, shelf=bundled_shelf()).gap == 0.0


def test_a_bike_that_does_not_compute_is_named() -> None:
    with pytest.raises(InputError, match="does not compute"):
        advise(changed(moss(), {"drive.motor.kv_rpm_v": None}), shelf=bundled_shelf())


def test_own_choices_stay_when_a_part_is_swapped() -> None:
    """A controller's settings are the build's; a motor's start temperature too."""
    build = changed(moss(), {"drive.motor.start_c": 60, "drive.controller.fw_id_a": 25})
    for c in candidates(build, bundled_shelf()):
        for x in c.changes:
            if x.path == "drive.controller":
                assert x.value["fw_id_a"]["amount"] == 25
            if x.path == "drive.motor":
                assert x.value["start_c"]["amount"] == 60


def test_a_motor_of_no_kv_is_never_proposed() -> None:
    part = item("motor", "md-5").part
    assert isinstance(part, Motor)
    blind = dataclasses.replace(part, name="No label", kv_rpm_v=Motor().kv_rpm_v)
    shelf = Shelf({"motor": (blind,)})
    assert not any("No label" in c.label for c in candidates(moss(), shelf))
    assert performance_of(Bike(moss())) is not None


def test_dangerous_what_stops_the_bike_comes_before_all_advice() -> None:
    """30 in series on a controller for 100 V, and no fuse: neither is passed over for a quicker start, and nobody says
    that a bigger one does nothing of a fuse that is not there."""
    for change, words in (
        ({"pack.series": 30}, "above the controller's ceiling (drive)"),
        ({"guard.fuse.presence": "not there"}, "no main fuse (guard)"),
    ):
        told = advise(changed(moss(), change), shelf=bundled_shelf())
        assert any(words in s for s in told.stops)
        clears = [any(s.severity == "stop" for s in p.go) for p in told.proposals]
        assert clears == sorted(clears, reverse=True) and clears[0]
        if "guard.fuse.presence" in change:
            assert all("fuse" not in u.label for u in told.useless)
            named = [
                i.part for i in items("fuse") if told.proposals[0].fix.label == f"Fit {i.part.name}"
            ]
            assert named and told.proposals[0].money == named[0].price_money.amount
    assert advise(moss(), shelf=bundled_shelf()).stops == ()


@pytest.mark.parametrize("build_id", ["moss-84", "brakka-96"])
def test_what_comes_and_goes_is_what_the_build_then_shows(
    client: TestClient, build_id: str
) -> None:
    """With a log chosen and gates passed, which another part makes those of the bike as it was."""
    url = f"/api/builds/{build_id}"

    def grave() -> dict[str, tuple[str, str]]:
        bolts = client.get(url).json()["assessment"]["bolts"]
        found = (f for b in bolts for f in b["findings"])
        return {f["key"]: (f["severity"], f["title"]) for f in found if f["severity"] != "note"}

    before, tried = grave(), 0
    for p in client.get(f"{url}/advice").json()["proposals"][:6]:
        body = {"changes": p["fix"]["changes"]}
        assert client.post(f"{url}/changes", json=body).status_code == 200
        promised, shown = {(f["severity"], f["title"]) for f in p["come"]}, grave()
        assert promised <= set(shown.values()), p["fix"]["label"]
        assert {shown[k] for k in shown.keys() - before.keys()} <= promised, p["fix"]["label"]
        client.post(f"{url}/undo")
        tried += 1
    assert tried > 1
