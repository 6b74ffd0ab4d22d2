"""The main fuse: size, DC voltage, what it can break, and its place."""

from __future__ import annotations

import pytest

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    for key in ("no_fuse", "fuse_blank", "fuse_dc", "fuse_break", "fuse_cable", "fuse_run"):
        assert bike.says(f"guard.{key}") == "", key


def test_dangerous_dc_voltage_below_the_full_pack(bike: Outside) -> None:
    assert bike.put(("guard.fuse.dc_v", 58)).says("guard.fuse_dc") == "stop"


def test_dangerous_cannot_break_the_short(bike: Outside) -> None:
    bike.put(("guard.fuse.breaking_a", 500))
    assert bike.says("guard.fuse_break") == "stop"
    short = bike.figure("guard", "short")
    assert short is not None and short > 500


def test_dangerous_opens_in_the_ride(bike: Outside) -> None:
    bike.put(("guard.fuse.rated_a", 40))
    assert bike.says("guard.fuse_run") == "stop" and bike.head["opens"] == "Fuse"


def test_dangerous_carries_more_than_the_cable(bike: Outside) -> None:
    bike.put(("guard.fuse.rated_a", 600))
    assert bike.says("guard.fuse_cable") in ("stop", "caution")


def test_dangerous_it_ends_short_circuits_alone(bike: Outside) -> None:
    """125 A that open from four times on carry 499 A for ever; cable and isolator do not."""
    assert bike.says("guard.fuse_part") == ""
    bike.put(("guard.fuse.melts", [[1.2, 3600], [2, 20], [10, 0.02]]))
    assert bike.says("guard.fuse_part") == ""  # of the full range
    bike.put(("guard.fuse.melts", [[4, 100], [6, 1], [10, 0.02]]))
    assert bike.says("guard.fuse_part") == "caution" and "BMS alone" in bike.words(
        "guard.fuse_part"
    )
    assert bike.findings()["guard.fuse_part"]["measured"] == 500
    bike.put(("guard.bms.discharge", "bypassed"))
    assert bike.says("guard.fuse_part") == "stop"


def test_unknown_ratings_and_place(bike: Outside) -> None:
    bike.put(("guard.fuse.dc_v", None), ("guard.fuse.breaking_a", None))
    assert bike.says("guard.fuse_blank") in ("stop", "caution")
    assert bike.says("guard.fuse_where") != ""


def test_not_there(bike: Outside) -> None:
    assert bike.put(("guard.fuse.presence", "not there")).says("guard.no_fuse") == "stop"


def test_a_blank_fuse_is_not_silent(bike: Outside) -> None:
    assert bike.put(("guard.fuse", {})).says("guard.no_fuse") in ("stop", "caution")


@pytest.mark.parametrize("rated", [40.0, 60.0, 125.0, 300.0])
@pytest.mark.parametrize("section_mm2", [6.0, 10.0, 35.0])
def test_dangerous_no_fix_of_the_fuse_takes_its_protection_away(
    bike: Outside, rated: float, section_mm2: float
) -> None:
    """A larger fuse against one that opens would let the cable burn, a smaller one would open on the first pull."""
    bike.put(("guard.fuse.rated_a", rated), ("guard.cable.section_m2", section_mm2 * 1e-6))
    stops = {k for k, f in bike.findings().items() if f["severity"] == "stop"}
    for key in ("guard.fuse_run", "guard.fuse_load", "guard.fuse_weakest", "guard.fuse_wide"):
        for fix in bike.findings().get(key, {"fixes": []})["fixes"]:
            bike.put(*((c["path"], c["value"]) for c in fix["changes"]))
            now = bike.findings()
            new = {k for k, f in now.items() if f["severity"] == "stop"} - stops
            assert not {k for k in new if k.startswith("guard.fuse")}, (key, fix["label"])
            bike.client.post(f"{bike.url}/undo")
            bike = Outside(bike.client)


def test_dangerous_a_fuse_that_opens_behind_a_thin_cable_names_both_ways_out(bike: Outside) -> None:
    bike.put(("guard.fuse.rated_a", 40.0), ("guard.cable.section_m2", 6e-6))
    said = bike.words("guard.fuse_run")
    assert "not protect the cable" in said and "fewer line amps" in said
    labels = [f["label"] for f in bike.findings()["guard.fuse_run"]["fixes"]]
    assert labels and not any("fuse" in x for x in labels)
