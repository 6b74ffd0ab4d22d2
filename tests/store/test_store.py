"""Stored things: migrations, backups, damage, undo, and a server killed in the middle."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
from copy import deepcopy
from pathlib import Path

import pytest
from hypothesis import settings

from ninebolt.core.codec import encode
from ninebolt.errors import ConflictError, FieldError, NotFoundError, StoreError
from ninebolt.library.demo import brakka
from ninebolt.services import garage, rides, workshop
from ninebolt.services.docs import doc_at
from ninebolt.services.house import House
from ninebolt.store import builds
from ninebolt.store.database import connect, session, snapshot, transaction
from ninebolt.store.migrate import Migration, applied, bundled, migrate, statements


def test_migrations_are_applied_once_and_recorded(house: House) -> None:
    with session(house.path) as db:
        assert applied(db) == tuple(m.number for m in bundled())
        assert migrate(db, house.path, "now") == ()


def test_a_failing_migration_leaves_no_trace(house: House) -> None:
    """Half of it done, then an error: nothing of it stays, and a backup was made first."""
    bad = Migration(
        99, "bad", "CREATE TABLE a (x INTEGER) STRICT;\nINSERT INTO nowhere VALUES (1);"
    )
    with session(house.path) as db:
        with pytest.raises(StoreError, match="nowhere"):
            migrate(db, house.path, "now", (*bundled(), bad))
        assert 99 not in applied(db)
        assert not db.execute("SELECT 1 FROM sqlite_master WHERE name = 'a'").fetchone()
    assert (house.path.parent / "backups" / "ninebolt-before-099.sqlite3").exists()


def test_a_backup_holds_what_was_there(house: House) -> None:
    build_id = garage.create(house, "Keep me", brakka())
    good = Migration(98, "good", "CREATE TABLE later (x INTEGER) STRICT;")
    with session(house.path) as db:
        assert migrate(db, house.path, "now", (*bundled(), good)) == (98,)
    copy = connect(house.path.parent / "backups" / "ninebolt-before-098.sqlite3")
    assert doc_at(copy, build_id, 1)["name"] == "Keep me"
    copy.close()


def test_a_newer_database_is_refused(house: House) -> None:
    with session(house.path) as db:
        db.execute("INSERT INTO migration VALUES (500, 'future', 'x')")
    with pytest.raises(StoreError, match="newer program"):
        House.open(house.path.parent)


def test_damage_is_found_at_start(house: House) -> None:
    garage.create(house, "A", brakka())
    with session(house.path) as db:
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    data = bytearray(house.path.read_bytes())
    data[4096 : 4096 + 3000] = b"\x5a" * 3000
    house.path.write_bytes(bytes(data))
    with pytest.raises(StoreError, match=r"damaged|cannot be opened"):
        House.open(house.path.parent)


def test_statements_are_told_apart_by_sqlite() -> None:
    sql = "CREATE TABLE a (x TEXT DEFAULT ';');\nINSERT INTO a\nVALUES ('b;c');\n"
    assert len(statements(sql)) == 2


def test_undo_and_redo_walk_the_revisions(demo: House) -> None:
    workshop.change(demo, "moss-84", [{"path": "gear.rear_teeth", "value": 52}])
    workshop.change(demo, "moss-84", [{"path": "gear.rear_teeth", "value": 50}])
    assert workshop.undo(demo, "moss-84").doc["gear"]["rear_teeth"] == 52
    assert workshop.undo(demo, "moss-84", redo=True).doc["gear"]["rear_teeth"] == 50
    workshop.undo(demo, "moss-84")
    branch = workshop.change(demo, "moss-84", [{"path": "gear.rear_teeth", "value": 60}])
    assert not branch.can_redo and branch.can_undo
    history = workshop.history(demo, "moss-84")
    assert history[0].changes == [{"path": "gear.rear_teeth", "old": 52, "new": 60}]


def test_a_trial_touches_nothing_until_it_is_kept(demo: House) -> None:
    before = workshop.bench(demo, "moss-84")
    workshop.open_trial(demo, "moss-84")
    tried = workshop.change(demo, "moss-84", [{"path": "pack.parallel", "value": 11}])
    assert tried.seq == before.seq and tried.before == before.assessment.headline
    assert tried.assessment.headline.range_m > before.assessment.headline.range_m  # type: ignore[operator]
    again = House.open(demo.path.parent)  # a restart
    assert workshop.bench(again, "moss-84").trial == [{"path": "pack.parallel", "value": 11}]
    assert workshop.drop_trial(again, "moss-84").doc == before.doc
    workshop.open_trial(again, "moss-84")
    workshop.change(again, "moss-84", [{"path": "pack.parallel", "value": 10}])
    kept = workshop.keep_trial(again, "moss-84")
    assert kept.trial is None and kept.doc["pack"]["parallel"] == 10 and kept.seq > before.seq


def test_bad_changes_store_nothing(demo: House) -> None:
    before = workshop.bench(demo, "moss-84")
    for bad in (
        [{"path": "pack.series", "value": 0}],
        [{"path": "pack.parallel", "value": 3}, {"path": "road.crr", "value": "abc"}],
        [{"path": "marks", "value": []}],
        [{"path": "nowhere.at.all", "value": 1}],
    ):
        with pytest.raises(FieldError):
            workshop.change(demo, "moss-84", bad)
    with pytest.raises(ConflictError):
        workshop.change(demo, "moss-84", [{"path": "pack.series", "value": 22}], version="77")
    assert workshop.bench(demo, "moss-84") == before


def test_signing_wants_a_bolt_that_computes_and_nothing_that_stops(demo: House) -> None:
    with pytest.raises(ConflictError, match="stop"):
        workshop.sign(demo, "pip-72", "guard")
    empty = garage.create(demo, "Empty")
    with pytest.raises(ConflictError, match="Not enough"):
        workshop.sign(demo, empty, "drive")
    with pytest.raises(NotFoundError):
        workshop.sign(demo, "pip-72", "tenth")
    signed = workshop.sign(demo, "moss-84", "drive")
    assert signed.assessment.bolt("drive").state == "marked"
    wiped = workshop.unsign(demo, "moss-84", "drive")
    assert wiped.assessment.bolt("drive").state == "snug"


def test_a_build_travels_with_its_logs_and_marks(demo: House, tmp_path: Path) -> None:
    name, data = garage.export(demo, "brakka-96", with_logs=True)
    other = House.open(tmp_path / "other")
    new = garage.import_build(other, data, name)
    a, b = workshop.bench(demo, "brakka-96"), workshop.bench(other, new)
    assert len(rides.logs(other, new)) == len(rides.logs(demo, "brakka-96")) == 2
    own, others = deepcopy(a.doc), deepcopy(b.doc)  # a document that is kept is not changed by hand
    for doc in (own, others):
        doc["prove"].pop("log_id")
    assert own == others
    assert [x.state for x in a.assessment.bolts] == [x.state for x in b.assessment.bolts]
    assert a.assessment.drawings.prove == b.assessment.drawings.prove


def test_archive_rename_duplicate(demo: House) -> None:
    copy = garage.duplicate(demo, "pip-72")
    garage.rename(demo, copy, "  Pip   again ")
    garage.archive(demo, copy, True)
    card = next(c for c in garage.cards(demo) if c.id == copy)
    assert card.name == "Pip again" and card.archived
    with pytest.raises(FieldError):
        garage.rename(demo, copy, "  ")
    assert workshop.undo(demo, copy).name == "Pip 72 (copy)"


def test_transactions_are_all_or_nothing(house: House) -> None:
    build_id = garage.create(house, "A")
    with session(house.path) as db, pytest.raises(ZeroDivisionError), transaction(db):
        db.execute("UPDATE build SET name = 'B'")
        raise ZeroDivisionError
    assert workshop.bench(house, build_id).name == "A"


WRITER = """
import sys
from pathlib import Path
from ninebolt.services import workshop
from ninebolt.services.house import House
house = House.open(Path(sys.argv[1]))
teeth = 20
while True:
    teeth = 20 + (teeth - 19) % 80
    workshop.change(house, sys.argv[2], [{"path": "gear.rear_teeth", "value": teeth}])
    print(teeth, flush=True)
"""


def test_killed_in_the_middle_nothing_acknowledged_is_lost(house: House) -> None:
    """A process that writes without pause is killed, 3 times, 60 in the long form; the last change it reported is
    there."""
    build_id = garage.create(house, "A")
    acknowledged = 0  # changes that were said to be kept
    for _ in range(60 if (settings().max_examples or 0) >= 600 else 3):
        process = subprocess.Popen(
            [sys.executable, "-c", WRITER, str(house.path.parent), build_id],
            stdout=subprocess.PIPE,
            text=True,
            start_new_session=True,
        )
        assert process.stdout is not None
        for _ in range(12):
            process.stdout.readline()
        os.kill(process.pid, signal.SIGKILL)
        said = [int(x) for x in process.stdout.read().split()]
        process.wait()
        time.sleep(0.05)
        again = House.open(house.path.parent)
        rows = [c["new"] for r in workshop.history(again, build_id) for c in r.changes]
        assert not said or said[-1] in rows[:2]
        acknowledged += 12 + len(said)
        json.dumps(workshop.bench(again, build_id).doc)
    print(f"{acknowledged} acknowledged changes, none lost")


def test_marks_survive_as_documents(demo: House) -> None:
    doc = encode(workshop.shown_build(demo, "brakka-96"))
    mark = next(m for m in doc["marks"] if m["bolt"] == "gear")
    assert mark["inputs"]["gear.rear_teeth"] == 56 and doc["gear"]["rear_teeth"] == 54
    assert encode(brakka())["marks"] == []


def test_what_is_read_together_is_of_one_moment(demo: House) -> None:
    """A version read beside an older document would let a page overwrite what it never saw."""
    with session(demo.path) as mine, session(demo.path) as theirs:
        with snapshot(mine):
            before = builds.version_of(mine, "pip-72")
            with transaction(theirs):
                builds.put_trial(theirs, "pip-72", 1, [], "2031-05-04")
            assert builds.version_of(mine, "pip-72") == before
        assert builds.version_of(mine, "pip-72") != before
