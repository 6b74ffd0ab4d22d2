"""Numbers as people write them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ninebolt.errors import QuantityError
from ninebolt.units import QUANTITIES, parse_quantity, quantity_of, to_unit


@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [
        ("72 V", "v", 72.0),
        ("0,3 kA", "a", 300.0),
        ("3.5mΩ", "ohm", 0.0035),
        ("3,5 mohm", "ohm", 0.0035),
        ("12", "v", 12.0),
        ("1,234.5 W", "w", 1234.5),
        ("1.234,5 W", "w", 1234.5),
        ("1 500 W", "w", 1500.0),
        ("-5 °C", "c", -5.0),
        ("97 km/h", "m_s", 97 / 3.6),
        ("60 mph", "m_s", 26.8224),
        ("2 in", "m", 0.0508),
        ("50 mm²", "m2", 5e-5),
        ("1e3", "v", 1000.0),
        ("20kW", "w", 20000.0),
    ],
)
def test_reads(text: str, kind: str, si: float) -> None:
    assert parse_quantity(text, kind) == pytest.approx(si)


@pytest.mark.parametrize(
    ("text", "kind", "words"),
    [
        ("abc", "v", "not a number"),
        ("", "v", "not a number"),
        ("12 lb", "v", "not a unit of"),
        ("nan", "v", "not a number"),
        ("inf", "v", "not a number"),
        ("1e999", "v", "not a number"),
        ("5 A", "ohm", "not a unit of"),
    ],
)
def test_refuses(text: str, kind: str, words: str) -> None:
    """The message names what is wrong and what is allowed."""
    with pytest.raises(QuantityError, match=words) as caught:
        parse_quantity(text, kind)
    assert caught.value.expected


@given(st.sampled_from(sorted(QUANTITIES)), st.floats(-1e6, 1e6), st.data())
def test_every_unit_goes_out_and_comes_back(kind: str, si: float, data: st.DataObject) -> None:
    unit = data.draw(st.sampled_from(QUANTITIES[kind].units))
    back = parse_quantity(f"{to_unit(si, kind, unit.symbol)!r} {unit.symbol}", kind)
    assert back == pytest.approx(si, rel=1e-9, abs=1e-6 * abs(unit.factor) + 1e-9)


@pytest.mark.parametrize(
    ("name", "kind"),
    [
        ("kv_rpm_v", "rpm_v"),
        ("case_air_k_w", "k_w"),
        ("drag_nm_s_rad", "nm_s_rad"),
        ("line_a", "a"),
        ("top_speed_m_s", "m_s"),
        ("crr", "ratio"),
        ("wheel_kg_m2", "kg_m2"),
    ],
)
def test_a_name_says_its_unit(name: str, kind: str) -> None:
    assert quantity_of(name).key == kind
