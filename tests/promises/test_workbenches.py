"""What each workbench computes, against the same sums done by hand."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from builds import assess, changed
from ninebolt.core.battery.ocv import TYPICAL, interpolator, soc_at
from ninebolt.core.battery.pack import energy_between
from ninebolt.core.bolts.assess import Assessment
from ninebolt.core.bolts.tune.bolt import throttle_share
from ninebolt.core.codec import encode
from ninebolt.library.demo import brakka, moss, pip

G = 9.80665


def figure(a: Assessment, bolt: str, key: str) -> float:
    value = next(f.value for f in a.bolt(bolt).figures if f.key == key)
    assert value is not None
    return value


# Donor


def test_ledger_adds_up() -> None:
    """Donor less what came off plus what went on, pack and parts included."""
    a = assess(brakka())
    off, on = 27.4 + 4.1 + 5.2, 2.6 + 1.4
    cells = 26 * 12 * 0.070 + 4.2
    parts = 21.0 + 3.4 + 0.8 + 0.05 + 0.8 + 0.3 + 0.84 + 0.35
    assert figure(a, "donor", "bike_mass") == pytest.approx(106.5 - off + on + cells + parts)
    assert a.headline.mass_kg == pytest.approx(figure(a, "donor", "bike_mass"))


@settings(max_examples=15)
@given(st.floats(-0.2, 1.4), st.floats(0.1, 1.2), st.floats(1, 40))
def test_centre_of_mass_moves_by_the_lever(x: float, y: float, kg: float) -> None:
    """Adding m at (x, y) moves the centre by m (x - xc) / (M + m), in both directions."""
    items = encode(brakka())["donor"]["items"]
    before = assess(brakka()).drawings.donor
    more = {"name": "Box", "action": "added", "mass_kg": kg, "x_m": x, "y_m": y}
    after = assess(changed(brakka(), {"donor.items": [*items, more]})).drawings.donor
    assert before and after and before.bike_cg and after.bike_cg and before.bike_kg
    for axis, place in ((0, x), (1, y)):
        lever = kg * (place - before.bike_cg[axis]) / (before.bike_kg + kg)
        assert after.bike_cg[axis] - before.bike_cg[axis] == pytest.approx(lever, abs=1e-9)


def test_ledger_fix_makes_the_runs_use_the_ledger() -> None:
    build = brakka()
    finding = next(f for f in assess(build).bolt("donor").findings if f.fixes)
    fixed = changed(build, {c.path: c.value for c in finding.fixes[0].changes})
    drawing = assess(fixed).drawings.donor
    assert drawing and drawing.ridden_cg and drawing.ridden_front_share
    assert fixed.road.front_share.amount == pytest.approx(drawing.ridden_front_share, abs=1e-3)
    assert fixed.road.cg_height_m.amount == pytest.approx(drawing.ridden_cg[1], abs=1e-3)


# Goal


def test_needed_power_by_hand() -> None:
    build = brakka()
    a = assess(build)
    kg = figure(a, "donor", "bike_mass") + 74 + 9
    v = 32.0
    flat = (0.5 * 1.20 * 0.52 * v * v + 0.02 * kg * G) * v
    assert figure(a, "goal", "need_top") == pytest.approx(flat, rel=1e-9)
    slope, u = math.atan(0.30), 19.0
    hill = (0.5 * 1.20 * 0.52 * u * u + kg * G * (0.02 * math.cos(slope) + math.sin(slope))) * u
    assert figure(a, "goal", "need_hill") == pytest.approx(hill, rel=1e-9)


def test_amps_fall_as_volts_rise() -> None:
    """The same power at 60, 72, 84 and 96 V: volts times amps stay the same."""
    d = assess(brakka()).drawings.goal
    assert d is not None
    powers = [r.nominal_v * (r.line_a or 0) for r in d.volts]
    assert powers == pytest.approx([powers[0]] * 4)
    assert [r.nominal_v for r in d.volts] == [60, 72, 84, 96]
    assert [r.series for r in d.volts] == [17, 20, 23, 27]


def test_a_wish_that_is_met_says_so() -> None:
    d = assess(brakka()).drawings.goal
    assert d is not None
    met = {c.label: c.met for c in d.checks}
    assert (
        met["Top speed"] == "yes"
        and met["Time to speed"] == "no"
        and met["Range"] in ("yes", "close")
    )


# Pack


@pytest.mark.parametrize("chemistry", sorted(TYPICAL))
def test_typical_curves_rise_and_read_back(chemistry: str) -> None:
    curve = TYPICAL[chemistry]
    volts = interpolator(curve)
    assert all(b[1] > a[1] for a, b in zip(curve, curve[1:], strict=False))
    for i in range(1, 20):
        assert soc_at(curve, volts(i / 20)) == pytest.approx(i / 20, abs=1e-9)
    assert volts(-1.0) == curve[0][1] and volts(2.0) == curve[-1][1]


def test_energy_is_the_area_under_the_curve() -> None:
    """Trapezoids over the table are exact for a table that is linear between its points."""
    curve = ((0.0, 3.0), (0.5, 3.6), (1.0, 4.0))
    assert energy_between(curve, 10.0) == pytest.approx(10 * (0.5 * 3.3 + 0.5 * 3.8))
    assert energy_between(curve, 10.0, 0.5, 1.0) == pytest.approx(10 * 0.5 * 3.8)


def test_pack_sums() -> None:
    a = assess(moss())
    assert figure(a, "pack", "full_v") == pytest.approx(23 * 4.2)
    assert figure(a, "pack", "capacity") == pytest.approx(9 * 5.0)
    assert figure(a, "pack", "r") == pytest.approx(23 / 9 * 0.022 + 0.006)
    d = a.drawings.pack
    assert d is not None and d.load_a == 135
    top = d.sag[0]
    assert top.rest_v - top.load_v == pytest.approx(135 * figure(a, "pack", "r"))
    assert top.settled_v < top.load_v
    assert [r.power_w for r in d.sag] == sorted((r.power_w for r in d.sag), reverse=True)


# Guard


def test_load_path_is_in_the_order_of_the_current() -> None:
    d = assess(brakka()).drawings.guard
    assert d is not None
    assert [x.label for x in d.links] == [
        "Cells",
        "BMS",
        "Fuse",
        "Contactor",
        "Main plug",
        "Cable",
        "Controller line",
    ]
    assert all(x.present for x in d.links)


def test_bypassed_bms_limits_nothing_and_says_so() -> None:
    build = changed(pip(), {"guard.bms.discharge": "bypassed"})
    a = assess(build)
    d = a.drawings.guard
    assert d is not None and d.links[1].cont_a is None and d.trip is None
    assert a.headline.choke != "BMS"
    assert any(f.key == "guard.bypass" for f in a.bolt("guard").findings)


# Gear


def test_ladder_trades_speed_for_thrust() -> None:
    """Without weakening a longer ratio pulls in proportion, to the newton of drag."""
    d = assess(moss()).drawings.gear
    assert d is not None and sum(r.current for r in d.rungs) == 1
    first = d.rungs[0]
    for r in d.rungs[1:]:
        assert r.launch_n / first.launch_n == pytest.approx(r.ratio / first.ratio, rel=1e-9)
    ratios = [r.ratio for r in d.rungs]
    assert ratios == sorted(ratios)


# Wire


def test_the_pack_comes_last() -> None:
    """Everything is joined before the pack is; live steps are the last ones."""
    d = assess(brakka()).drawings.wire
    assert d is not None
    live = [s.live for s in d.steps]
    assert live == sorted(live) and d.steps[0].key == "isolate"
    keys = [s.key for s in d.steps]
    assert keys.index("precharge") < keys.index("fuse") < keys.index("power")
    assert [n.label for n in d.nodes][:4] == ["Pack", "BMS", "Fuse", "Contactor"]


# Tune


@pytest.mark.parametrize(
    ("changes", "name", "value", "because"),
    [
        ({}, "line_a", 200, "80% of the Fuse's 250 A"),
        ({"guard.bms.i_cont_a": 200}, "line_a", 170, "85% of the BMS's 200 A"),
        ({"guard.fuse.rated_a": 100}, "line_a", 80, "80% of the Fuse's 100 A"),
        ({"guard.plug.i_cont_a": 120}, "line_a", 120, "Main plug's 120 A"),
        ({"drive.controller.line_max_a": 140}, "line_a", 140, "Controller line's 140 A"),
        ({"guard.fuse.presence": "not there"}, "line_a", 255, "85% of the BMS's 300 A"),
        ({"drive.motor.phase_max_a": 400}, "phase_a", 400, "the motor's peak"),
        ({"pack.series": 20}, "lvc_v", 56.0, "20 cells at 2.80 V"),
        ({"guard.bms.cell_low_v": 3.0}, "lvc_v", 26 * 3.05, "before the BMS opens"),
        ({"drive.motor.temp_max_c": 120}, "motor_c", 100, "20 K before"),
    ],
)
def test_each_parameter_comes_from_the_constraint_that_binds(
    changes: dict[str, Any], name: str, value: float, because: str
) -> None:
    d = assess(changed(brakka(), changes)).drawings.tune
    assert d is not None
    row = next(r for r in d.rows if r.name == name)
    assert row.recommended == pytest.approx(value) and because in row.constraint


def test_wheel_and_ratio_come_from_the_bike() -> None:
    d = assess(brakka()).drawings.tune
    assert d is not None
    rows = {r.name: r.recommended for r in d.rows}
    assert rows["ratio"] == pytest.approx(56 / 13)
    free = 18 * 0.0254 / 2 + 0.120 * 0.90
    assert rows["wheel_m"] == pytest.approx(2 * math.pi * 0.97 * free)


@given(st.floats(0, 1))
def test_throttle_is_linear_between_its_points(twist: float) -> None:
    points = ((0.0, 0.0), (0.4, 0.2), (1.0, 1.0))
    want = twist * 0.5 if twist <= 0.4 else 0.2 + (twist - 0.4) / 0.6 * 0.8
    assert throttle_share(points, twist) == pytest.approx(want)


def test_thrust_at_the_grip_follows_the_curve() -> None:
    """From rest thrust is torque less drag: half the torque gives half the thrust less half the
    drag."""
    d = assess(changed(moss(), {"drive.motor.knee_a": None})).drawings.tune
    assert d is not None
    rest = d.thrust_n[0][1]
    drag = rest[-1] - 2 * rest[20]
    assert drag == pytest.approx(0.25 * 56 / 12 / d_radius() * 0.95, rel=0.02)


def d_radius() -> float:
    d = assess(moss()).drawings.gear
    assert d is not None
    return d.radius_m
