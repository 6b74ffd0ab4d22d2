"""Build documents: nothing is lost on the way, and what is wrong is named with its place."""

from __future__ import annotations

import dataclasses
import json
from functools import cache
from typing import Any

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ninebolt.core.build import Build
from ninebolt.core.codec import decode, encode, fields_of, get_path, set_path
from ninebolt.core.value import Value
from ninebolt.errors import FieldError, InputError, TooLargeError
from ninebolt.formats.build_json import read_build, write_build
from ninebolt.formats.schema import SCHEMAS
from ninebolt.library.catalogue import KINDS, items
from ninebolt.library.demo import DEMOS, brakka


def test_round_trip_loses_nothing(demo_build: Build) -> None:
    assert read_build(write_build(demo_build)) == demo_build


def test_examples_are_the_demo_builds() -> None:
    from conftest import ROOT

    for key, make in DEMOS.items():
        assert read_build((ROOT / f"examples/builds/{key}.json").read_bytes()) == make()


@cache
def validator(name: str) -> jsonschema.Draft202012Validator:
    """A validator of one of our schemas, which is itself found sound first."""
    schema = SCHEMAS[name]()
    jsonschema.Draft202012Validator.check_schema(schema)
    return jsonschema.Draft202012Validator(schema)


def test_documents_keep_the_published_schema(demo_build: Build) -> None:
    """Checked by a general-purpose JSON Schema validator, which also finds the schema sound."""
    judge = validator("build")
    judge.validate(json.loads(write_build(demo_build)))
    with pytest.raises(jsonschema.ValidationError):
        judge.validate({"format_version": 1, "pack": {"series": "many"}})


def test_bundled_parts_keep_the_schema_and_say_where_they_come_from() -> None:
    judge = validator("parts")
    for kind in KINDS:
        rows = [{"id": x.id, **encode(x.part)} for x in items(kind)]
        judge.validate({"kind": kind, "items": rows})
        assert len({r["id"] for r in rows}) == len(rows)
        assert all(r["source"] and r["name"] for r in rows)


VALUES = [
    (path, spec)
    for path, spec in (
        (f"{part}.{name}", spec)
        for part, cls in (("pack", "Pack"), ("road", "Road"), ("goal", "Goal"))
        for name, (spec, _) in fields_of(type(getattr(Build(), part))).items()
    )
    if spec is not None and spec.kind == "number"
]


@settings(max_examples=60, deadline=None)
@given(st.sampled_from(VALUES), st.floats(allow_nan=True), st.data())
def test_any_number_is_kept_or_refused_with_its_place(
    row: tuple[str, Any], number: float, data: st.DataObject
) -> None:
    path, _spec = row
    origin = data.draw(st.sampled_from(["label", "datasheet", "measured", "guess"]))
    doc = set_path(encode(Build()), path, {"amount": number, "origin": origin, "tolerance": 0.1})
    try:
        build = decode(Build, doc)
    except FieldError as error:
        assert error.where == path and error.what
        return
    part, name = path.split(".")
    assert getattr(getattr(build, part), name) == Value(number, origin, 0.1)


BAD = {
    "newer version": (b'{"format_version": 99}', "newer program"),
    "no version": (b"{}", "which version"),
    "not json": (b"{format", "breaks off"),
    "empty": (b"  ", "empty"),
    "binary": (b"\x00\xff\xfe\x80", "not a text file"),
    "a list": (b"[1]", "not a build"),
    "NaN": (b'{"format_version": 1, "pack": {"floor_v": NaN}}', "NaN"),
    "wrong type": (b'{"format_version": 1, "pack": {"series": "x"}}', "pack.series"),
    "misspelt": (b'{"format_version": 1, "pakc": {}}', "Did you mean pack"),
    "negative": (b'{"format_version": 1, "pack": {"cell": {"capacity_ah": -4}}}', "above 0"),
    "zero": (b'{"format_version": 1, "pack": {"cell": {"r0_ohm": 0}}}', "above 0"),
    "P = 0": (b'{"format_version": 1, "pack": {"parallel": 0}}', "at least 1"),
    "3,000 V": (b'{"format_version": 1, "pack": {"floor_v": 3000}}', "at most 1000"),
    "wrong unit": (b'{"format_version": 1, "pack": {"floor_v": "12 lb"}}', "not a unit of voltage"),
    "word": (b'{"format_version": 1, "pack": {"floor_v": "abc"}}', "not a number"),
    "falling curve": (
        b'{"format_version": 1, "pack": {"cell": {"ocv": [[0, 3], [0, 4]]}}}',
        "must rise",
    ),
    "deep": (b'{"format_version": 1, "note": ' + b"[" * 100_000, "cannot be read"),
}


@pytest.mark.parametrize("name", BAD)
def test_bad_build_files_are_named(name: str) -> None:
    """What, where, what was expected."""
    data, words = BAD[name]
    with pytest.raises(InputError, match=words) as caught:
        read_build(data, "bike.json")
    assert "bike.json" in caught.value.message()


def test_a_huge_file_is_refused_before_it_is_read() -> None:
    with pytest.raises(TooLargeError, match="200 MB"):
        read_build(b" " * 200_000_000, "bike.json")


def test_set_path_shares_and_appends() -> None:
    doc = encode(brakka())
    new = set_path(doc, "donor.items.5", {"name": "Rack"})
    assert len(doc["donor"]["items"]) == 5 and get_path(new, "donor.items.5.name") == "Rack"
    assert new["pack"] is doc["pack"]
    with pytest.raises(FieldError, match="Did you mean"):
        set_path(doc, "drive.motr.kv_rpm_v", 3)
    with pytest.raises(FieldError, match="no such place"):
        set_path(doc, "donor.items.9", {})


def test_every_field_of_the_build_has_a_spec() -> None:
    """Forms, ranges and units all come from specs, so none may be missing."""
    seen: set[type] = set()

    def walk(cls: type) -> None:
        if cls in seen:
            return
        seen.add(cls)
        for name, (spec, hint) in fields_of(cls).items():
            for inner in (hint, *getattr(hint, "__args__", ())):
                if isinstance(inner, type) and dataclasses.is_dataclass(inner) and inner != Value:
                    walk(inner)
            if (cls.__name__, name) not in {
                ("Build", "format_version"),
                ("Tune", "throttle"),
                ("ParamChoice", "value"),
                ("Mark", "inputs"),
            }:
                assert spec is not None and spec.label, f"{cls.__name__}.{name}"

    walk(Build)
    assert len(seen) > 20
