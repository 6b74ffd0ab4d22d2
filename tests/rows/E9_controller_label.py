"""A controller's label: volts, amps, temperature – each reading a hypothesis until confirmed."""

from __future__ import annotations

import json
import subprocess
import sys
from typing import Any

import pytest

from rows.conftest import Outside


def read(bike: Outside, text: str) -> list[dict[str, Any]]:
    got = bike.client.get("/api/sums/label", params={"text": text})
    assert got.status_code == 200, got.text
    return list(got.json())


def values(rows: list[dict[str, Any]], path: str) -> list[float]:
    return [r["value"] for r in rows if r["path"] == path]


def test_ordinary_words_say_which_amps(bike: Outside) -> None:
    rows = read(bike, "KX-8100 72V battery 60A phase 180A")
    assert values(rows, "drive.controller.line_max_a") == [60]
    assert values(rows, "drive.controller.phase_max_a") == [180]


def test_dangerous_nominal_volts_are_not_the_ceiling_alone(bike: Outside) -> None:
    """72 V on the case: a full pack of that name has 84 V. Both readings stand, the safe one is named."""
    rows = read(bike, "72V 100A")
    assert sorted(values(rows, "drive.controller.v_max_v")) == pytest.approx([72.0, 84.24])
    assert any("safe" in r["why"] for r in rows)


def test_dangerous_a_models_number_is_no_rating(bike: Outside) -> None:
    rows = read(bike, "KX-8100")
    assert rows[0]["path"] == "" and rows[0]["value"] is None and "rating" in rows[0]["ask"]


def test_a_range_and_a_fuse(bike: Outside) -> None:
    rows = read(bike, "48-84V, fuse 150A")
    assert 48.0 in values(rows, "drive.controller.v_min_v")
    assert values(rows, "guard.fuse.rated_a") == [150]


def test_taken_it_stays_a_guess(bike: Outside) -> None:
    r = next(x for x in read(bike, "60V 30A max") if x["path"] == "drive.controller.line_max_a")
    bike.put((r["path"], {"amount": r["value"], "origin": "guess", "tolerance": None}))
    assert bike.body["doc"]["drive"]["controller"]["line_max_a"]["origin"] == "guess"


def test_unknown_nothing_understood_says_what_is(bike: Outside) -> None:
    got = bike.client.get("/api/sums/label", params={"text": "made with love"})
    assert got.status_code == 422 and "V, A" in got.json()["expected"]


def test_not_there_an_empty_label_is_refused(bike: Outside) -> None:
    assert bike.client.get("/api/sums/label", params={"text": ""}).status_code == 422


def test_the_shell_reads_the_same(bike: Outside) -> None:
    text = "72V 150A phase 350A"
    done = subprocess.run(
        [sys.executable, "-m", "ninebolt", "label", "--json", text],
        capture_output=True,
        text=True,
        check=True,
    )
    assert json.loads(done.stdout) == read(bike, text)


def test_dangerous_words_behind_the_numbers(bike: Outside) -> None:
    """Read as a phase limit, 200 A of the battery would be set two to four times too high, or too low."""
    rows = read(bike, "96V 450A peak phase 200A battery")
    assert values(rows, "drive.controller.line_max_a") == [200]
    assert values(rows, "drive.controller.phase_max_a") == [450]


@pytest.mark.parametrize("text", ["72V 150A phase 350A", "72V 350A phase 150A"])
def test_a_word_between_two_numbers_is_the_larger_ones(bike: Outside, text: str) -> None:
    """Phase amps are the more: nobody writes a controller with fewer of them than line amps."""
    rows = read(bike, text)
    assert [r["sure"] for r in rows if r["value"] == 350] == [0.9]
    assert max(r["sure"] for r in rows if r["value"] == 150) < 0.9, "the other one stays open"
