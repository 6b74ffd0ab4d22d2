"""A clock that was ahead, and is right again: what was written last is last all the same."""

from __future__ import annotations

import pytest

from ninebolt.core.setting.sets import Identity
from ninebolt.services.house import House
from ninebolt.services.session_setups import set_in_force
from ninebolt.store import controllers
from ninebolt.store.database import session, transaction
from ninebolt.store.migrate import KEEP, regular_backup

DEVICE = Identity(vendor=1, product=2, serial=3)
AHEAD, RIGHT = "2032-01-01T08:00:00.000+00:00", "2031-05-04T10:00:00.000+00:00"


def put(house: House, key: str, build: str, at: str) -> None:
    read = controllers.ReadingRow(f"r{key}", build, at, "", DEVICE, "own", {})
    row = controllers.WritingRow(
        f"w{key}", build, f"r{key}", at, "", DEVICE, "own", (), "verified", "", at
    )
    with session(house.path) as db, transaction(db):
        controllers.insert_reading(db, read)
        controllers.insert_writing(db, row)


def test_dangerous_the_controller_was_last_written_for_the_other_bike(demo: House) -> None:
    put(demo, "first", "brakka-96", AHEAD)
    put(demo, "second", "moss-84", RIGHT)
    with session(demo.path) as db:
        assert controllers.written_for(db, DEVICE) == "moss-84"


def test_runs_belong_to_the_set_that_was_written_last(demo: House) -> None:
    for key, at in (("first", AHEAD), ("second", RIGHT), ("third", RIGHT)):
        put(demo, key, "moss-84", at)
    with session(demo.path) as db:
        assert [w.id for w in controllers.list_writings(db, "moss-84")] == [
            "wthird",
            "wsecond",
            "wfirst",
        ]
        assert controllers.list_readings(db, "moss-84")[0].id == "rthird"
        assert set_in_force(db, "moss-84") == "wthird"


def test_ordinary_moments_stay_as_they_are(demo: House) -> None:
    put(demo, "first", "moss-84", RIGHT)
    put(demo, "second", "moss-84", AHEAD)
    with session(demo.path) as db:
        assert [w.at for w in controllers.list_writings(db, "moss-84")] == [AHEAD, RIGHT]


def test_dangerous_backups_of_days_to_come_push_out_none_of_today(demo: House) -> None:
    with session(demo.path) as db:
        for day in range(1, KEEP + 1):
            regular_backup(db, demo.path, f"2032-01-{day:02d}")
        made = regular_backup(db, demo.path, "2031-05-04")
        assert made is not None and made.exists()
        assert len(list(made.parent.glob("*-daily-*"))) == KEEP


@pytest.mark.parametrize("told", ["zzz", "9999-12-31T23:59:59.999+00:00"])
def test_unknown_a_moment_out_of_a_file_keeps_no_controller_from_being_read(
    demo: House, told: str
) -> None:
    """A record that somebody wrote by hand says any moment, and is imported all the same."""
    put(demo, "first", "moss-84", told)
    put(demo, "second", "moss-84", RIGHT)
    with session(demo.path) as db:
        assert {w.at for w in controllers.list_writings(db, "moss-84")} == {told, RIGHT}
