"""The isolator: its DC rating, its coil, and the key."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    for key in ("no_isolator", "isolator_v", "isolator_a", "isolator_ac"):
        assert bike.says(f"guard.{key}") == "", key


def test_dangerous_made_for_alternating_current(bike: Outside) -> None:
    assert bike.put(("guard.isolator.rated_for", "AC only")).says("guard.isolator_ac") == "stop"


def test_dangerous_voltage(bike: Outside) -> None:
    assert bike.put(("guard.isolator.dc_v", 48)).says("guard.isolator_v") == "stop"


def test_unknown(bike: Outside) -> None:
    bike.put(("guard.isolator.dc_v", None), ("guard.isolator.rated_for", "unknown"))
    assert bike.says("guard.isolator_blank") != ""


def test_unknown_where_the_coils_converter_hangs(client: TestClient) -> None:
    """Behind the contactor it can never close: unknown is asked, not taken for before."""
    bike = Outside(client, "brakka-96")
    assert bike.says("guard.coil_blank") == ""
    bike.put(("guard.dcdc.feed", "unknown"))
    assert "where the converter that feeds the coil" in bike.words("guard.coil_blank")
    assert bike.put(("guard.dcdc.feed", "behind the contactor")).says("guard.coil_loop") == "stop"


def test_unknown_current(bike: Outside) -> None:
    assert bike.put(("guard.isolator.i_cont_a", None)).says("guard.isolator_blank") == "caution"


@pytest.mark.parametrize("kind", ["contactor", "breaker"])
def test_dangerous_it_cannot_break_what_flows(client: TestClient, kind: str) -> None:
    """Carrying is not breaking: many a sealed contact carries 400 A and opens 100 at its volts. Common practice."""
    bike = Outside(client, "brakka-96")
    assert bike.says("guard.isolator_break") == ""
    bike.put(("guard.isolator.kind", kind), ("guard.isolator.breaking_a", 100))
    assert bike.says("guard.isolator_break") == "stop"
    found = bike.findings()["guard.isolator_break"]
    assert found["limit"] == 100 and found["measured"] == 280  # the line amps of this build
    fix = found["fixes"][0]["changes"][0]
    assert bike.put((fix["path"], fix["value"])).says("guard.isolator_break") == ""


def test_unknown_what_it_can_break(client: TestClient) -> None:
    bike = Outside(client, "brakka-96").put(("guard.isolator.breaking_a", None))
    assert bike.says("guard.isolator_blank") == "caution"
    assert "breaking capacity" in bike.findings()["guard.isolator_blank"]["title"]
    bolt = next(b for b in bike.body["assessment"]["bolts"] if b["bolt"] == "guard")
    assert "guard.isolator.breaking_a" in bolt["missing"]


def test_dangerous_a_contact_made_for_one_direction_while_the_motor_brakes(
    client: TestClient,
) -> None:
    """Its magnets blow an arc of the other direction inwards, where nothing puts it out."""
    bike = Outside(client, "brakka-96")
    assert bike.put(("tune.regen_pct", 20)).says("guard.isolator_one_way") == ""
    assert bike.put(("guard.isolator.both_ways", False)).says("guard.isolator_one_way") == "stop"
    assert (
        bike.put(("tune.regen_pct", 0)).says("guard.isolator_one_way") == "note"
    )  # which way round?


def test_unknown_which_way_it_breaks(client: TestClient) -> None:
    bike = Outside(client, "brakka-96").put(("guard.isolator.both_ways", None))
    assert bike.put(("tune.regen_pct", 0)).says("guard.isolator_blank") == ""
    assert bike.put(("tune.regen_pct", 20)).says("guard.isolator_blank") == "caution"
    assert "either direction" in bike.words("guard.isolator_blank")


def test_not_there(bike: Outside) -> None:
    assert bike.put(("guard.isolator.presence", "not there")).says("guard.no_isolator") == "stop"
