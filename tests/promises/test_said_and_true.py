"""What a screen promises comes true when it is done: options, growth, swaps, the ledger."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from builds import assess, changed
from ninebolt.core.bike.case import assemble
from ninebolt.core.bolts.assess import Assessment
from ninebolt.core.build import Build
from ninebolt.core.codec import encode
from ninebolt.core.guard.conductors import SECTIONS_MM2
from ninebolt.core.guard.trip import first_trip
from ninebolt.core.simulate.run import Stop, run
from ninebolt.library.demo import DEMOS, brakka, moss, pip
from ninebolt.services.house import bundled_shelf
from ninebolt.services.packs import fitted_of

PACKS = {
    "brakka": brakka(),
    "moss": moss(),
    "brakka, BMS inside": changed(brakka(), {"pack.bms_in_bay": True}),
    "moss, BMS outside": changed(moss(), {"pack.bms_in_bay": False}),
    "moss, too many": changed(moss(), {"pack.parallel": 14}),
}


def keys(a: Assessment, bolt: str) -> dict[str, str]:
    return {f.key: f.severity for f in a.bolt(bolt).findings}


@pytest.mark.parametrize("name", sorted(PACKS))
def test_ten_millimetres_more_bring_what_is_said(name: str) -> None:
    """Each size of the first bay made 10 mm larger in the build itself, without the BMS box."""
    build = PACKS[name]
    bare = changed(build, {"pack.bms_in_bay": False})
    fit, alone = fitted_of(build), fitted_of(bare)
    bay = encode(build)["donor"]["bays"][0]
    said = {g.size: g.more for g in fit.bays[0].growth}
    assert set(said) == {"length", "height", "width"}
    sizes = ("width",) if bay["outline"] else ("length", "height", "width")
    for size in sizes:
        path = f"donor.bays.0.{size}_m"
        now = bay[f"{size}_m"]
        grown = changed(bare, {path: {**now, "amount": now["amount"] + 0.010}})
        assert fitted_of(grown).capacity - alone.capacity == said[size], size


@pytest.mark.parametrize("name", sorted(PACKS))
def test_an_option_goes_in_and_one_more_in_parallel_does_not(name: str) -> None:
    build = PACKS[name]
    for option in fitted_of(build).options:
        taken = {"pack.series": option.series, "pack.parallel": option.parallel}
        assert fitted_of(changed(build, taken)).short <= 0, option
        more = {"pack.series": option.series, "pack.parallel": option.parallel + 1}
        over = fitted_of(changed(build, more))
        assert over.short > 0 or over.split, option


@pytest.mark.parametrize("name", sorted(PACKS))
def test_the_stop_and_the_count_agree(name: str) -> None:
    """'Does not go in' stands exactly where bodies are short, and its fix cures it."""
    build = PACKS[name]
    fit, a = fitted_of(build), assess(build)
    assert (keys(a, "pack").get("pack.fit") == "stop") is (fit.short > 0)
    for finding in a.bolt("pack").findings:
        if finding.key == "pack.fit" and finding.severity == "stop":
            for fix in finding.fixes:
                after = changed(build, {c.path: c.value for c in fix.changes})
                assert fitted_of(after).short <= 0


def test_no_place_is_taken_twice_and_each_group_has_its_cells() -> None:
    for build in PACKS.values():
        fit = fitted_of(build)
        for bay in fit.bays:
            spots = [(round(p.x_m, 5), round(p.y_m, 5), round(p.z_m, 5)) for p in bay.puts]
            assert len(spots) == len(set(spots)) == bay.capacity
        groups = [p.group for b in fit.bays for p in b.puts if p.group >= 0]
        if fit.short <= 0:
            wanted = [build.pack.parallel] * (build.pack.series or 0)
            assert [groups.count(g) for g in range(build.pack.series or 0)] == wanted


def test_a_pack_that_collides_is_not_said_to_go_in() -> None:
    block = {"kind": "block", "bay": 1, "turn": "whl", "cols": 12, "rows": 9, "layers": 2}
    a = assess(changed(moss(), {"pack.placed": [block]}))
    assert keys(a, "pack").get("pack.collides") == "stop"
    assert "The pack goes in" not in {f.title for f in a.bolt("pack").findings}


# Ledger


@pytest.mark.parametrize("name", sorted(DEMOS))
def test_the_ledger_s_centre_by_numpy(name: str) -> None:
    """Moments about the rear axle: sum(m x) / sum(m), and the front axle's share by the lever."""
    drawing = assess(DEMOS[name]()).drawings.donor
    assert drawing and drawing.bike_cg and drawing.donor_kg and drawing.bike_kg
    rows = [r for r in drawing.rows if r.kind != "scale"]
    kg = np.array([drawing.donor_kg, *(r.kg for r in rows)])
    at = np.array([drawing.donor_cg, *((r.x_m, r.y_m) for r in rows)])
    assert drawing.bike_kg == pytest.approx(kg.sum())
    assert drawing.bike_cg == pytest.approx(tuple(np.average(at, axis=0, weights=kg)))
    assert drawing.front_share == pytest.approx(drawing.bike_cg[0] / drawing.wheelbase_m)


@pytest.mark.parametrize("name", sorted(DEMOS))
def test_swapping_what_came_off_for_what_goes_on_changes_nothing_but_the_sign(name: str) -> None:
    build = DEMOS[name]()
    items = encode(build)["donor"]["items"]
    if not items:
        return
    other = {"added": "removed", "removed": "added"}
    turned = changed(
        build,
        {"donor.items": [{**i, "action": other.get(i["action"], i["action"])} for i in items]},
    )
    a, b = assess(build).drawings.donor, assess(turned).drawings.donor
    assert a and b and a.bike_kg and b.bike_kg
    total = sum(r.kg for r in a.rows if r.index is not None)
    assert b.bike_kg == pytest.approx(a.bike_kg - 2 * total)


# Guard


@pytest.mark.parametrize("peak_s", [1.0, 3.0, 6.0])
def test_the_trip_on_the_screen_is_the_trip_of_the_run(peak_s: float) -> None:
    """The run integrated anew, its line current held against the BMS by hand."""
    build = changed(
        brakka(),
        {
            "guard.bms.i_cont_a": {"amount": 180.0, "origin": "datasheet"},
            "guard.bms.i_peak_a": {"amount": 650.0, "origin": "datasheet"},
            "guard.bms.peak_s": {"amount": peak_s, "origin": "datasheet"},
        },
    )
    guard = assess(build).drawings.guard
    assert guard is not None and guard.trip is not None
    case = assemble(build).case
    assert case is not None
    s = run(case, Stop(distance_m=402.336, seconds=90.0)).series
    over = [t for t, amps in zip(s.t_s, s.line_a, strict=True) if amps > 180.0]
    again = first_trip(s.t_s, s.line_a, s.speed_m_s, 180.0, 650.0, peak_s)
    assert again is not None and over
    assert guard.trip.t_s == pytest.approx(again.t_s, abs=0.15)
    assert guard.trip.t_s >= over[0] + peak_s - 0.15
    assert guard.trip.speed_m_s == pytest.approx(again.speed_m_s, rel=0.03)


@pytest.mark.parametrize("name", sorted(DEMOS))
def test_a_swap_makes_the_link_what_it_says(name: str) -> None:
    """Each proposed swap, taken: its link then carries the current that stood beside it."""
    build = DEMOS[name]()
    a = assess(build, None, bundled_shelf())
    guard = a.drawings.guard
    assert guard is not None
    tried = 0
    for link in guard.links:
        for swap in link.swaps[:2]:
            after = changed(build, {c.path: c.value for c in swap.changes})
            then = assess(after, None, bundled_shelf()).drawings.guard
            assert then is not None
            new = next(x for x in then.links if x.path == link.path)
            assert new.cont_a is not None
            tried += 1
    assert tried > 0 or all(not x.swaps for x in guard.links)


@pytest.mark.parametrize(
    ("path", "key", "thin"),
    [("guard.cable", "cable_run", 4e-6), ("guard.phase_cable", "phase_leads", 4e-6)],
)
def test_the_cable_it_asks_for_is_the_thinnest_that_stays_cool(
    path: str, key: str, thin: float
) -> None:
    """The section of the fix ends the finding; the next thinner nominal section does not."""
    hot = changed(
        brakka(),
        {f"{path}.section_m2": thin, f"{path}.temp_max_c": 70, "goal.rest_s": 5, "goal.runs": 8},
    )

    def overheats(build: Build) -> bool:
        return f"guard.{key}" in keys(assess(build), "guard")

    found = next(f for f in assess(hot).bolt("guard").findings if f.key == f"guard.{key}")
    (fix,) = found.fixes
    cured = changed(hot, {c.path: c.value for c in fix.changes})
    section = getattr(cured.guard, path.split(".")[1]).section_m2.amount
    assert not overheats(cured)
    thinner = max((s for s in SECTIONS_MM2 if s * 1e-6 < section - 1e-9), default=None)
    assert thinner is not None
    assert overheats(changed(hot, {f"{path}.section_m2": thinner * 1e-6}))


def test_cells_run_near_their_peak_are_told_by_the_amps_of_each() -> None:
    """320 A over 6 in parallel is 53 A a cell of 60 A."""
    build = changed(brakka(), {"drive.controller.line_a": 320, "pack.parallel": 6})
    life = next(f for f in assess(build).bolt("pack").findings if f.key == "pack.life")
    assert life.measured == pytest.approx(320 / 6)


def test_bypassing_the_bms_takes_its_limit_off_the_path_and_puts_a_list_in_its_place() -> None:
    build = pip()
    through = assess(changed(build, {"guard.bms.discharge": "through"})).drawings.guard
    bypassed = assess(changed(build, {"guard.bms.discharge": "bypassed"})).drawings.guard
    assert through and bypassed
    assert "guard.bms" in {x.path for x in through.links}
    assert "guard.bms" not in {x.path for x in bypassed.links if x.cont_a is not None}
    assert bypassed.trip is None


# What is not there


@pytest.mark.parametrize("name", sorted(DEMOS))
@pytest.mark.parametrize("bolt", ["donor", "pack", "guard", "drive", "gear"])
def test_a_bike_without_a_bolt_says_what_is_missing_and_makes_nothing_up(
    name: str, bolt: str
) -> None:
    """The whole of a bolt forgotten: no figure of it stands, and what is missing is named."""
    empty: dict[str, Any] = {bolt: encode(Build())[bolt]}
    a = assess(changed(DEMOS[name](), empty))
    row = a.bolt(bolt)
    needs = {m.split(".")[0] for m in row.missing}
    assert row.missing, bolt
    assert needs <= {"donor", "goal", "pack", "guard", "drive", "gear", "road"}
    if bolt in ("pack", "drive", "gear"):
        assert a.headline is None or a.headline.top_speed_m_s is None
