"""What really limits the bike: each stage with its amps, the weakest named, the same in the headline."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    links = bike.body["assessment"]["drawings"]["guard"]["links"]
    assert len(links) >= 5 and bike.head["choke"] != ""


def test_dangerous_the_weakest_is_the_bms(bike: Outside) -> None:
    bike.put(("guard.bms.i_cont_a", 40), ("guard.bms.i_peak_a", 60), ("guard.bms.peak_s", 2))
    assert bike.figure("guard", "narrowest") == 40 and bike.head["choke"] == "BMS"


def test_unknown_links_are_marked(bike: Outside) -> None:
    bike.put(("guard.plug.i_cont_a", None), ("guard.plug.i_peak_a", None))
    links = bike.body["assessment"]["drawings"]["guard"]["links"]
    assert any(x.get("allows_a") is None for x in links)


def test_not_there(bike: Outside) -> None:
    bike.put(("guard.fuse.presence", "not there"))
    links = bike.body["assessment"]["drawings"]["guard"]["links"]
    assert any(x.get("there") == "no" for x in links)


def test_dangerous_no_time_behind_where_it_cuts_out_stands_anywhere(bike: Outside) -> None:
    """The headline, the splits of Prove and the table before and after say the same."""
    trips = [("guard.bms.i_cont_a", 40), ("guard.bms.i_peak_a", 60), ("guard.bms.peak_s", 2)]
    bike.put(*trips, ("prove.log_id", ""))
    opens = bike.head["opens_s"]
    rows = bike.body["assessment"]["drawings"]["prove"]["rows"]
    assert bike.head["opens"] == "BMS" and rows
    assert all(r["predicted_s"] is None or r["predicted_s"] <= opens for r in rows)
    assert bike.figure("prove", "quarter") is None
