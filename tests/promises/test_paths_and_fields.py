"""Documents and the paths into them: what is refused, in which words; nothing is mutated."""

from __future__ import annotations

import copy
import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ninebolt.core.build import Build
from ninebolt.core.codec import MAX_ITEMS, decode, encode, get_path, set_path
from ninebolt.core.value import Value
from ninebolt.errors import FieldError, NotFoundError
from ninebolt.library.demo import DEMOS, moss

REFUSED: dict[str, tuple[dict[str, Any], str, str]] = {
    "no object": ({"pack": 7}, "must be an object", "pack"),
    "a list for an object": ({"pack": []}, "must be an object", "pack"),
    "unknown field": ({"pack": {"serie": 3}}, "no field 'serie'", "pack"),
    "unknown field at the top": ({"pak": {}}, "no field 'pak'", "top level"),
    "no list": ({"donor": {"bays": {}}}, "must be a list", "donor.bays"),
    "too long a list": ({"wire": {"done": [""] * (MAX_ITEMS + 1)}}, "too long", "wire.done"),
    "no pair": ({"tune": {"throttle": [[1, 2, 3]]}}, "must be a pair", "tune.throttle.0"),
    "falling pairs": (
        {"pack": {"cell": {"ocv": [[1, 4.1], [0, 3.0]]}}},
        "must rise",
        "pack.cell.ocv",
    ),
    "two corners": (
        {"donor": {"bays": [{"outline": [[0, 0], [0.1, 0]]}]}},
        "more corners",
        "donor.bays.0.outline",
    ),
    "a corner in millimetres": (
        {"donor": {"bays": [{"outline": [[0, 0], [330, 0], [330, 240]]}]}},
        "too far away",
        "donor.bays.0.outline",
    ),
    "no flag": ({"prove": {"rollout": 1}}, "true or false", "prove.rollout"),
    "half a cell": ({"pack": {"series": 2.5}}, "whole number", "pack.series"),
    "true cells": ({"pack": {"series": True}}, "whole number", "pack.series"),
    "no cells": ({"pack": {"series": 0}}, "at least 1", "pack.series"),
    "no text": ({"name": 7}, "must be a text", "name"),
    "too long a text": ({"note": "x" * 20_001}, "too long", "note"),
    "no choice": ({"pack": {"housing": "paper"}}, "not one of the choices", "pack.housing"),
    "no value": ({"road": {"crr": [1]}}, "not a value", "road.crr"),
    "a flag for a value": ({"road": {"crr": True}}, "not a value", "road.crr"),
    "more than a value": ({"road": {"crr": {"amount": 1, "by": 2}}}, "not a value", "road.crr"),
    "hearsay": (
        {"road": {"crr": {"amount": 0.02, "origin": "hearsay"}}},
        "Unknown origin",
        "road.crr",
    ),
    "an origin that is no text": (
        {"road": {"crr": {"amount": 0.02, "origin": ["guess"]}}},
        "Unknown origin",
        "road.crr",
    ),
    "wild tolerance": (
        {"road": {"crr": {"amount": 0.02, "tolerance": 9}}},
        "tolerance is out of range",
        "road.crr",
    ),
    "no tolerance": (
        {"road": {"crr": {"amount": 0.02, "tolerance": "some"}}},
        "must be a number",
        "road.crr.tolerance",
    ),
    "endless": ({"road": {"crr": math.inf}}, "finite", "road.crr"),
    "beyond any float": ({"road": {"crr": 10**400}}, "finite", "road.crr"),
    "wrong unit": ({"donor": {"mass_kg": "90 V"}}, "not a unit", "donor.mass_kg"),
    "below nothing": ({"donor": {"mass_kg": -1}}, "must be", "donor.mass_kg"),
}


@pytest.mark.parametrize("name", REFUSED)
def test_what_no_build_can_hold_is_refused_at_its_place(name: str) -> None:
    doc, words, where = REFUSED[name]
    with pytest.raises(FieldError, match=words) as caught:
        decode(Build, doc)
    assert caught.value.where == where and caught.value.message()


def test_a_slip_of_the_pen_is_answered_with_what_was_meant() -> None:
    with pytest.raises(FieldError) as caught:
        decode(Build, {"pack": {"serie": 3}})
    assert "series" in caught.value.todo
    with pytest.raises(FieldError) as caught:
        set_path(encode(Build()), "pakc.series", 3)
    assert "pack" in caught.value.todo
    with pytest.raises(FieldError) as caught:
        set_path(encode(Build()), "qqqq.series", 3)
    assert caught.value.todo == ""


@pytest.mark.parametrize("name", sorted(DEMOS))
def test_out_and_in_again_is_the_same_build(name: str) -> None:
    build = DEMOS[name]()
    assert decode(Build, encode(build)) == build
    assert decode(Build, {}) == Build()


@pytest.mark.parametrize(
    ("given_value", "read"),
    [
        (None, Value()),
        (90, Value(90.0, "datasheet")),
        ("90", Value(90.0, "datasheet")),
        ("198.416 lb", Value(pytest.approx(90.0, rel=1e-5), "datasheet")),
        ({"amount": 90}, Value(90.0, "datasheet")),
        ({"amount": "90 kg", "origin": "measured"}, Value(90.0, "measured")),
        ({"amount": 90, "origin": "label", "tolerance": 0.1}, Value(90.0, "label", 0.1)),
        ({"amount": None, "origin": "guess"}, Value()),
    ],
)
def test_a_number_may_be_written_in_many_ways(given_value: Any, read: Value) -> None:
    got = decode(Build, {"donor": {"mass_kg": given_value}}).donor.mass_kg
    assert (got.amount, got.origin, got.tolerance) == (read.amount, read.origin, read.tolerance)


# Paths


@pytest.mark.parametrize(
    "path",
    [
        "donor.bays.-1",
        "donor.bays.1.5",
        "donor.bays.\u00b2",
        "donor.bays." + "9" * 5000,
        "donor.bays.99",
        "donor.bays.one",
        "name.first",
        "pack.series.0",
        "",
        ".",
        "pack.",
        "pack..series",
        "nowhere",
    ],
)
def test_a_path_that_leads_nowhere_is_said_to(path: str) -> None:
    doc = encode(moss())
    with pytest.raises(NotFoundError, match="nothing at"):
        get_path(doc, path)
    try:
        made = set_path(doc, path, 1)
    except FieldError as error:
        assert error.what
    else:  # a field of its own, which the build then refuses
        with pytest.raises(FieldError):
            decode(Build, made)


def walk(doc: Any, at: str = "") -> list[str]:
    inside = (
        doc.items() if isinstance(doc, dict) else enumerate(doc) if isinstance(doc, list) else ()
    )
    out = [at] if at else []
    for key, value in inside:
        out += walk(value, f"{at}.{key}" if at else str(key))
    return out


DOC = encode(moss())
PATHS = walk(DOC)


@given(st.sampled_from(PATHS), st.one_of(st.none(), st.integers(), st.text(max_size=4)))
def test_what_is_put_at_a_path_is_found_there_and_nowhere_else(path: str, value: Any) -> None:
    """A copy is made; the old document and everything beside the path stay as they were."""
    before = copy.deepcopy(DOC)
    made = set_path(DOC, path, value)
    assert before == DOC
    assert get_path(made, path) == value
    for other in PATHS[:: max(1, len(PATHS) // 60)]:
        apart = not (other == path or other.startswith(path + ".") or path.startswith(other + "."))
        if apart:
            assert get_path(made, other) == get_path(before, other)


@given(st.sampled_from(PATHS))
def test_putting_back_what_was_there_changes_nothing(path: str) -> None:
    assert set_path(DOC, path, get_path(DOC, path)) == DOC


def test_a_list_grows_at_its_end_only() -> None:
    made = set_path({"a": [1, 2]}, "a.2", 3)
    assert made == {"a": [1, 2, 3]}
    with pytest.raises(FieldError) as caught:
        set_path({"a": [1, 2]}, "a.3", 3)
    assert caught.value.expected == "0 to 2"
    assert set_path({"a": [{"b": 1}]}, "a.0.b", 2) == {"a": [{"b": 2}]}
