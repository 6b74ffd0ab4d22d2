"""The person's own parts, and builds that an older version stored."""

from __future__ import annotations

import json
import sqlite3
from pathlib import Path

import pytest

from ninebolt.core.bolts.assess import assess
from ninebolt.core.build import FORMAT_VERSION
from ninebolt.core.codec import encode
from ninebolt.core.parts.guard import Bms
from ninebolt.errors import FieldError, FormatError, InputError, NotFoundError
from ninebolt.formats.build_json import build_of, document, dumped, loaded, read_build
from ninebolt.library.catalogue import item
from ninebolt.services import garage, shelf, workshop
from ninebolt.services.house import House
from ninebolt.store.builds import insert_build, text_at
from ninebolt.store.database import session, transaction

OLD = Path(__file__).parents[1] / "files" / "builds" / "version-1.json"


def own(house: House, kind: str) -> list[str]:
    return [x.name for x in shelf.shelf_items(house, kind) if x.own]


def test_keep_change_remove(house: House) -> None:
    doc = {**encode(item("bms", "bms-20-60").part), "name": "Club BMS"}
    made = shelf.keep(house, "bms", doc)
    assert own(house, "bms") == ["Club BMS"] and made.own
    shelf.keep(house, "bms", {**doc, "i_cont_a": 90}, made.id)
    parts = {p.name: p for p in house.shelf().of("bms", Bms)}
    assert parts["Club BMS"].i_cont_a.amount == 90
    shelf.remove(house, made.id)
    assert own(house, "bms") == [] and "Club BMS" not in {
        p.name for p in house.shelf().of("bms", Bms)
    }
    with pytest.raises(NotFoundError):
        shelf.remove(house, made.id)


def test_what_is_on_the_shelf_is_proposed(demo: House) -> None:
    """A fitting BMS of one's own stands among the swaps at once, although nothing in the build
    changed."""
    before = workshop.bench(demo, "pip-72").assessment.drawings.guard
    doc = {
        **encode(item("bms", "bms-20-100").part),
        "name": "Borrowed BMS 20s 101 A",
        "i_cont_a": 101,
    }
    shelf.keep(demo, "bms", doc)
    after = workshop.bench(demo, "pip-72").assessment.drawings.guard
    assert before and after

    def labels(d: object) -> str:
        return json.dumps([[f.label for f in x.swaps] for x in d.links])  # type: ignore[attr-defined]

    assert "Borrowed BMS" not in labels(before) and "Borrowed BMS" in labels(after)


def test_from_a_build_with_its_trial(demo: House) -> None:
    workshop.open_trial(demo, "moss-84")
    workshop.change(demo, "moss-84", [{"path": "pack.cell.name", "value": "Tried cell"}])
    assert shelf.keep_from_build(demo, "moss-84", "pack.cell", "cell").name == "Tried cell"
    with pytest.raises(NotFoundError):
        shelf.keep_from_build(demo, "moss-84", "pack.sail", "cell")


@pytest.mark.parametrize(
    ("kind", "doc", "error"),
    [
        ("sail", {"name": "x"}, FormatError),
        ("cell", {"name": " "}, FieldError),
        ("cell", {"name": "x", "capacity_ah": -2}, FieldError),
        ("cell", {"name": "x", "colour": "red"}, FieldError),
    ],
)
def test_bad_parts_are_not_kept(
    house: House, kind: str, doc: dict[str, object], error: type[Exception]
) -> None:
    with pytest.raises(error):
        shelf.keep(house, kind, doc)
    assert own(house, "cell") == []


def test_a_file_is_taken_whole_or_not_at_all(house: House) -> None:
    good = b"name,capacity_ah\nA,2\nB,3\n"
    assert shelf.import_parts(house, good, "lot.csv", "cell") == 2
    with pytest.raises(FieldError):
        shelf.import_parts(house, b"name,capacity_ah\nC,2\nD,-1\n", "bad.csv", "cell")
    assert own(house, "cell") == ["A", "B"]
    assert shelf.import_parts(house, b"name,capacity_ah\nA,9\n", "lot.csv", "cell") == 1
    a = next(x for x in shelf.shelf_items(house, "cell") if x.name == "A")
    assert own(house, "cell") == ["A", "B"] and a.doc["capacity_ah"]["amount"] == 9


@pytest.mark.parametrize("form", ["csv", "json"])
def test_export_holds_own_and_bundled_and_reads_back(house: House, form: str) -> None:
    shelf.keep(house, "fuse", {"name": "Odd fuse", "rated_a": 130})
    name, _, data = shelf.export_parts(house, "fuse", form)
    assert name == f"fuse-parts.{form}"
    other = House.open(house.path.parent / "other")
    count = shelf.import_parts(other, data, name)
    assert count == len(shelf.shelf_items(house, "fuse")) and "Odd fuse" in own(other, "fuse")


# Versions


def test_a_file_of_version_1_reads_and_computes() -> None:
    build = read_build(OLD.read_bytes(), "old.json")
    assert json.loads(OLD.read_text())["format_version"] == 1
    assert build.format_version == FORMAT_VERSION
    assert assess(build).headline.peak_wheel_w == pytest.approx(5670, rel=0.02)


def test_a_stored_build_of_version_1_opens_and_takes_today_s_fields(house: House) -> None:
    """Written as the older program left it; changed where that program had no field."""
    raw = json.loads(OLD.read_text())
    with session(house.path) as db, transaction(db):
        insert_build(db, "old", raw["name"], raw, house.now(), "Created")
    assert workshop.bench(house, "old").doc["format_version"] == FORMAT_VERSION
    change = [{"path": "donor.ratings.power_w", "value": 1000}]
    bench = workshop.change(house, "old", change)
    assert bench.doc["donor"]["ratings"]["power_w"]["amount"] == 1000
    assert {c.id for c in garage.cards(house)} == {"old"}
    workshop.undo(house, "old")
    with session(house.path) as db:
        assert json.loads(text_at(db, "old", 1)) == raw  # what was stored stays as it was


def test_a_database_without_the_shelf_gets_one(tmp_path: Path) -> None:
    """As version 1 left it: the first migration alone."""
    from ninebolt.store.migrate import bundled, migrate

    db = sqlite3.connect(tmp_path / "ninebolt.sqlite3", isolation_level=None)
    db.row_factory = sqlite3.Row
    migrate(db, tmp_path / "ninebolt.sqlite3", "then", bundled()[:1])
    db.close()
    house = House.open(tmp_path)
    shelf.keep(house, "plug", {"name": "Plug"})
    assert own(house, "plug") == ["Plug"]


def test_a_document_dumped_piece_by_piece_is_the_plain_dump(demo: House) -> None:
    """Against json itself, over every demo build, changed and unchanged; what is loaded again is equal, and a
    foreign text is read like any other."""
    for key in ("brakka-96", "pip-72", "moss-84"):
        build = workshop.shown_build(demo, key)
        doc = document(build)
        assert dumped(doc) == json.dumps(doc)
        assert loaded(dumped(doc)) == json.loads(json.dumps(doc))
        other = {**doc, "name": 'ü " \\ { }', "goal": {**doc["goal"], "hill_pct": None}}
        assert dumped(other) == json.dumps(other)
        assert loaded(json.dumps(other, indent=1)) == other
        assert build_of(loaded(dumped(doc)), "x") == build


def test_a_bolt_that_cannot_be_drawn_says_so_and_the_others_work(
    demo: House, monkeypatch: pytest.MonkeyPatch
) -> None:
    def breaks(bike: object) -> None:
        raise ZeroDivisionError("far from any bike")

    monkeypatch.setattr("ninebolt.core.bolts.gear.bolt.ladder", breaks)
    a = assess(workshop.shown_build(demo, "moss-84"))
    shown = a.seen(("gear",))
    assert shown.bolt("gear").state == "failed"
    assert "far from any bike" in shown.bolt("gear").findings[0].reason
    other = assess(workshop.shown_build(demo, "moss-84")).seen(("drive",))
    assert other.bolt("drive").state != "failed"
    assert other.drawings.drive is not None
    assert other.drawings.gear is None


def test_what_cannot_be_drawn_is_not_stored(demo: House, monkeypatch: pytest.MonkeyPatch) -> None:
    """On screen or not: the change is refused, on trial too, and the build stays as it was."""

    def breaks(bike: object) -> None:
        raise ZeroDivisionError("far from any bike")

    monkeypatch.setattr("ninebolt.core.bolts.gear.bolt.ladder", breaks)
    before = workshop.shown_build(demo, "moss-84")
    change = [{"path": "gear.rear_teeth", "value": 46}]
    for _ in range(2):
        with pytest.raises(InputError, match="nothing was stored"):
            workshop.change(demo, "moss-84", change)
        assert workshop.shown_build(demo, "moss-84") == before
        workshop.open_trial(demo, "moss-84")
