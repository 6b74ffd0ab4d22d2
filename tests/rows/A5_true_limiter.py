"""What really limits the bike: each stage with its amps, the weakest named, the same in the headline."""

from __future__ import annotations

from typing import Any

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


def held(bike: Outside) -> dict[str, Any]:
    got = bike.client.get(f"{bike.url}/choke")
    assert got.status_code == 200, got.text
    return dict(got.json())


def test_what_holds_it_over_which_speeds_and_for_how_long(bike: Outside) -> None:
    seen = held(bike)
    spans = seen["spans"]
    assert spans[0]["start"] == 0 and all(
        a["end"] == b["start"] and a["choke"] != b["choke"]
        for a, b in zip(spans, spans[1:], strict=False)
    )
    assert abs(sum(h["share"] for h in seen["held"]) - 1.0) < 1e-9
    assert bike.head["choke"] in [h["choke"] for h in seen["held"]]


def test_the_effect_of_a_lever_is_what_the_build_then_shows(bike: Outside) -> None:
    for lever in [x for h in held(bike)["held"] for x in h["levers"] if x["after"]][:4]:
        on_trial = Outside(bike.client)
        bike.client.post(f"{bike.url}/trial")
        on_trial.put(*[(c["path"], c["value"]) for c in lever["fix"]["changes"]])
        assert on_trial.head == lever["after"], lever["fix"]["label"]
        bike.client.delete(f"{bike.url}/trial")


def test_dangerous_what_cuts_out_comes_first_with_the_amps_it_stays_closed_at(
    bike: Outside,
) -> None:
    """The same number as every other advice on line amps, and with it nothing opens."""
    trips = [("guard.bms.i_cont_a", 40), ("guard.bms.i_peak_a", 60), ("guard.bms.peak_s", 2)]
    bike.put(*trips, ("prove.log_id", ""))
    first = held(bike)["held"][0]
    assert first["choke"] == "BMS"
    lever = first["levers"][0]
    assert lever["fix"]["label"] == "Set line amps to 34 A"  # 85 % of 40 A
    assert lever["after"]["opens"] == "" and lever["after"]["to_time_s"] is not None


def test_unknown_a_bike_that_does_not_compute_says_so(bike: Outside) -> None:
    bike.put(("drive.motor.kv_rpm_v", None))
    got = bike.client.get(f"{bike.url}/choke")
    assert got.status_code == 422 and "does not compute" in got.json()["message"]


def test_what_holds_it_is_read_with_the_log_that_the_ride_is_judged_by(bike: Outside) -> None:
    """A duty taken from the log: the range here is the one that the bench shows."""
    logged = Outside(bike.client, "brakka-96")
    logged.put(("goal.duty", "logged"))
    assert logged.head["range_m"] is not None
    assert held(logged)["now"] == logged.head


def test_dangerous_no_lever_promises_that_it_stays_closed_while_it_opens(bike: Outside) -> None:
    trips = [("guard.bms.i_cont_a", 40), ("guard.bms.i_peak_a", 20), ("guard.bms.peak_s", 2)]
    bike.put(*trips, ("prove.log_id", ""))
    for lever in held(bike)["held"][0]["levers"]:
        opens = lever["after"] and lever["after"]["opens"]
        assert not (opens and "closed" in lever["bound"])
