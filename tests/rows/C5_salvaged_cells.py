"""Salvaged cells: what is measured decides; what is not tested is refused."""

from __future__ import annotations

import csv
import io
import time

from rows.conftest import NONE, Outside


def sort(bike: Outside, text: str, **rules: float | str) -> tuple[int, dict]:  # type: ignore[type-arg]
    got = bike.client.post(
        "/api/sort",
        files={"file": ("c.csv", io.BytesIO(text.encode()))},
        data={"series": 2, "parallel": 2, **rules},
    )
    return got.status_code, got.json()


HEAD = "cell,capacity [Ah],ir [mohm]"
GOOD = "\n".join(f"g{i},2.5,22" for i in range(5))


def rejected(bike: Outside, row: str, **rules: float) -> dict[str, str]:
    status, done = sort(bike, f"{HEAD}\n{GOOD}\n{row}\n", **rules)
    assert status == 200, done
    return {r["id"]: r["reason"] for r in done["rejects"]}


def test_ordinary(bike: Outside) -> None:
    assert rejected(bike, "x,2.4,23") == {}


def test_dangerous_too_little_capacity(bike: Outside) -> None:
    assert "x" in rejected(bike, "x,1.1,22", capacity_min_ah=2.0)


def test_dangerous_resistance(bike: Outside) -> None:
    assert "x" in rejected(bike, "x,2.5,90", r_max_ohm=0.05)


def test_untested_is_refused(bike: Outside) -> None:
    assert "x" in rejected(bike, "x,,22")


def test_salvaged_cells_without_a_test_are_said(bike: Outside) -> None:
    bike.put(("pack.source", "salvaged_cells"))
    assert bike.says("pack.untested") in ("caution", "stop")


def test_dangerous_a_worn_cell_is_out_without_any_rule_given(bike: Outside) -> None:
    """0.9 Ah in a lot of 2.5 Ah; twice the resistance; 5 mV a day; found at 1.2 V."""
    head = "cell,capacity [Ah],ir [mohm],rested [V]"
    good = "\n".join(f"g{i},2.5,22,3.6" for i in range(6))
    rows = "worn,0.9,22,3.6\nhot,2.5,60,3.6\nflat,2.5,22,1.2\nnever,2.5,22,\n"
    status, done = sort(bike, f"{head}\n{good}\n{rows}")
    assert status == 200 and {r["id"] for r in done["rejects"]} == {"worn", "hot", "flat", "never"}
    rules = {r["key"]: r for r in done["rules"]}
    assert (
        rules["capacity_min_ah"]["limit"] == 2.0 and rules["capacity_min_ah"]["usual"]
    )  # .8 x 2.5
    assert "median" in rules["capacity_min_ah"]["words"]


def test_unknown_what_no_cell_was_tested_for_is_said(bike: Outside) -> None:
    rules = {r["key"]: r for r in sort(bike, f"{HEAD}\n{GOOD}\n")[1]["rules"]}
    assert rules["fade_max_v_day"]["limit"] is None
    assert rules["fade_max_v_day"]["words"] == "no cell was tested for it"


def test_a_rule_can_be_switched_off(bike: Outside) -> None:
    assert rejected(bike, "x,1.1,22", capacity_min_ah=0) == {}


RESTED = "cell,capacity [Ah],ir [mohm],rested [V],rested 2 [V],days"


def lot(*rows: str) -> str:
    good = "\n".join(f"g{i},2.5,22,3.70,3.69,14" for i in range(6))
    return f"{RESTED}\n{good}\n" + "\n".join(rows) + "\n"


def test_dangerous_over_charged_and_rising_cells_are_out(bike: Outside) -> None:
    """4.35 V rested twice; and one that gained 50 mV in 14 days: read before it had rested."""
    status, done = sort(bike, lot("over,2.5,22,4.35,4.35,14", "rose,2.5,22,3.70,3.75,14"))
    out = {r["id"]: r["reason"] for r in done["rejects"]}
    assert status == 200 and set(out) == {"over", "rose"}
    assert "4.35 V" in out["over"] and "had not rested" in out["rose"]
    assert sort(bike, lot("over,2.5,22,4.35,4.35,14"), rested_max_v=4.4)[1]["rejects"] == []


def test_dangerous_a_unit_no_cell_has_is_asked_about(bike: Outside) -> None:
    """Milliohms under a title that says ohms: no lot rests at 40 ohms a cell."""
    for head, row in (
        ("cell,capacity [Ah],ir [ohm]", "2.5,22"),
        ("cell,capacity [Ah],ir [mohm]", "850,22"),
        ("cell,capacity [Ah],rested [V]", "2.5,3700"),
    ):
        status, said = sort(bike, "\n".join([head, *(f"g{i},{row}" for i in range(5))]) + "\n")
        assert status == 422 and "No cell has such" in said["message"], head


def test_a_lot_worn_as_a_whole_is_said_beside_the_build_s_cell(bike: Outside) -> None:
    """0.8 Ah where the build's cell holds 5: no rule made of the lot's own median sees that."""
    worn = "\n".join(f"g{i},0.8,22" for i in range(5))
    new = bike.body["doc"]["pack"]["cell"]["capacity_ah"]["amount"]
    said = sort(bike, f"{HEAD}\n{worn}\n", build="moss-84")[1]["cautions"]
    assert len(said) == 1 and f"{0.8 / new:.0%} of the {new:.2f} Ah" in said[0]
    bike.put(("pack.cell.capacity_ah", NONE | {"origin": "guess"}))
    assert sort(bike, f"{HEAD}\n{worn}\n", build="moss-84")[1]["cautions"] == []
    assert sort(bike, f"{HEAD}\n{worn}\n", build="no-such-build")[0] == 404


def test_none_that_passes_says_what_they_broke(bike: Outside) -> None:
    text = f"{HEAD}\n" + "\n".join(f"g{i},2.5," for i in range(4)) + "\ng9,2.5,22\n"
    status, said = sort(bike, text)
    assert status == 422 and "g0 and 3 more are out; g0: untested: no resistance" in said["todo"]


def test_dangerous_the_file_that_goes_to_the_bench_carries_the_cautions(bike: Outside) -> None:
    """A worn lot, taken to the welder as a CSV: what stands on the page stands before the first cell."""
    worn = "\n".join(f"g{i},0.8,22" for i in range(5))
    job = bike.client.post(
        "/api/sort/jobs",
        files={"file": ("c.csv", io.BytesIO(f"{HEAD}\n{worn}\n".encode()))},
        data={"series": 2, "parallel": 2, "build": "moss-84"},
    ).json()["id"]
    for _ in range(200):
        done = bike.client.get(f"/api/sort/jobs/{job}").json()
        if done["state"] != "running":
            break
        time.sleep(0.05)
    said = done["sorting"]["cautions"]
    text = bike.client.get(f"/api/sort/jobs/{job}/assignment").text
    rows = list(csv.DictReader(io.StringIO(text)))
    assert said and [r["reason"] for r in rows[: len(said)]] == [f"caution: {w}" for w in said]
    assert not any(r["cell"] for r in rows[: len(said)]) and all(
        r["cell"] for r in rows[len(said) :]
    )
