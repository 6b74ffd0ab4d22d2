"""Group volts along a charge: spread, outliers, when to stop."""

from __future__ import annotations

import io
from pathlib import Path

from rows.conftest import Outside

CHARGE = Path(__file__).resolve().parents[2] / "examples/charging/pip-72-charge-s5.csv"


def watched(bike: Outside, data: bytes) -> tuple[int, dict]:  # type: ignore[type-arg]
    got = bike.client.post(f"{bike.url}/charge-log", files={"file": ("c.csv", io.BytesIO(data))})
    return got.status_code, got.json()


def rows(*volts: str) -> bytes:
    head = "t [s]," + ",".join(f"group {i + 1} [V]" for i in range(4))
    return (head + "\n" + "\n".join(f"{i * 60},{v}" for i, v in enumerate(volts)) + "\n").encode()


def test_ordinary(bike: Outside) -> None:
    status, said = watched(
        bike, rows(*(f"{3.8 + i / 100:.3f}," * 3 + f"{3.8 + i / 100:.3f}" for i in range(20)))
    )
    assert status == 200 and said["stop_s"] is None and said["outliers"] == []


def test_dangerous_groups_part(bike: Outside) -> None:
    status, said = watched(bike, CHARGE.read_bytes())
    assert status == 200 and said["stop_s"] == 5400 and {o["group"] for o in said["outliers"]}


def test_dangerous_one_group_past_full(bike: Outside) -> None:
    lines = [f"4.10,4.10,4.10,{4.1 + i / 50:.3f}" for i in range(20)]
    status, said = watched(bike, rows(*lines))
    assert status == 200 and said["stop_s"] is not None


def test_dangerous_one_group_that_does_not_rise(bike: Outside) -> None:
    lines = [f"{3.4 + i / 50:.3f},{3.4 + i / 50:.3f},{3.4 + i / 50:.3f},3.400" for i in range(20)]
    status, said = watched(bike, rows(*lines))
    assert status == 200 and "4" in [o["group"] for o in said["outliers"]]


def test_no_log(bike: Outside) -> None:
    assert watched(bike, b"")[0] == 422


def test_dangerous_a_lead_that_is_off_blames_the_lead(bike: Outside) -> None:
    head = "time [s]," + ",".join(f"g{i + 1}" for i in range(4))
    rows = [f"{60 * t},3.5{t},3.5{t},0.000,3.5{t}" for t in range(10)]
    data = "\n".join([head, *rows]).encode()
    got = bike.client.post(f"{bike.url}/charge-log", files={"file": ("c.csv", data)})
    assert got.status_code == 200, got.text
    worst = got.json()["outliers"][0]
    assert worst["group"] == "3" and "lead is off" in worst["words"]
    assert got.json()["stop_s"] == 0.0


def test_unknown_readings_are_named_with_their_line(bike: Outside) -> None:
    data = b"time [s],g1,g2\n0,3.5,\n60,,3.6\n"
    got = bike.client.post(f"{bike.url}/charge-log", files={"file": ("c.csv", data)})
    assert got.status_code == 422 and "line 2" in got.json()["message"]


def test_unknown_full_volts_are_not_taken_for_another_chemistry_s(bike: Outside) -> None:
    """A cell that is full at 2.8 V, charged to 4.1 V: what is full nobody said, so nothing is called good."""
    bike.put(("pack.cell.chemistry", "custom"), ("pack.cell.full_v", None))
    lines = rows(*(f"{3.8 + i / 60:.3f}," * 3 + f"{3.8 + i / 60:.3f}" for i in range(20)))
    status, said = watched(bike, lines)
    assert status == 200 and said["stop_s"] is None and said["past_full"] is False
    bike.put(("pack.cell.full_v", 2.8))
    status, said = watched(bike, lines)
    assert said["stop_s"] == 0 and said["past_full"] and "passed full" in said["stop_words"]
