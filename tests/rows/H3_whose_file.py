"""Whose file it is: controller, hardware, firmware; a foreign one is refused."""

from __future__ import annotations

import pytest

from ninebolt.formats.dcf import read_set
from rows.conftest import Linked, Outside


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
