"""Numbers with units: one table of cases that the server and the page must read alike."""

from __future__ import annotations

import json
import math
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ninebolt.errors import QuantityError
from ninebolt.formats.spoken import say
from ninebolt.units import QUANTITIES, parse_number, parse_quantity, quantity_of, to_unit

CASES = json.loads((Path(__file__).parents[1] / "files/quantities.json").read_text())


@pytest.mark.parametrize(("text", "key", "si"), CASES["read"], ids=[c[0] for c in CASES["read"]])
def test_numbers_as_people_write_them(text: str, key: str, si: float) -> None:
    """The same table is read by the page's own tests."""
    assert parse_quantity(text, key) == pytest.approx(si, rel=1e-4)


@pytest.mark.parametrize(("text", "key"), CASES["refused"], ids=[c[0] for c in CASES["refused"]])
def test_what_is_no_number_or_no_unit_is_refused(text: str, key: str) -> None:
    with pytest.raises(QuantityError) as caught:
        parse_quantity(text, key)
    assert caught.value.expected


EVERY_UNIT = [(key, u.symbol) for key, q in QUANTITIES.items() for u in q.units]


@pytest.mark.parametrize(("key", "symbol"), EVERY_UNIT)
def test_every_unit_there_and_back(key: str, symbol: str) -> None:
    for x in (0.0, 1.0, 37.25):
        si = parse_quantity(f"{x} {symbol}", key)
        assert to_unit(si, key, symbol) == pytest.approx(x, abs=1e-9)


@pytest.mark.parametrize("key", sorted(QUANTITIES))
def test_no_two_units_of_a_kind_share_a_name(key: str) -> None:
    names = [n for u in QUANTITIES[key].units for n in (u.symbol, *u.aliases)]
    assert len(names) == len(set(names))
    assert QUANTITIES[key].units[0].factor == 1 and QUANTITIES[key].units[0].offset == 0


@given(
    st.floats(-1e9, 1e9).filter(lambda x: x == 0 or abs(x) > 1e-6), st.sampled_from(" \u00a0\u202f")
)
def test_thousands_parted_in_any_way_are_one_number(x: float, space: str) -> None:
    """Printed with points or commas, thousands parted by the other mark or by a space."""
    plain = f"{x:.3f}"
    american = f"{x:,.3f}"
    german = american.replace(",", "_").replace(".", ",").replace("_", ".")
    printed = american.replace(",", space)
    for text in (plain, american, german, printed, printed.replace(".", ",")):
        assert parse_number(text) == pytest.approx(float(plain), abs=1e-9), text


@given(st.text(max_size=12))
def test_any_text_is_a_finite_number_or_refused(text: str) -> None:
    try:
        assert math.isfinite(parse_quantity(text, "v"))
    except QuantityError as error:
        assert error.what


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


@pytest.mark.parametrize(("si", "quantity", "symbol"), CASES["shown_in"])
def test_a_number_on_paper_takes_the_unit_that_a_page_gives_it(
    si: float, quantity: str, symbol: str
) -> None:
    """The same cases are read by the page's own tests."""
    assert say(si, quantity).split(" ")[-1] == symbol
