"""The groups of the pack as the BMS on the same bus shows them."""

from __future__ import annotations

from typing import Any

import pytest

from ninebolt.core.bolts.pack.groups import volts_say
from ninebolt.core.parts.cell import Cell
from ninebolt.core.parts.pack import Pack
from rows.conftest import Linked


def groups(linked: Linked, status: int = 200) -> dict[str, Any]:
    got = linked.client.get(f"{linked.url}/link/groups")
    assert got.status_code == status, got.text
    return dict(got.json())


def test_ordinary_a_sound_pack_at_rest(linked: Linked) -> None:
    now = groups(linked)
    assert len(now["volts"]) == 23 and now["still"] and now["spread_v"] < 0.03
    assert "as of a sound pack" in now["sentence"] and now["state"] == "closed"


def test_dangerous_a_weak_group_is_named_and_the_finder_has_it(linked: Linked) -> None:
    """The bench's third group is the weak one; the controller's pack volts alone would not show it."""
    linked.bench("fault", name="weak-group", on=True)
    now = groups(linked)
    assert now["low"] == 3 and now["spread_v"] > 0.1
    assert "stays within 30 mV" in now["sentence"]
    assert not now["sound"]
    known = {k["place"]: k for k in linked.get(f"{linked.url}/finder/known")}
    assert known["group_spread"]["value"] == pytest.approx(now["spread_v"], abs=0.01)
    assert "Group 3 is lowest" in known["group_spread"]["words"]


@pytest.mark.parametrize(("series", "words"), [(20, "more"), (26, "fewer")])
def test_dangerous_a_pack_of_another_count_is_not_read_as_this_one(
    linked: Linked, series: int, words: str
) -> None:
    """With 20 groups read of 23 the three that are left could be empty."""
    linked.put(("pack.series", series))
    said = groups(linked, 422)
    assert "not as many groups" in said["what"] and said["got"].startswith(words)


def test_unknown_without_a_series_count(linked: Linked) -> None:
    linked.put(("pack.series", None))
    assert "not known" in groups(linked, 422)["what"]


def test_not_there_no_controller_and_no_bms(linked: Linked) -> None:
    linked.post("/api/link/disconnect")
    assert "No controller is connected" in groups(linked, 409)["what"]


def test_dangerous_groups_close_together_over_their_full_volts(linked: Linked) -> None:
    """All alike at 4.2 V, of a cell that is full at 3.65: 'as of a sound pack' was what it said."""
    linked.put(("pack.cell.full_v", 3.65))
    now = groups(linked)
    assert not now["sound"] and "over its full 3.65 V" in now["sentence"]
    assert "sound pack" not in now["sentence"]


def test_dangerous_groups_close_together_under_their_empty_volts(linked: Linked) -> None:
    linked.put(("pack.cell.full_v", 4.6), ("pack.cell.empty_v", 4.5))
    now = groups(linked)
    assert not now["sound"] and "under its empty 4.50 V: no riding" in now["sentence"]


@pytest.mark.parametrize(
    ("volts", "chemistry", "words"),
    [
        (1.2, "nickel_rich", "under 2.0 V: scrap"),
        (1.2, "iron_phosphate", "under 1.5 V: scrap"),
        (2.2, "nickel_rich", "no riding"),
        (3.6, "nickel_rich", ""),
    ],
)
def test_dangerous_a_dead_group_by_its_volts(volts: float, chemistry: str, words: str) -> None:
    """The bench has no group that dead: what is said of the number itself. Under load as well as at rest where it is
    scrap."""
    pack = Pack(series=20, parallel=4, cell=Cell(chemistry=chemistry))
    said = volts_say(pack, 3, volts, 7, volts + 0.01, still=True)
    assert words in said and bool(said) is bool(words)
    assert bool(volts_say(pack, 3, volts, 7, volts, still=False)) is ("scrap" in words)
