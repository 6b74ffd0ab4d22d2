"""Whose file it is: controller, hardware, firmware; a foreign one is refused."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from ninebolt.cli.main import main
from ninebolt.core.setting.ours import PARAMS
from ninebolt.formats.dcf import read_set
from rows.conftest import CONTROLLER, SET, Linked, Outside


def dcf(bike: Outside) -> str:
    got = bike.client.get(f"{bike.url}/parameters", params={"kind": "dcf"})
    assert got.status_code == 200
    return got.text


def test_ordinary_a_set_says_whom_it_belongs_to(bike: Outside) -> None:
    made = read_set(dcf(bike).encode())
    assert made.identity is not None and made.identity.kind == (0x9B01, 1)
    assert made.belongs["build"] == "Moss 84" and made.belongs["pack"].startswith("23S")


def test_its_own_file_is_written(linked: Linked) -> None:
    done = linked.written(source={"kind": "file", "name": "own.dcf", "text": dcf(linked)})
    assert done["count"] > 20


def test_dangerous_another_product_is_refused_whatever_is_typed(linked: Linked) -> None:
    text = dcf(linked).replace("ProductNumber=0x00000001", "ProductNumber=0x00000777")
    for typed in ("", "Bench controller"):
        got = linked.write(
            {"kind": "file", "name": "foreign.dcf", "text": text}, (422,), typed=typed
        )
        assert "another controller" in got["message"] and "foreign.dcf" in got["message"]


def test_dangerous_another_firmware_asks_for_the_name(linked: Linked) -> None:
    text = dcf(linked).replace("RevisionNumber=0x00010004", "RevisionNumber=0x00000009")
    source = {"kind": "file", "name": "old.dcf", "text": text}
    got = linked.write(source, (422,))
    assert (
        "revision" in got["message"]
        and "type the controller's name: Bench controller" in got["message"]
    )
    assert linked.write(source, (422,), typed="bench")["message"]
    assert linked.write(source, typed="Bench controller")["count"] > 20


@pytest.mark.parametrize("fault", ["wrong-identity", "foreign-firmware"])
def test_dangerous_the_controller_that_answers_is_another(linked: Linked, fault: str) -> None:
    linked.bench("fault", name=fault, on=True)
    assert "does not belong" in linked.write(None, (422,))["message"]


def test_unknown_a_set_without_an_owner_asks(linked: Linked) -> None:
    got = linked.write({"kind": "file", "name": "set.json", "text": '{"line_a": 30}'}, (422,))
    assert "does not say whom it belongs to" in got["message"]
    assert (
        linked.write(
            {"kind": "file", "name": "set.json", "text": '{"line_a": 30}'}, typed="Bench controller"
        )["count"]
        == 1
    )


def test_not_there_an_object_that_this_controller_has_not(linked: Linked) -> None:
    """It is kept, and not written."""
    text = (
        dcf(linked)
        + "[5ABC]\nParameterName=Nobody\nDataType=0x0007\nAccessType=rw\nParameterValue=7\n"
    )
    done = linked.written(source={"kind": "file", "name": "more.dcf", "text": text})
    assert done["count"] > 20


def changed(bike: Outside, **values: float) -> dict[str, str]:
    """The build's own set as a file, with some values in it changed."""
    own = bike.client.get(f"{bike.url}/parameters", params={"kind": "json", "anyway": True}).json()
    return {"kind": "file", "name": "found.json", "text": json.dumps({**own, **values})}


def beside(bike: Outside, source: dict[str, str]) -> dict[str, Any]:
    """A set beside the build's own."""
    got = bike.client.post(f"{bike.url}/settings/compare", json={"first": SET, "second": source})
    assert got.status_code == 200, got.text
    return dict(got.json())


@pytest.mark.parametrize(
    ("name", "value", "words"),
    [
        ("ovc_v", 600, "Over-voltage"),
        ("ovc_v", 60, "Over-voltage"),
        ("lvc_v", 0, "Low-voltage"),
        ("lvc_v", 200, "does not move"),
        ("line_a", 900, "Line amps"),
        ("phase_a", 1900, "Phase amps"),
        ("regen_line_a", 900, "charging"),
        ("motor_stop_c", 220, "cut-out"),
        ("pole_pairs", 9, "Pole pairs"),
        ("throttle_low_v", 0.2, "Twist at rest"),
        ("throttle_high_v", 0.5, "Rest and full"),
        ("throttle_fault_high_v", 11, "Fault above"),
        ("creep_pct", 20, "Creep"),
        ("curve_1_pct", 60, "throttle closed"),
        ("curve_11_pct", 10, "falls"),
        ("hall_1_deg", 61, "hall edges"),
    ],
)
def test_dangerous_the_values_of_a_file_are_judged_like_the_builds(
    linked: Linked, name: str, value: float, words: str
) -> None:
    """On both sides; it goes into the controller only when somebody says that this is known."""
    halls = {f"hall_{i}_deg": 60.0 * (i - 1) for i in range(1, 7)} if "hall" in name else {}
    source = changed(linked, **{**halls, name: value})
    found = linked.compare(SET, source)
    assert any(words in s for s in found["stops"]), found["stops"]
    got = linked.write(source, (409,), typed="Bench controller")
    assert "not fit for this build" in got["message"]
    assert linked.write(source, typed="Bench controller", anyway=True)["count"] > 0


def test_ordinary_its_own_set_as_a_file_brings_no_stop(bike: Outside) -> None:
    found = beside(bike, changed(bike))
    assert found["stops"] == [] and found["rows"] == []


def test_unknown_what_the_build_says_nothing_of_is_named(bike: Outside) -> None:
    source = changed(bike, sensor=2, direction=-1, hall_1_deg=0)
    found = beside(bike, source)
    assert found["seconds"]["open"] == ["Rotor sensor", "Direction, 1 or -1", "1 hall edge"]


def test_a_set_of_a_profile_is_judged_by_its_own_pack(bike: Outside) -> None:
    """16 cells: the cut-off of the build's 23 would ruin nothing and move nothing."""
    bike.put(
        ("tune.profiles", [{"name": "short", "purpose": "pack", "series": 16, "parallel": 10}])
    )
    own = bike.client.get(f"{bike.url}/parameters?kind=dcf&profile=short&anyway=true").text
    source = {"kind": "file", "name": "short.dcf", "text": own}
    found = beside(bike, source)
    assert not any(r["name"] in ("lvc_v", "ovc_v") for r in found["seconds"]["remarks"])
    bike.put(("tune.profiles", []))
    found = beside(bike, source)
    assert any(r["name"] == "lvc_v" for r in found["seconds"]["remarks"])


def test_the_command_line_judges_a_set_too(
    bike: Outside, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    build, given = tmp_path / "b.json", tmp_path / "found.json"
    build.write_bytes(bike.client.get(f"{bike.url}/export").content)
    given.write_text(changed(bike, ovc_v=600)["text"])
    assert main(["params", str(build), "--judge", str(given)]) == 1
    assert "Over-voltage cut-off is outside" in capsys.readouterr().out
    given.write_text(changed(bike)["text"])
    assert main(["params", str(build), "--judge", str(given)]) == 0


@pytest.mark.parametrize("end", ["lo", "hi"])
def test_dangerous_every_value_at_its_end_is_judged_and_not_a_crash(
    bike: Outside, end: str
) -> None:
    """No phase amps at all were a division by nothing."""
    source = changed(bike, **{p.name: getattr(p, end) for p in PARAMS})
    assert len(beside(bike, source)["stops"]) > 4


def test_dangerous_the_controller_of_another_bike(linked: Linked) -> None:
    """Two bikes with one kind of controller and one voltage: the page of the wrong one is open."""
    assert linked.written()["state"] == "verified"
    other = linked.post(f"{linked.url}/duplicate")["id"]
    body = {"first": CONTROLLER, "second": SET}
    seen = linked.post(f"/api/builds/{other}/settings/compare", body)
    assert "was written for 'Moss 84' last" in seen["belongs"] and seen["may"]
    assert linked.compare(CONTROLLER, SET)["belongs"] == ""  # of its own bike nothing is asked
    linked.client.post(
        f"/api/builds/{other}/changes",
        json={"changes": [{"path": "drive.controller.line_a", "value": 90}]},
    )
    write = {"source": SET, "free": True, "anyway": True}
    got = linked.post(f"/api/builds/{other}/link/write", write, (422,))
    assert "Moss 84" in got["message"] and "type the controller's name" in got["message"]
    named = {**write, "typed": "Bench controller"}
    assert linked.post(f"/api/builds/{other}/link/write", named)["state"] in ("waiting", "verified")
    own = linked.post(f"/api/builds/{other}/settings/compare", body)
    assert own["belongs"] == ""  # it is that one's now
    assert "(copy)' last" in linked.compare(CONTROLLER, SET)["belongs"]
    link = linked.get("/api/link")
    assert link["last_for"] == other and link["last_name"] == "Moss 84 (copy)"
    assert linked.client.delete(f"/api/builds/{other}", params={"anyway": True}).status_code < 300
    assert linked.get("/api/link")["last_name"] in ("", "Moss 84")  # and no page is lost with it
