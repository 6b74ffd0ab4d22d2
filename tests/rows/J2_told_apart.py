"""Mean, spread, interval, smallest gap that can be seen: told apart, or not; and what spoils it."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
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
