"""Measured cells into equal groups: the spread, the spare, and a cell nobody tested is not used."""

from __future__ import annotations

import io

from rows.conftest import Outside

FILE = "cell,capacity [Ah],ir [mohm]\n"


def cells(n: int, bad: str = "") -> bytes:
    rows = [f"c{i},{2.4 + (i * 7 % 11) / 50:.3f},{22 + i % 5}" for i in range(n)]
    return (FILE + "\n".join(rows) + "\n" + bad).encode()


def sort(bike: Outside, data: bytes, s: int = 4, p: int = 3) -> tuple[int, dict]:  # type: ignore[type-arg]
    got = bike.client.post(
        "/api/sort", files={"file": ("c.csv", io.BytesIO(data))}, data={"series": s, "parallel": p}
    )
    return got.status_code, got.json()


def test_ordinary(bike: Outside) -> None:
    status, done = sort(bike, cells(14))
    assert status == 200 and len(done["groups"]) == 4
    placed = [c for g in done["groups"] for c in g["cells"]]
    assert len(placed) == len(set(placed)) == 12 and len(done["spare"]) == 2
    assert done["spread"] <= done["serpentine"][1] + 1e-12


def test_dangerous_a_cell_without_a_test_is_not_used(bike: Outside) -> None:
    status, done = sort(bike, cells(14, "never,,\n"))
    assert status == 200, done
    assert "never" in [r["id"] for r in done["rejects"]]
    assert "never" not in [c for g in done["groups"] for c in g["cells"]]


def test_too_few(bike: Outside) -> None:
    status, said = sort(bike, cells(5))
    assert status == 422 and "4s" in said["message"]


def test_no_cells(bike: Outside) -> None:
    assert sort(bike, b"")[0] == 422 and sort(bike, FILE.encode())[0] == 422


def kept(done: dict, ah: float = 1.0) -> list[dict]:  # type: ignore[type-arg]
    number = {"origin": "measured", "tolerance": 0.01}
    return [
        {
            "cells": g["cells"],
            "capacity_ah": {"amount": g["capacity_ah"] * ah, **number},
            "r_ohm": g["r_ohm"] and {"amount": g["r_ohm"], **number},
        }
        for g in done["groups"]
    ]


def test_the_groups_stay_with_the_build_and_it_is_computed_with_them(bike: Outside) -> None:
    """After a reload, in the export, and gone with an undo; the smallest group is the pack's."""
    s, p = bike.body["doc"]["pack"]["series"], bike.body["doc"]["pack"]["parallel"]
    before = bike.head["range_m"]
    done = sort(bike, cells(s * p + 2), s, p)[1]
    bike.put(("pack.sorted_groups", kept(done)))
    again = Outside(bike.client)
    assert len(again.body["doc"]["pack"]["sorted_groups"]) == s
    pack = bike.figure("pack", "capacity")
    assert abs((pack or 0) - done["weakest_ah"]) < 1e-6
    export = bike.client.get(f"{bike.url}/export").json()
    assert len(export["pack"]["sorted_groups"]) == s
    assert bike.head["range_m"] != before
    assert bike.client.post(f"{bike.url}/undo").json()["doc"]["pack"]["sorted_groups"] == []


def test_dangerous_groups_of_another_pack_are_not_used_in_silence(bike: Outside) -> None:
    s, p = bike.body["doc"]["pack"]["series"], bike.body["doc"]["pack"]["parallel"]
    done = sort(bike, cells(s * p), s, p)[1]
    bike.put(("pack.sorted_groups", kept(done)), ("pack.series", s - 1))
    assert bike.says("pack.sorted_other") == "caution"


def test_unknown_resistance_is_no_number(bike: Outside) -> None:
    rows = "\n".join(f"c{i},{2.4 + i / 100:.2f}" for i in range(12))
    _, done = sort(bike, f"cell,capacity [Ah]\n{rows}\n".encode())
    assert all(g["r_ohm"] is None for g in done["groups"])
    assert {r["key"]: r["limit"] for r in done["rules"]}["r_max_ohm"] is None


def test_dangerous_cells_that_stand_apart_are_not_joined_in_silence(bike: Outside) -> None:
    """3.2 V beside 4.1 V: 0.9 V over two cells of 22 mOhm is 20 A through the first weld."""
    rows = "\n".join(f"c{i},2.5,22,{4.1 if i % 2 else 3.2}" for i in range(12))
    head = "cell,capacity [Ah],ir [mohm],rested [V]\n"
    said = sort(bike, f"{head}{rows}\n".encode())[1]["cautions"]
    assert len(said) == 1 and "3.20 to 4.10 V" in said[0] and "within 50 mV" in said[0]
    level = "\n".join(f"c{i},2.5,22,{3.60 + 0.04 * (i % 2)}" for i in range(12))
    assert sort(bike, f"{head}{level}\n".encode())[1]["cautions"] == []
