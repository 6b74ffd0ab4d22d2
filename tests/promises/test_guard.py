"""Guard: trips along runs and sessions, what avoids them, swaps, charging, feeds; Pack:
assembly."""

from __future__ import annotations

import math

import pytest

from builds import assess, changed
from ninebolt.core.bike.case import assemble
from ninebolt.core.bike.cells import facts_of, strips_of
from ninebolt.core.bike.chain import advice
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.mass import pack_kg
from ninebolt.core.bike.opening import opening
from ninebolt.core.bolts.guard.drawing import GuardDrawing, links_of
from ninebolt.core.bolts.pack.bolt import PackDrawing
from ninebolt.core.bolts.pack.limits import HOLD_G
from ninebolt.core.bolts.pack.power import at_power, thickness_for
from ninebolt.core.build import Build
from ninebolt.core.codec import encode
from ninebolt.core.finding import Fix
from ninebolt.core.guard.conductors import rms
from ninebolt.core.guard.trip import first_trip
from ninebolt.core.simulate.run import Stop, run
from ninebolt.core.sums import percent, read_claim
from ninebolt.errors import InputError
from ninebolt.library.demo import brakka, moss, pip
from ninebolt.services.house import bundled_shelf

SHELF = bundled_shelf()


def with_fix(build: Build, fix: Fix) -> Build:
    return changed(build, {c.path: c.value for c in fix.changes})


def guard(build: Build) -> GuardDrawing:
    d = assess(build, None, SHELF).drawings.guard
    assert d is not None
    return d


def pack(build: Build) -> PackDrawing:
    d = assess(build).drawings.pack
    assert d is not None
    return d


# Trips

TIGHT = {"guard.bms.name": "A small one", "guard.bms.i_cont_a": 150, "guard.bms.peak_s": 3}


def test_the_one_line_amp_number_does_not_trip_and_is_the_same_everywhere() -> None:
    """85 % of the BMS's continuous (common practice, no source), or less where another link carries
    less; fixes, figure, drawing and parameter set all name it."""
    build = changed(brakka(), TIGHT)
    chosen = advice(Bike(build))
    assert (
        chosen is not None and chosen.amps == math.floor(0.85 * 150) and chosen.link.label == "BMS"
    )
    held = assemble(changed(build, {"drive.controller.line_a": chosen.amps})).case
    assert held is not None
    s = run(held, Stop(distance_m=402.336, seconds=60.0)).series
    assert first_trip(s.t_s, s.line_a, s.speed_m_s, 150.0, math.inf, 3.0) is None
    a = assess(build, None, SHELF)
    tune, drawn = a.drawings.tune, a.drawings.guard
    assert tune is not None and drawn is not None and drawn.advice is not None
    figure = next(f for f in a.bolt("guard").figures if f.key == "advice")
    row = next(r for r in tune.rows if r.name == "line_a")
    offered = {
        c.value["amount"]
        for b in a.bolts
        for f in b.findings
        for x in f.fixes
        for c in x.changes
        if c.path == "drive.controller.line_a"
    }
    assert {figure.value, row.recommended, drawn.advice.amps} | offered == {127.0}


def test_every_fix_of_a_trip_ends_it() -> None:
    """Lower the setting, or swap for a BMS off the shelf: no trip any more."""
    build = changed(brakka(), TIGHT)
    found = next(
        f for f in assess(build, None, SHELF).bolt("guard").findings if f.key == "guard.bms_trip"
    )
    assert {f.label.split()[0] for f in found.fixes} == {"Set", "Swap"}
    for fix in found.fixes:
        left = {f.key for f in assess(with_fix(build, fix), None, SHELF).bolt("guard").findings}
        assert "guard.bms_trip" not in left, fix.label


def test_a_session_trips_where_one_run_does_not_and_rest_cures_it() -> None:
    hard = {
        "guard.bms.i_cont_a": 120,
        "guard.bms.peak_s": 20,
        "goal.runs": 8,
        "goal.rest_s": 0.2,
    }
    tired = opening(Bike(changed(brakka(), hard)))
    assert tired and tired.trip is None and tired.session_trip and tired.session_trip.run > 1
    rested = opening(Bike(changed(brakka(), {**hard, "goal.rest_s": 120})))
    assert rested and rested.session_trip is None


def test_a_bypassed_bms_never_trips_and_is_never_silent() -> None:
    build = changed(brakka(), {**TIGHT, "guard.bms.discharge": "bypassed"})
    seen = opening(Bike(build))
    assert seen and seen.trip is None
    keys = {f.key: f for f in assess(build).bolt("guard").findings}
    assert keys["guard.bypass_open"].severity == "stop"
    stand = {"cell_volts": True, "cell_temp": True, "charge_watch": True, "accepted": True}
    cared = assess(changed(build, {"guard.stand_for": stand})).bolt("guard").findings
    assert {f.key for f in cared} & {"guard.bypass", "guard.bypass_open"} == {"guard.bypass"}


# Path


def test_margins_are_limits_less_the_line_amps() -> None:
    d = guard(brakka())
    for link in d.links:
        if link.cont_a is not None:
            assert link.margin_a == pytest.approx((link.allows_a or 0) - 280)


@pytest.mark.parametrize("build", [pip(), moss(), brakka()], ids=lambda b: b.name)
def test_every_swap_carries_what_it_is_asked_and_keeps_what_is_the_build_s(build: Build) -> None:
    for link in guard(build).links:
        for fix in link.swaps:
            after = guard(with_fix(build, fix))
            now = next(x for x in after.links if x.path == link.path)
            assert now.volts is None or after.full_v is None or now.volts >= after.full_v
            if now.path != "drive.controller":
                run_ = opening(Bike(with_fix(build, fix)))
                assert run_ and (now.cont_a or 0) >= 0.999 * rms(run_.t_s, run_.line_a)
    cable = next(x for x in guard(build).links if x.path == "guard.cable").swaps
    for fix in cable:
        assert with_fix(build, fix).guard.cable.length_m == build.guard.cable.length_m


def test_no_swap_without_a_shelf_and_the_shelf_is_no_input() -> None:
    assert all(not x.swaps for x in links_of(Bike(brakka())))
    with_shelf = assess(brakka(), None, SHELF).bolt("guard")
    without = assess(brakka()).bolt("guard")
    assert [f.key for f in with_shelf.findings] == [f.key for f in without.findings]
    assert with_shelf.figures == without.figures


# Feed


def test_stacked_supplies_add_up() -> None:
    two = changed(
        brakka(),
        {"guard.charger.out_v": 54.6, "guard.charger.stacked": 2, "guard.charger.floating": True},
    )
    assert not {f.key for f in assess(two).bolt("guard").findings} & {
        "guard.charger_v",
        "guard.stacked",
    }
    assert guard(two).charge == guard(brakka()).charge


def test_the_wrong_charger_is_a_stop_and_its_fix_fits() -> None:
    found = next(f for f in assess(pip()).bolt("guard").findings if f.key == "guard.charger_v")
    assert found.severity == "stop"
    fixed = with_fix(pip(), found.fixes[0])
    assert fixed.guard.charger.out_v.amount == pytest.approx(84.0)


@pytest.mark.parametrize(("volts", "words"), [(84.0, "Charge time, from empty"), (67.2, "ends")])
def test_a_charge_that_ends_early_says_where(volts: float, words: str) -> None:
    """67.2 V over 20 cells is 3.36 V each: about a tenth of the charge on the typical curve."""
    charger = {"amount": volts, "origin": "datasheet"}
    a = assess(changed(pip(), {"guard.charger.out_v": charger}))
    row = next(f for f in a.bolt("guard").figures if f.key == "charge_s")
    assert words in row.label
    if words == "ends":
        assert row.label == "Charge ends at 10 %, after"


def test_aux_loads_count_by_duty_and_worst_switch_on() -> None:
    aux = guard(moss()).aux
    assert aux.mean_w == pytest.approx(18 + 6 * 0.6 + 20 * 0.01)
    assert aux.all_on_w == pytest.approx(44) and aux.worst_w == pytest.approx(44 + 20)
    fed = guard(brakka()).aux  # its contactor's coil, 12 W, hangs on the converter
    assert fed.mean_w == 55 + 12 and fed.all_on_w == 55 + 12 and fed.live_when_off
    apart = guard(changed(brakka(), {"guard.isolator.coil_feed": "auxiliary battery"})).aux
    assert apart.mean_w == apart.all_on_w == 55


def test_a_coil_on_the_pack_costs_range_as_one_on_the_converter_does() -> None:
    def reach(feed: str) -> float:
        return assess(changed(brakka(), {"guard.isolator.coil_feed": feed})).headline.range_m or 0.0

    assert reach("pack") == pytest.approx(reach("converter"))
    assert reach("pack") < reach("auxiliary battery")


# Pack: power, strips, assembly


@pytest.mark.parametrize(
    ("watts", "verdict"), [(5_000, "ok"), (45_000, "warm"), (70_000, "over"), (400_000, "never")]
)
def test_amps_at_a_power(watts: float, verdict: str) -> None:
    facts = facts_of(brakka().pack)
    assert facts is not None
    got = at_power(brakka(), facts, watts)
    assert got.verdict == verdict
    if got.amps is not None and got.volts is not None and got.cell_a is not None:
        assert got.amps * got.volts == pytest.approx(watts)
        assert got.volts == pytest.approx(26 * 4.18 - got.amps * facts.r_ohm)
        assert got.cell_a == pytest.approx(got.amps / 12)


def test_the_thickness_it_asks_for_carries_the_current() -> None:
    build = brakka()
    need = thickness_for(build.pack, 200.0)
    assert need is not None
    made = changed(build, {"pack.strips.thick_m": need})
    limits = strips_of(made.pack)
    assert limits is not None and limits[0] == pytest.approx(200.0, rel=1e-3)


def test_balance_leads_rise_by_a_cell_each() -> None:
    taps = pack(moss()).assembly.taps
    assert len(taps) == 24 and taps[0].expected_v == 0
    for a, b in zip(taps, taps[1:], strict=False):
        assert b.expected_v - a.expected_v == pytest.approx(86.9 / 23)


@pytest.mark.parametrize(
    ("read", "wrong"),
    [
        ([[0, 0.0], [1, 3.78], [2, 7.55]], []),
        ([[0, 0.0], [1, 7.55], [2, 3.78]], [1, 2]),
        ([[0, 3.7], [1, 3.78]], [0, 1]),
        ([[5, 18.9], [6, 22.7]], []),
        ([[5, 18.9], [6, 26.4]], [6]),
    ],
)
def test_a_lead_on_the_wrong_group_is_seen(read: list[list[float]], wrong: list[int]) -> None:
    taps = pack(changed(moss(), {"pack.tap_v": read})).assembly.taps
    assert [t.lead for t in taps if t.fits is False] == wrong


def test_the_guide_follows_the_source_and_remembers_what_is_done() -> None:
    built = pack(moss()).assembly.steps
    assert [s.key for s in built][:3] == ["measure", "rings", "groups"]
    assert sum(s.hold for s in built) >= 4 and not any(s.done for s in built)
    bought = pack(changed(moss(), {"pack.source": "ready_made"})).assembly.steps
    assert [s.key for s in bought] == ["look", "volts", "strap", "plug"]
    ticked = pack(changed(moss(), {"pack.done": ["measure"]})).assembly.steps
    assert [s.key for s in ticked if s.done] == ["measure"]
    salvage = pack(changed(moss(), {"pack.source": "salvaged_cells"})).assembly.steps
    assert "not used" in salvage[0].detail


def test_straps_hold_five_times_the_weight() -> None:
    kg = pack_kg(moss())
    found = next(
        f
        for f in assess(changed(moss(), {"pack.strap_n": 100})).bolt("pack").findings
        if f.key == "pack.strap"
    )
    assert found.limit == pytest.approx(HOLD_G * kg * 9.80665)


# Ready-made packs


def ready(**bay: float) -> Build:
    from ninebolt.library.catalogue import item

    doc = encode(item("cell", "rp-20-30").part)
    sizes = {f"donor.bays.0.{k}": v for k, v in bay.items()}
    return changed(
        moss(),
        {
            "pack.cell": doc,
            "pack.series": 20,
            "pack.parallel": 6,
            "pack.bms_in_bay": False,
            "donor.bays.0.outline": [],
            **sizes,
        },
    )


@pytest.mark.parametrize(
    ("bay", "key", "severity"),
    [
        ({"length_m": 0.33, "height_m": 0.24, "width_m": 0.18}, "pack.fits", "note"),
        ({"length_m": 0.33, "height_m": 0.20, "width_m": 0.18}, "pack.fit", "stop"),
        (
            {"length_m": 0.33, "height_m": 0.20, "width_m": 0.18, "seat_gap_m": 0.03},
            "pack.fit_seat",
            "caution",
        ),
        ({"length_m": 0.25, "height_m": 0.20, "width_m": 0.18}, "pack.fit", "stop"),
    ],
)
def test_a_bought_pack_is_held_against_the_bay(
    bay: dict[str, float], key: str, severity: str
) -> None:
    """300 x 160 x 210 with 5 mm of padding all round."""
    found = {f.key: f for f in assess(ready(**bay)).bolt("pack").findings}
    assert key in found and found[key].severity == severity
    if key == "pack.fits":
        assert found[key].measured == pytest.approx(0.010, abs=1e-4)


# Percentages


def test_percentages_with_their_base() -> None:
    assert read_claim("130 % of 40").value == pytest.approx(52)
    assert read_claim("30% more than 40").value == pytest.approx(52)
    assert read_claim("30 % of 40").other_value == pytest.approx(52)
    assert read_claim("12,5 % less than 80").value == pytest.approx(70)
    both = percent(52, 40)
    assert (both.of_pct, both.change_pct) == pytest.approx((130, 30))


@pytest.mark.parametrize("text", ["30 %", "30 % 40", "much", "", "30 more than 40", "% of 40"])
def test_a_percentage_without_its_base_is_refused(text: str) -> None:
    with pytest.raises(InputError):
        read_claim(text)


def test_a_percentage_of_nothing_is_refused() -> None:
    with pytest.raises(InputError, match="nothing"):
        percent(3, 0)


# Key


def test_the_key_waits_three_time_constants_and_the_meter_has_the_last_word() -> None:
    """3 R C with the build's resistor and capacitors; no promise of seconds before a hand goes in."""
    on, off, safe = guard(brakka()).sequences
    r, c = 100.0, brakka().drive.controller.c_bus_farad.or_else(0.0)
    wait = -r * c * math.log(0.05)
    assert f"{{{{{wait:.6g}|s}}}}" in " ".join(on.steps)
    assert "stays live" in " ".join(off.steps)
    meter = next(step for step in safe.steps if "Meter" in step)
    assert "{{5|v}}" in meter and "every time" in meter and "|s}}" not in " ".join(safe.steps)


def test_the_key_s_order_follows_the_isolator() -> None:
    words = {k: " ".join(s.steps[-1] for s in guard(b).sequences[:1]) for k, b in (
        ("contactor", brakka()), ("breaker", moss()), ("plug", pip())
    )}  # fmt: skip
    assert "contactor closes" in words["contactor"] and "breaker" in words["breaker"]
    assert "home" in words["plug"]
    assert "none fitted" in " ".join(guard(pip()).sequences[0].steps)
    assert guard(Build(pack=pip().pack)).sequences and not guard_without_pack()


def guard_without_pack() -> tuple[object, ...]:
    d = assess(Build()).drawings.guard
    return d.sequences if d else ()


def test_the_phase_leads_stand_in_the_machine_s_way() -> None:
    """rho l / A of one lead joins what a phase has outside its winding: for 25 mm² at 20 °C solid copper of
    58 m/(ohm mm²) has 0.690 mohm/m, and IEC 60228 allows a flexible one 0.780 at most (remembered). Longer and thinner
    costs wheel power; a lead that nobody knows costs none."""
    build = moss()
    switch = build.drive.controller.r_switch_ohm.taken

    def phase_ohm(b: Build) -> float:
        case = assemble(b).case
        assert case is not None
        return case.machine.r_switch_ohm

    one = changed(build, {"guard.phase_cable.section_m2": 25e-6, "guard.phase_cable.length_m": 1.0})
    assert 0.690e-3 <= phase_ohm(one) - switch <= 0.780e-3
    long = changed(one, {"guard.phase_cable.length_m": 3.0, "guard.phase_cable.section_m2": 10e-6})
    kw = [assess(b).headline.peak_wheel_w or 0.0 for b in (one, long)]
    assert kw[1] < kw[0]
    for path in ("section_m2", "length_m"):
        assert phase_ohm(changed(one, {f"guard.phase_cable.{path}": None})) == switch
