"""The isolator: its DC rating, its coil, and the key."""

from __future__ import annotations

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


def test_not_there(bike: Outside) -> None:
    assert bike.put(("guard.isolator.presence", "not there")).says("guard.no_isolator") == "stop"
