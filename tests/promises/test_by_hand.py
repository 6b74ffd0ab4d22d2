"""Bodies put down by hand, salvage and rested or loaded volts, against sums done by hand."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from builds import changed
from ninebolt.core.battery.ocv import TYPICAL, interpolator
from ninebolt.core.bike.cells import facts_of
from ninebolt.core.bike.shape import body_of
from ninebolt.core.bolts.assess import Assessment, assess
from ninebolt.core.build import Build
from ninebolt.core.match.fill import Block, Round
from ninebolt.library.demo import brakka, moss, pip
from ninebolt.services.packs import fitted_of

MODULE = {
    "pack.cell.form": "module",
    "pack.cell.length_m": 0.15,
    "pack.cell.width_m": 0.10,
    "pack.cell.height_m": 0.035,
    "pack.cell.inner_series": 2,
    "pack.cell.inner_parallel": 2,
    "pack.source": "vehicle_modules",
    "pack.series": 8,
    "pack.parallel": 1,
    "donor.bays": [{"name": "Box", "length_m": 0.40, "height_m": 0.30, "width_m": 0.20}],
}


def with_modules(placed: list[dict[str, Any]]) -> Build:
    return changed(brakka(), {**MODULE, "pack.placed": placed})


def body(x: float, y: float, z: float, turn: str = "lhw") -> dict[str, Any]:
    return {"kind": "body", "bay": 1, "x_m": x, "y_m": y, "z_m": z, "turn": turn}


def test_what_the_rule_lays_out_stands_free_when_it_is_put_down_by_hand() -> None:
    """Each place of the rule given back as a body: nothing collides, nothing is short."""
    ruled = fitted_of(with_modules([]))
    (bay,) = ruled.bays
    placed = [body(p.x_m, p.y_m, p.z_m, bay.axis) for p in bay.puts if p.group >= 0]
    by_hand = fitted_of(with_modules(placed))
    assert by_hand.by_hand and by_hand.short == ruled.short <= 0
    assert [h.hits for b in by_hand.bays for h in b.hand] == [()] * len(placed)


@settings(max_examples=40)
@given(st.floats(-0.18, 0.18), st.floats(-0.12, 0.12), st.sampled_from(["lhw", "lwh", "hlw"]))
def test_two_modules_collide_by_what_they_overlap(x: float, y: float, turn: str) -> None:
    """Depth is the least of the three overlaps; the wall's is how far the box sticks out."""
    shape = body_of(with_modules([]).pack)
    assert isinstance(shape, Block)
    fit = fitted_of(with_modules([body(0, 0, 0), body(x, y, 0, turn)]))
    first, second = fit.bays[0].hand
    a, b = shape.turned("lhw"), shape.turned(turn)
    over = [(a[i] + b[i]) / 2 - abs((x, y, 0.0)[i]) for i in range(3)]
    over = [min(o, a[i], b[i]) for i, o in enumerate(over)]
    found = {h.what: h.deep_m for h in second.hits}
    if min(over) > 1e-4:
        assert found["body 1"] == pytest.approx(min(over), abs=1e-6)
        assert {h.what for h in first.hits} >= {"body 2"}
    elif min(over) < -1e-6:
        assert "body 1" not in found
    out = max(abs(x) + b[0] / 2 - 0.20, abs(y) + b[1] / 2 - 0.15, b[2] / 2 - 0.10)
    clear = fit.bays[0].clear_m
    if out + clear < -1e-4:
        assert "wall" not in found
    if out + clear > 1e-4:
        assert found["wall"] == pytest.approx(out + clear, abs=2e-3)


def test_a_second_bay_is_another_room() -> None:
    """The same place in another bay is no collision, and a bay that is not there holds nothing."""
    two = {
        **MODULE,
        "donor.bays": [{**MODULE["donor.bays"][0], "name": n} for n in ("A", "B")],  # type: ignore[index]
    }
    placed = [body(0, 0, 0), {**body(0, 0, 0), "bay": 2}]
    fit = fitted_of(changed(brakka(), {**two, "pack.placed": placed}))
    assert [h.hits for b in fit.bays for h in b.hand] == [(), ()]
    only = fitted_of(changed(brakka(), {**MODULE, "pack.placed": placed}))
    assert sum(len(b.hand) for b in only.bays) == 1


def test_a_block_counts_its_cells_and_keeps_its_holder_s_pitch() -> None:
    block = {"kind": "block", "bay": 1, "turn": "whl", "cols": 5, "rows": 4, "layers": 1}
    fit = fitted_of(changed(moss(), {"pack.placed": [block]}))
    (bay,) = fit.bays
    assert bay.capacity == 20 and bay.taken == 20
    cell = body_of(moss().pack)
    assert isinstance(cell, Round)
    pitch = cell.pitch_m
    xs, ys = (
        sorted({round(p.x_m, 6) for p in bay.puts}),
        sorted({round(p.y_m, 6) for p in bay.puts}),
    )
    assert [round(b - a, 6) for a, b in zip(xs, xs[1:], strict=False)] == pytest.approx([pitch] * 4)
    assert [round(b - a, 6) for a, b in zip(ys, ys[1:], strict=False)] == pytest.approx([pitch] * 3)
    (box,) = [h.box for h in bay.hand]
    d = cell.diameter_m
    assert box.x1 - box.x0 == pytest.approx(4 * pitch + d)
    assert box.y1 - box.y0 == pytest.approx(3 * pitch + d)


# Charge from volts


def row(a: Assessment, key: str) -> Any:
    return next(f for f in a.bolt("pack").figures if f.key == key)


@pytest.mark.parametrize("soc", [0.15, 0.35, 0.62, 0.85])
@pytest.mark.parametrize("amps", [20.0, 60.0])
def test_volts_under_load_give_the_charge_that_made_them(soc: float, amps: float) -> None:
    """V = S U(soc) - I (R + slow R), made with the curve and read back by the program."""
    facts = facts_of(moss().pack)
    assert facts is not None
    u = interpolator(TYPICAL["nickel_rich"])(soc)
    volts = 23 * u - amps * (facts.r_ohm + facts.slow_ohm)
    build = changed(moss(), {"pack.loaded_v": volts, "pack.loaded_a": amps})
    figure = row(assess(build), "soc_load")
    assert figure.value == pytest.approx(soc * 100, abs=0.2)
    terms = {t.symbol if hasattr(t, "symbol") else t.label: t.value for t in figure.terms}
    low, high = (v for v in list(terms.values())[-2:])
    assert low < figure.value < high


def test_the_more_current_the_less_sure() -> None:
    """The resistance is only a datasheet's: what it leaves open grows with the current."""
    facts = facts_of(moss().pack)
    assert facts is not None
    widths = []
    for amps in (10.0, 40.0, 90.0):
        volts = 23 * 3.7 - amps * (facts.r_ohm + facts.slow_ohm)
        a = assess(changed(moss(), {"pack.loaded_v": volts, "pack.loaded_a": amps}))
        low, high = (t.value for t in row(a, "soc_load").terms[-2:])
        widths.append(high - low)
    assert widths[0] < widths[1] < widths[2]


# Salvage


def salvage(item: dict[str, Any]) -> Any:
    drawing = assess(changed(pip(), {"donor.salvage": [item]})).drawings.donor
    assert drawing is not None
    return drawing.salvage[0]


def test_a_motor_s_label_by_hand() -> None:
    """8 kW at 72 V is 111 A; 60 rpm/V makes 4,320 rpm; a Kv of 60 makes 60/(2 pi 60) N·m a peak
    ampere times 1.5/sqrt(3), the usual conversion from line-to-line volts."""
    got = salvage(
        {
            "name": "From the ferry yard",
            "kind": "motor",
            "damage": "none seen",
            "volts_v": 72,
            "rated_w": 8000,
            "kv_rpm_v": 60,
            "amps_a": 200,
            "amp_basis": "peak",
        }
    )
    words = " ".join(got.usable)
    assert "111 A" in words and "4,320 rpm" in words
    torque = 60 / (2 * math.pi * 60) * math.sqrt(3) / 2 * 200
    assert f"{torque:.0f} N·m" in words


@pytest.mark.parametrize("damage", ["wet", "crushed or burnt"])
@pytest.mark.parametrize("kind", ["motor", "pack"])
def test_what_was_wet_or_burnt_is_not_used(damage: str, kind: str) -> None:
    assert salvage({"name": "X", "kind": kind, "damage": damage}).verdict == "no"


def test_nothing_known_is_nothing_proved() -> None:
    got = salvage({"name": "X", "kind": "motor"})
    assert got.verdict == "open" and not got.usable
    assert {p.state for p in got.proofs} == {"missing"}
