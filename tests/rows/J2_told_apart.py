"""Mean, spread, interval, smallest gap that can be seen: told apart, or not; and what spoils it."""

from __future__ import annotations

import io
import json
from pathlib import Path
from typing import Any

import pytest
from pypdf import PdfReader
from scipy import stats

from ninebolt.cli.main import main
from ninebolt.services.house import House
from rows.conftest import Outside
from rows.J1_test_plan import planned, ride

FAST, SLOW = [7.91, 7.95, 7.88, 7.93], [8.21, 8.17, 8.25, 8.2]


def session(
    bike: Outside,
    slow: list[float] = SLOW,
    fast: list[float] = FAST,
    protocol: str = "between marks",
    **more: Any,
) -> dict[str, Any]:
    made = planned(bike, setups=["old", "new"], protocol=protocol)
    last: dict[str, Any] = {}
    for a, b in zip(slow, fast, strict=True):
        ride(bike, made["id"], setup="old", value=a)
        last = ride(bike, made["id"], setup="new", value=b, **more)
    return last


def test_ordinary_faster_by_how_much_and_how_sure(bike: Outside) -> None:
    """p and interval of SciPy's Welch test."""
    v = session(bike)["verdict"]
    theirs = stats.ttest_ind(FAST, SLOW, equal_var=False)
    d = v["differences"][0]
    assert d["told"] and d["p"] == pytest.approx(theirs.pvalue, rel=1e-6)
    assert (d["low"], d["high"]) == pytest.approx(tuple(theirs.confidence_interval(0.95)), rel=1e-6)
    assert "new is better than old by 0.29" in v["sentence"]


def test_dangerous_the_same_bike_twice_is_not_told_apart(bike: Outside) -> None:
    v = session(bike, [8.1, 8.25, 8.05, 8.2], [8.15, 8.1, 8.22, 8.08])["verdict"]
    assert not v["differences"][0]["told"] and "are not told apart" in v["sentence"]


def test_dangerous_what_differed_too_is_named(bike: Outside) -> None:
    """Charge and wind are taken off by the model where every run has them; rider and sprocket cannot be."""
    made = planned(bike, setups=["old", "new"])
    for a, b in zip(SLOW, FAST, strict=True):
        ride(bike, made["id"], setup="old", value=a, soc=0.6, wind_m_s=2, rider="A", rear_teeth=52)
        last = ride(
            bike, made["id"], setup="new", value=b, soc=0.95, wind_m_s=-1, rider="B", rear_teeth=50
        )
    v = last["verdict"]
    what = {s["what"]: s for s in v["spoilers"]}
    assert {"rider", "rear sprocket"} <= {k for k, s in what.items() if s["weight"] == "caution"}
    assert "that may be all of it" in v["sentence"]
    assert v["corrected_for"] == ["charge", "wind"]
    assert "Taken off by the model" in what["charge"]["sentence"]
    one = ride(bike, made["id"], setup="new", value=7.9, wind_m_s=-1)["verdict"]  # no charge read
    weights = {s["what"]: s["weight"] for s in one["spoilers"]}
    assert one["corrected_for"] == ["wind"] and weights["charge"] == "caution"


def test_a_discarded_run_is_shown_and_does_not_count(bike: Outside) -> None:
    last = session(bike)
    n = len(last["trials"]) - 1
    got = bike.client.post(
        f"{bike.url}/sessions/{last['id']}/trials/{n}/discard", params={"why": "missed the line"}
    )
    v = got.json()["verdict"]
    assert v["summaries"][1]["n"] == 3 and "missed the line" in v["discarded"][0]


def test_outliers_are_shown_not_hidden(bike: Outside) -> None:
    v = session(bike, [8.2, 8.21, 8.19, 8.2], [7.9, 7.91, 7.89, 9.4])["verdict"]
    assert v["summaries"][1]["outliers"] == [3] and v["summaries"][1]["n"] == 4


def test_unknown_conditions_are_named(bike: Outside) -> None:
    v = session(bike)["verdict"]
    assert any(s["what"] == "charge" and "not written down" in s["sentence"] for s in v["spoilers"])


def test_not_there_one_trial_each_tells_nothing(bike: Outside) -> None:
    v = session(bike, [8.2], [7.9])["verdict"]
    assert v["differences"][0]["p"] is None and "cannot be told apart yet" in v["sentence"]


def test_from_the_shell(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "t.csv"
    path.write_text(
        "setup,time\n" + "".join(f"old,{a}\nnew,{b}\n" for a, b in zip(SLOW, FAST, strict=True))
    )
    assert main(["compare", str(path)]) == 0 and "new is better" in capsys.readouterr().out
    assert (
        main(["compare", str(path), "--json"]) == 0
        and json.loads(capsys.readouterr().out)["differences"]
    )
    path.write_text("setup,time\nold,fast\n")
    assert main(["compare", str(path)]) == 2 and "line 2" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("what", "one", "other"),
    [
        ("tyre pressure", {"tyre_bar": 1.4}, {"tyre_bar": 1.9}),
        ("air pressure", {"pressure_hpa": 1013.0}, {"pressure_hpa": 990.0}),
        ("tyre", {"tyre": "knobbly"}, {"tyre": "road"}),
        ("surface", {"surface": "dry tar"}, {"surface": "wet tar"}),
    ],
)
def test_dangerous_what_else_differed_is_named(
    bike: Outside, what: str, one: dict[str, Any], other: dict[str, Any]
) -> None:
    made = planned(bike, setups=["old", "new"])
    last: dict[str, Any] = {}
    for a, b in zip(SLOW, FAST, strict=True):
        ride(bike, made["id"], setup="old", value=a, **one)
        last = ride(bike, made["id"], setup="new", value=b, **other)
    v = last["verdict"]
    assert {s["what"]: s["weight"] for s in v["spoilers"]}[what] == "caution"
    assert f"{what} differed too" in v["sentence"] or f", {what}" in v["sentence"]


def by_file(bike: Outside, text: str) -> Any:
    return bike.client.post(f"{bike.url}/compare-file", files={"file": ("t.csv", text.encode())})


def test_unknown_a_column_that_nothing_is_made_of_is_named(bike: Outside) -> None:
    rows = "".join(f"old,{a},80,1.0\nnew,{b},80,2.0\n" for a, b in zip(SLOW, FAST, strict=True))
    v = by_file(bike, f"setup,time,charge,moon phase\n{rows}").json()
    assert any(s["what"] == "columns" and "moon phase" in s["sentence"] for s in v["spoilers"])
    assert not any(s["what"] == "charge" for s in v["spoilers"])  # 80 % on both, read as per cent


@pytest.mark.parametrize("row", ["old,nan", "old,inf", "old,-3", "old,0", "old,8.1,140", "old,x"])
def test_dangerous_a_value_that_cannot_be_is_refused_with_its_line(bike: Outside, row: str) -> None:
    got = by_file(bike, f"setup,time,charge\nnew,8.0,80\n{row}\n")
    assert got.status_code == 422 and "line 3" in got.json()["message"]


def test_a_session_in_a_garage_is_compared_from_the_shell(
    bike: Outside, demo: House, capsys: pytest.CaptureFixture[str]
) -> None:
    name = session(bike)["name"]
    at = ["compare", "--session", name, "--id", "moss-84", "--data", str(demo.path.parent)]
    assert main(at) == 0
    assert "new is better than old by 0.29" in capsys.readouterr().out
    assert main([*at[:2], "nobody's", *at[3:]]) == 2
    assert name in capsys.readouterr().err
    assert main(["compare", "--session", name]) == 2


@pytest.mark.parametrize(
    ("protocol", "better"),
    [
        ("between marks", "old"), ("hill", "old"), ("roll-on", "old"), ("drag splits", "old"),
        ("top speed, flat, both ways", "new"), ("top speed, downhill", "new"), ("coast-down", "new"),
        ("range loop", "new"),
    ],
)  # fmt: skip
def test_which_way_is_better_says_the_protocol_everywhere(
    bike: Outside, protocol: str, better: str
) -> None:
    """new has the larger values. A coast-down that takes longer has less drag; the best of top speeds is the highest:
    verdict, best of a setup, book and paper say the same."""
    values = [26.0, 26.2, 26.1], [27.0, 27.2, 27.1]
    last = session(bike, *values, protocol=protocol)
    more = better == "new"
    assert f"new is {'better' if more else 'worse'} than old" in last["verdict"]["sentence"]
    bests = [s["best"] for s in last["verdict"]["summaries"]]
    assert bests == ([26.2, 27.2] if more else [26.0, 27.0])
    book = [
        b["value"]
        for b in bike.client.get(f"{bike.url}/book").json()["bests"]
        if b["protocol"] == protocol
    ]
    assert book == ([27.2, 26.2] if more else [26.0, 27.0])
    page = bike.client.get(f"{bike.url}/sessions/{last['id']}/report.html").text
    assert f"Runs ({'more' if more else 'less'} is better)" in page
    if "speed" in protocol:
        assert "best 97.92 km/h" in page  # 27.2 m/s
        assert "27.2 m/s" not in page


def test_dangerous_a_mass_that_cannot_be_taken_off_spoils_it(bike: Outside) -> None:
    """Of one run nobody knows the mass, so nothing is taken off: ten kilograms may be all of the gap."""
    made = planned(bike, setups=["old", "new"])
    for i, (a, b) in enumerate(zip(SLOW, FAST, strict=True)):
        ride(bike, made["id"], setup="old", value=a, mass_kg=None if i == 2 else 150)
        last = ride(bike, made["id"], setup="new", value=b, mass_kg=140)
    v = last["verdict"]
    assert v["corrected"] is None and "mass differed too: that may be all of it" in v["sentence"]
    assert any("mass was not written down of 1 of 8 runs" in s["sentence"] for s in v["spoilers"])


def test_dangerous_values_of_another_unit_are_no_comparison(bike: Outside) -> None:
    v = session(bike, fast=[1000 * x for x in FAST])["verdict"]
    assert v["sentence"].startswith("No comparison") and "another unit" in v["sentence"]


def test_dangerous_a_slip_is_pointed_at(bike: Outside) -> None:
    v = session(bike, slow=[8.2, 8.1, 80.1, 8.2])["verdict"]
    assert any("80.1 s far from its other runs" in s["sentence"] for s in v["spoilers"])


def test_unknown_what_was_read_too_coarsely_is_said(bike: Outside) -> None:
    """By hand to a tenth: four runs that read the same. It said that each needs two trials."""
    v = session(bike, [8.2] * 4, [8.0] * 4)["verdict"]
    assert "0.2 s each time" in v["sentence"] and "read them finer" in v["sentence"]
    assert [s["half95"] for s in v["summaries"]] == [None, None]  # not ± 0


@pytest.mark.parametrize(
    ("old", "new", "said"),
    [
        ({"rider": ["A", "A", "", ""]}, {"rider": "A"}, "rider was not written down of 2 of 8 runs"),
        ({"rider": "A"}, {}, "rider was written down for old only"),
        ({}, {}, "not written down of any run: rider, tyre, tyre pressure, surface"),
        ({"soc": [0.9, None, 0.9, 0.9]}, {"soc": 0.9}, "charge was not written down of 1 of 8"),
        ({"mass_kg": [150, None, 150, 150]}, {"mass_kg": 150}, "mass was not written down of 1"),
    ],
)  # fmt: skip
def test_unknown_in_part_is_said(
    bike: Outside, old: dict[str, Any], new: dict[str, Any], said: str
) -> None:
    made = planned(bike, setups=["old", "new"])
    for i, (a, b) in enumerate(zip(SLOW, FAST, strict=True)):
        under = {k: v[i] if isinstance(v, list) else v for k, v in old.items()}
        ride(bike, made["id"], setup="old", value=a, **under)
        last = ride(bike, made["id"], setup="new", value=b, **new)
    assert any(said in s["sentence"] for s in last["verdict"]["spoilers"])


def test_one_rider_typed_in_two_ways_is_one_rider(bike: Outside) -> None:
    made = planned(bike, setups=["old", "new"])
    for a, b in zip(SLOW, FAST, strict=True):
        ride(bike, made["id"], setup="old", value=a, rider="Ann ")
        last = ride(bike, made["id"], setup="new", value=b, rider="ann")
    assert not any(s["what"] == "rider" for s in last["verdict"]["spoilers"])


@pytest.mark.parametrize(
    ("text", "quantity", "said"),
    [
        ("setup,speed [km/h]\nold,90\nold,91\nnew,99\nnew,100\n", "m_s", "new is better"),
        ("setup,distance (km)\nold,30\nold,30.5\nnew,36\nnew,36.5\n", "m", "new is better"),
        ("setup;time\nold;8,214\nold;8,3\nnew;7,1\nnew;7,15\n", "s", "new is better"),
    ],
)
def test_a_file_of_speeds_or_ways_is_judged_as_such(
    bike: Outside, text: str, quantity: str, said: str
) -> None:
    """A column of speeds was read as seconds: the faster bike came out worse."""
    v = by_file(bike, text).json()
    assert v["quantity"] == quantity and said in v["sentence"]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("setup,speed\nold,90\nnew,99\n", "In which unit?"),
        ('setup,time\nold,"8,214"\nnew,8.1\n', "read in two ways"),
        ("setup,time [km]\nold,8\nnew,8.1\n", "In which unit?"),
    ],
)
def test_unknown_units_of_a_file_are_asked_for(bike: Outside, text: str, said: str) -> None:
    got = by_file(bike, text)
    assert got.status_code == 422 and said in got.json()["message"]


def test_a_file_of_speeds_is_no_time_between_marks(bike: Outside) -> None:
    got = bike.client.post(
        f"{bike.url}/compare-file",
        params={"protocol": "between marks"},
        files={"file": ("t.csv", b"setup,speed [mph]\nold,60\nnew,61\n")},
    )
    assert got.status_code == 422 and "top speed, flat" in got.json()["message"]


@pytest.mark.parametrize("protocol", ["hill", "top speed, downhill", "range loop"])
def test_the_runs_of_a_report_are_judged_alike_by_whoever_gets_them(
    bike: Outside, protocol: str
) -> None:
    """The file inside the report (taken out by pypdf) had bare numbers: speeds came in as seconds, and the faster bike
    was the slower one."""
    last = session(bike, [26.0, 26.2, 26.1], [27.0, 27.2, 27.1], protocol=protocol, rider="A")
    pdf = PdfReader(io.BytesIO(bike.client.get(f"{bike.url}/sessions/{last['id']}/report").content))
    runs = pdf.attachments["runs.csv"][0]
    got = bike.client.post(f"{bike.url}/compare-file", files={"file": ("runs.csv", runs)})
    assert got.status_code == 200, got.text
    mine, theirs = last["verdict"], got.json()
    assert theirs["quantity"] == mine["quantity"]
    assert theirs["differences"] == mine["differences"]
    assert theirs["summaries"] == mine["summaries"]


def test_a_setup_called_plus_one_tooth_is_one_setup(bike: Outside) -> None:
    """What a spreadsheet would execute has an apostrophe in the file, and none when it is read again."""
    made = planned(bike, setups=["+1 tooth", "old"], protocol="hill")
    for a, b in zip(SLOW, FAST, strict=True):
        ride(bike, made["id"], setup="old", value=a)
        ride(bike, made["id"], setup="+1 tooth", value=b)
    page = bike.client.get(f"{bike.url}/sessions/{made['id']}/report").content
    runs = PdfReader(io.BytesIO(page)).attachments["runs.csv"][0]
    assert b"'+1 tooth" in runs
    got = bike.client.post(f"{bike.url}/compare-file", files={"file": ("runs.csv", runs)}).json()
    assert [s["name"] for s in got["summaries"]] == ["old", "+1 tooth"]
