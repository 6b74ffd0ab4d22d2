"""A write that was cut, and what happens before it is settled: parts taken out, another pack, another write, the build
deleted."""

from __future__ import annotations

import dataclasses
from typing import Any

import pytest

from rows.conftest import CONTROLLER, SET, Linked, Outside


def cut(linked: Linked) -> dict[str, Any]:
    """The controller resets in the middle; connected again, it stands open."""
    linked.bench("fault", name="reset-in-write", on=True)
    linked.write(None, (502,))
    linked.bench("repair", name="reset-in-write")
    linked.post("/api/link/disconnect")
    linked.bench("cycle")
    return dict(linked.connect()["pending"])


def half(linked: Linked) -> dict[str, Any]:
    """Some new, some old: a few of the new values went in by another way."""
    pending = cut(linked)
    some = linked.post(f"{linked.url}/link/plan", {"source": SET})[:3]
    link = linked.client.app.state.link  # type: ignore[attr-defined]
    port, kind, _ = link.there()
    for step in some:
        place = kind.places[step["name"]]
        port.write(place.at, kind.stored(step["name"], step["new"]))
    return pending


def settle(linked: Linked, pending: dict[str, Any], status: int, **body: bool) -> Any:
    url = f"/api/link/writings/{pending['id']}/settle"
    return linked.post(url, {"free": True, **body}, (status,))


def test_ordinary_it_is_finished_and_nothing_is_left_open(linked: Linked) -> None:
    done = settle(linked, cut(linked), 200, finish=True)
    linked.bench("cycle")
    linked.post(f"/api/link/writings/{done['id']}/look")
    assert linked.get("/api/link")["pending"] is None
    assert linked.compare(CONTROLLER, SET)["rows"] == []


def test_dangerous_parts_were_taken_out_since(linked: Linked) -> None:
    """Amps for a fuse and a BMS that are not there any more: the journal would have written them without a word."""
    pending = cut(linked)
    linked.put(("guard.bms.i_cont_a", 20))
    got = settle(linked, pending, 409, finish=True)
    assert "not fit for the build as it is now" in got["message"] and "Line amps" in got["got"]
    done = settle(linked, pending, 200, finish=True, anyway=True)
    assert "these values stop: Line amps" in done["sentence"]


def test_dangerous_another_pack_is_connected_by_now(linked: Linked) -> None:
    """Its cut-offs would be those of the pack that was there: 84 V of full scale against half as many cells."""
    cut(linked)
    other = linked.post(f"{linked.url}/duplicate")["id"]
    Outside(linked.client, other).put(("pack.series", 12))
    linked.post(f"/api/bench/load/{other}?port={linked.bus}")
    pending = linked.connect()["pending"]
    got = settle(linked, pending, 409, finish=True)
    assert "pack that is connected" in got["message"]


def test_dangerous_a_new_write_over_a_half_one(linked: Linked) -> None:
    """Its backup would be of a half set. Of a whole one it takes the place: nothing stays open for ever."""
    pending = half(linked)
    assert "stands half" in linked.write(None, (409,))["message"]
    settle(linked, pending, 200, finish=False)
    assert linked.get("/api/link")["pending"] is None


def test_a_new_write_takes_the_place_of_one_that_was_never_stored(linked: Linked) -> None:
    cut(linked)
    linked.written()
    assert linked.get("/api/link")["pending"] is None


def test_dangerous_the_build_goes_and_with_it_the_backup(linked: Linked) -> None:
    pending = cut(linked)
    got = linked.client.delete(linked.url)
    assert got.status_code == 409 and "backup is kept with this build" in got.json()["message"]
    assert linked.get("/api/link")["pending"]["id"] == pending["id"]
    settle(linked, pending, 200, finish=False)
    assert linked.client.delete(linked.url).status_code == 204


def test_it_goes_all_the_same_if_somebody_says_so(linked: Linked) -> None:
    cut(linked)
    assert linked.client.delete(f"{linked.url}?anyway=true").status_code == 204


def test_it_says_whose_write_it_is(linked: Linked) -> None:
    assert cut(linked)["build"] == "Moss 84"


@pytest.mark.parametrize("finish", [True, False])
def test_not_there_one_that_has_ended_is_not_done_again(linked: Linked, finish: bool) -> None:
    pending = cut(linked)
    settle(linked, pending, 200, finish=False)
    assert "come to its end" in settle(linked, pending, 409, finish=finish)["message"]


def test_unknown_nobody_could_read_the_volts(linked: Linked) -> None:
    """A kind of controller that does not show them: it is finished, and said."""
    pending = cut(linked)
    link = linked.client.app.state.link  # type: ignore[attr-defined]
    link._profile = dataclasses.replace(link._profile, shows={})
    done = settle(linked, pending, 200, finish=True)
    assert "whether this pack belongs to the set: its volts were not read" in done["sentence"]


def test_unknown_a_controller_that_tells_only_its_maker(linked: Linked) -> None:
    """CiA 301 asks no more of the identity object: it is connected, written by whoever says which it is, and what was
    cut is finished with the warning that it may be another."""
    linked.bench("fault", name="bare-identity", on=True)
    device = linked.connect()["device"]
    assert (device["product"], device["serial"]) == (0, 0) and device["vendor"] > 0
    assert "does not tell which product it is" in linked.write(None, (422,))["message"]
    linked.bench("fault", name="reset-in-write", on=True)
    linked.write(None, (502,), typed=device["device"])
    linked.bench("repair", name="reset-in-write")
    linked.bench("cycle")
    pending = linked.connect()["pending"]
    assert "make sure by its label" in pending["sentence"]
    settle(linked, pending, 200, finish=True)


def test_dangerous_another_firmware_is_in_it_by_now(linked: Linked) -> None:
    pending = cut(linked)
    linked.bench("fault", name="foreign-firmware", on=True)
    linked.connect()
    assert "another controller" in settle(linked, pending, 422, finish=True)["message"]


def test_dangerous_no_motor_is_turned_with_half_a_set(linked: Linked) -> None:
    pending = half(linked)
    got = linked.post("/api/link/identify?free=true&anyway=true", None, (409,))
    assert "stands half" in got["message"]
    settle(linked, pending, 200, finish=False)
    assert linked.post("/api/link/identify?free=true&anyway=true")["id"]
