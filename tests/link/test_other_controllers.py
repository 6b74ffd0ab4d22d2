"""Another kind of controller: its dictionary file, mapped by a person, remembered; written only where its limits are
known, unmapped objects readable."""

from __future__ import annotations

import dataclasses
import json
import math
import re
from typing import Any

import pytest

from ninebolt.core.setting.ours import OURS
from ninebolt.errors import ConflictError
from ninebolt.formats.eds import write_eds
from rows.conftest import Linked

EDS = write_eds(OURS)  # the bench's own objects, as if they were somebody else's
PLACES = {"line_a": [0x2104, 0, 0.1, 0], "motor_c": [0x220B, 0, 0.1, 0]}


@pytest.fixture
def linked(client: Any, bus: int) -> Linked:
    return Linked(client, bus, connected=False)


def add(
    linked: Linked,
    eds: bytes = EDS,
    places: dict[str, list[float]] = PLACES,
    status: int = 201,
    codes: str = "",
) -> dict[str, Any]:
    got = linked.client.post(
        "/api/link/profiles",
        files={"file": ("other.eds", eds)},
        data={"name": "Other", "places": json.dumps(places), "codes": codes},
    )
    assert got.status_code == status, got.text
    return dict(got.json())


def connect(linked: Linked, profile: str) -> dict[str, Any]:
    return dict(
        linked.post(
            "/api/link/connect", {"channel": f"socket://127.0.0.1:{linked.bus}", "profile": profile}
        )
    )


def test_mapped_remembered_and_written(linked: Linked) -> None:
    made = add(linked)
    assert made["mapped"] == 2 and made["objects"] > 90
    assert "other" in [p["key"] for p in linked.get("/api/link/profiles")]
    assert connect(linked, "other")["profile"] == "Other"
    found = linked.compare({"kind": "controller"}, {"kind": "set"})
    assert {r["name"] for r in found["rows"]} == {"line_a", "motor_c"}
    assert linked.write()["count"] == 2
    assert linked.compare({"kind": "controller"}, {"kind": "set"})["rows"] == []


def test_unmapped_objects_stay_readable(linked: Linked) -> None:
    add(linked)
    connect(linked, "other")
    assert linked.post(f"{linked.url}/link/read")["count"] > 70


def test_unmapped_objects_are_written_by_a_file_of_that_controller(linked: Linked) -> None:
    """With two meanings mapped the file of the whole controller goes in, each object within its limits."""
    add(linked)
    connect(linked, "other")
    text = linked.client.get(
        f"{linked.url}/parameters", params={"kind": "dcf", "anyway": True}
    ).text
    file = {"kind": "file", "name": "whole.dcf", "text": text}
    done = linked.write(file, anyway=True, volts=84.0)
    assert done["count"] > 20
    linked.bench("cycle")
    assert linked.post(f"/api/link/writings/{done['id']}/look")["state"] == "verified"
    section = text.index("[2101]")  # the low-voltage cut-off, which has no meaning here
    value = re.compile(r"ParameterValue=\S+")
    over = text[:section] + value.sub("ParameterValue=65000", text[section:], count=1)
    said = linked.write({**file, "text": over}, (422,), anyway=True, volts=84.0)
    assert "0x2101" in str(said)


def test_objects_are_shown_with_a_guess_of_their_meaning(linked: Linked) -> None:
    got = linked.client.post("/api/link/dictionary", files={"file": ("other.eds", EDS)}).json()
    by_at = {o["at"]: o for o in got}
    guesses = [o["guess"] for o in by_at.values() if o["guess"]]
    assert len(guesses) == len(set(guesses))  # what it shows under the same name is not written
    assert by_at["0x2104:00"]["guess"] == "line_a" and by_at["0x2104:00"]["high"] == 10000
    assert by_at["0x3001:00"]["access"] == "ro"


def test_an_object_without_a_readable_limit_is_not_written(linked: Linked) -> None:
    head, tail = EDS.split(b"[2104]", 1)
    bad = head + b"[2104]" + tail.replace(b"HighLimit=10000", b"HighLimit=lots", 1)
    assert bad != EDS
    add(linked, bad)
    connect(linked, "other")
    got = linked.write(None, (422,))
    assert "highlimit" in got["message"] and "nothing is" in got["message"]


def test_another_scale_is_another_number(linked: Linked) -> None:
    """The same object read as whole amperes: a tenth of what it is."""
    add(linked, places={"line_a": [0x2104, 0, 1.0, 0]})
    connect(linked, "other")
    row = linked.compare({"kind": "controller"}, {"kind": "set"})["rows"][0]
    assert row["first"] == 200


@pytest.mark.parametrize(
    ("places", "words"),
    [
        ({"nonsense": [0x2104, 0, 1, 0]}, "no meaning"),
        ({"line_a": [0x5FFF, 0, 1, 0]}, "no such object"),
        ({"line_a": [0x2104, 0, 0, 0]}, "scale"),
        ({"line_a": [1]}, "scale"),
        ({"line_a": [math.nan, 0, 1, 0]}, "two whole numbers"),
        ({"line_a": [0x2104 + 0.5, 0, 1, 0]}, "two whole numbers"),
        ({"line_a": [1e400, 0, 1, 0]}, "two whole numbers"),
        ({"line_a": [0x2104, 0, math.nan, 0]}, "scale"),
        ({"line_a": [0x2104, 0, 1e-320, 0]}, "scale"),
        ({"live.rpm": [0x3004, 0, 1, math.inf]}, "scale"),
        ({"line_a": [0x1008, 0, 1, 0]}, "a number"),
    ],
)
def test_places_that_are_none(linked: Linked, places: dict[str, list[float]], words: str) -> None:
    assert words in add(linked, places=places, status=422)["message"]


def test_a_file_that_is_no_dictionary(linked: Linked) -> None:
    assert add(linked, b"\x00nothing", status=422)["message"]


def test_values_out_of_range_are_refused_before_anything_is_written(linked: Linked) -> None:
    connect(linked, "bench")
    text = linked.client.get(f"{linked.url}/parameters", params={"kind": "dcf"}).text
    head, tail = text.split("[2104]", 1)
    tail = re.sub(r"ParameterValue=\d+", "ParameterValue=60000", tail, count=1)
    got = linked.write({"kind": "file", "name": "wild.dcf", "text": head + "[2104]" + tail}, (422,))
    assert "over its most" in got["message"] and "nothing is" in got["message"]


THEIRS = EDS.replace(b"VendorNumber=0x00009B01", b"VendorNumber=0x00000ACE")


def test_a_file_for_it_is_made_and_compared_without_it(linked: Linked) -> None:
    """Its dictionary is known: its file needs no controller on the link, and is not read as one of ours."""
    assert THEIRS != EDS
    add(linked, THEIRS, {"line_a": [0x2104, 0, 1.0, 0], "motor_c": [0x220B, 0, 0.1, 0]})
    got = linked.client.get(f"{linked.url}/parameters?kind=dcf&controller=other")
    assert got.status_code == 200, got.text
    made = got.text
    assert "VendorNumber=0x00000ACE" in made and made.count("ParameterValue") == 2
    assert re.search(r"\[2104\][^[]*ParameterValue=100\n", made)  # whole amperes, as it stores them
    csv = linked.client.get(f"{linked.url}/parameters?kind=csv&controller=other").text
    assert "Line amps,100,A" in csv and "Pole pairs" not in csv

    def beside(text: str) -> dict[str, Any]:
        sent = linked.client.post(f"{linked.url}/settings/file", files={"file": ("x.dcf", text)})
        assert sent.status_code == 200, sent.text
        return dict(sent.json())

    assert beside(made)["rows"] == [] and beside(made)["same"] == 2
    wild = re.sub(r"(\[2104\][^[]*ParameterValue=)\d+", r"\g<1>900", made)
    found = beside(wild)
    assert found["rows"][0]["second"] == 900 and any("Line amps" in s for s in found["stops"])
    got = linked.client.get(f"{linked.url}/parameters?kind=dcf&controller=nobody")
    assert got.status_code == 404 and "other" in got.json()["message"]


def foreign(*gone: tuple[int, int], vendor: int = OURS.vendor) -> bytes:
    """A dictionary file with some objects left out."""
    objects = {at: o for at, o in OURS.objects.items() if at not in gone}
    return write_eds(dataclasses.replace(OURS, objects=objects, vendor=vendor))


SHOWS = {
    "live.rpm": [0x3004, 0, 1, 0],
    "live.fault": [0x300A, 0, 1, 0],
    "live.motor_c": [0x3007, 0, 0.2, -40],
}
CODES = "3; throttle open at switch-on; 4; 1; hand on the twist | grip sticks\n\n9; hall lost"


def live(linked: Linked) -> Any:
    return linked.client.app.state.link.live()  # type: ignore[attr-defined]


def test_dangerous_an_object_at_the_same_number_is_not_taken_for_ours(linked: Linked) -> None:
    """What another maker put there means something else: nothing is shown of it, and that is said."""
    add(linked)
    state = connect(linked, "other")
    assert {"motor speed", "fault code", "volts", "state"} <= set(state["unseen"])
    seen = live(linked)
    assert seen.values == {} and "not shown" in seen.state and "nor a fault" in seen.state
    known = linked.get(f"{linked.url}/finder/known")  # the BMS beside it is of a kind that is known
    assert {k["place"] for k in known} == {"group_spread"}


def test_dangerous_its_wheel_is_not_turned_by_our_routine(linked: Linked) -> None:
    """The start is a number written to an object that elsewhere is anything."""
    add(linked)
    connect(linked, "other")
    job = linked.post("/api/link/identify?free=true")
    for _ in range(50):
        if job["state"] != "running":
            break
        job = linked.get(f"/api/link/identify/{job['id']}")
    assert job["state"] == "failed" and "not known here" in job["error"], job
    assert linked.bench("state")["state"]["speed_m_s"] == 0


def test_what_it_shows_is_mapped_with_its_own_scale_and_codes(linked: Linked) -> None:
    add(linked, places={**PLACES, **SHOWS}, codes=CODES)
    state = connect(linked, "other")
    assert "motor speed" not in state["unseen"] and "volts" in state["unseen"]
    seen = live(linked)
    assert set(seen.values) == {"rpm", "fault", "motor_c"}
    winding = linked.bench("state")["state"]["motor_c"]
    assert seen.values["motor_c"] == pytest.approx(
        winding * 2 - 40, abs=1.0
    )  # tenths, read as fifths less forty
    codes = {c["code"]["number"]: c["code"] for c in linked.get("/api/link/codes", profile="other")}
    assert codes[3]["label"] == "throttle open at switch-on" and codes[3]["blinks"] == [4, 1]
    assert codes[3]["causes"] == ["hand on the twist", "grip sticks"] and codes[9]["causes"] == []
    linked.bench("fault", name="hall-dead", on=True)
    linked.hand(throttle=0.4)
    linked.bench("wait", seconds=2)
    assert re.fullmatch(
        r"code \d+, not in this controller's table", live(linked).fault
    )  # ours has one


@pytest.mark.parametrize(
    ("codes", "words"),
    [
        ("x; no number", "line 1"),
        ("3; one\n3; again", "line 2"),
        ("3;", "line 1"),
        ("3; flashes; a; b", "line 1"),
        ("-3; below", "line 1"),
    ],
)
def test_a_table_of_codes_that_is_none(linked: Linked, codes: str, words: str) -> None:
    before = linked.get("/api/link/profiles")
    assert words in str(add(linked, codes=codes, status=422))
    assert linked.get("/api/link/profiles") == before


def test_text_cannot_be_shown_as_a_number(linked: Linked) -> None:
    assert "Device name" in str(add(linked, places={"live.rpm": [0x1008, 0, 1, 0]}, status=422))


def test_dangerous_a_wheel_that_turns_holds_the_write_where_it_is_seen(linked: Linked) -> None:
    linked.connect()
    linked.written()  # so that it turns at all
    add(linked, places={**PLACES, **SHOWS})
    connect(linked, "other")
    linked.hand(stand=True, throttle=0.5)
    linked.bench("wait", seconds=3)
    linked.put(("goal.top_speed_m_s", 28.5), ("drive.controller.line_a", 61.0))
    assert "rpm at the motor" in str(linked.write(status=(422,)))


@pytest.mark.parametrize(("volts", "unread"), [(None, True), (84.0, False)])
def test_unknown_what_nobody_could_see_is_said_with_the_write(
    linked: Linked, volts: float | None, unread: bool
) -> None:
    add(linked)
    connect(linked, "other")
    said = linked.write(volts=volts)["sentence"]
    assert "not checked: whether the wheel turned" in said
    assert ("its volts were not read" in said) == unread


def test_dangerous_without_a_store_command_nobody_says_stored(linked: Linked) -> None:
    """The write breaks nothing, and whether it holds is looked at once it was off."""
    add(linked, foreign((0x1010, 1)))
    connect(linked, "other")
    done = linked.write()
    assert (
        done["cycle"]
        and "stored" not in done["sentence"]
        and "no store command" in done["sentence"]
    )
    again = linked.write()  # nothing differs now: nothing is waited for
    assert again["count"] == 0 and not again["cycle"]
    linked.bench("cycle")
    after = linked.post(f"/api/link/writings/{done['id']}/look", None, (502,))
    assert "not every value" in after["what"] and after["got"].startswith(
        "0 new"
    )  # never told to keep them


def test_dangerous_another_maker_s_controller_is_not_read_with_this_dictionary(
    linked: Linked,
) -> None:
    add(linked, foreign(vendor=7), places={**PLACES, **SHOWS})
    connect(linked, "other")
    with pytest.raises(ConflictError, match="Another kind of controller"):
        live(linked)


def test_a_write_that_is_open_is_no_dead_end_for_another_dictionary(linked: Linked) -> None:
    """Written as the whole controller, looked at with a dictionary that lacks what was written: said, not a crash, and
    with its own dictionary it can be looked at again."""
    linked.connect()
    opened = linked.write()
    assert opened["cycle"]
    add(linked, foreign((0x2104, 0)), places={"motor_c": PLACES["motor_c"]})
    state = connect(linked, "other")
    assert "no such object" in state["pending"]["sentence"]
    said = linked.post(f"/api/link/writings/{opened['id']}/look", None, (502,))
    assert "no such object" in said["what"] and "kind of controller" in said["todo"]
    settle = {"finish": False, "free": True}
    linked.post(f"/api/link/writings/{opened['id']}/settle", settle, (409, 422, 502))
    linked.connect()
    linked.bench("cycle")
    assert linked.post(f"/api/link/writings/{opened['id']}/look")["state"] == "verified"
