"""The shell: what it takes, what it refuses and in which words, and JSON from every command."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from ninebolt.cli import main

ROOT = Path(__file__).resolve().parents[2]
BUILD = str(ROOT / "examples/builds/moss-84.json")
CELLS = str(ROOT / "examples/cells/salvaged.csv")
CHARGE = str(ROOT / "examples/charging/pip-72-charge-s5.csv")
LOG = str(ROOT / "examples/logs/moss-84-s7-gps.csv")
BAY = str(ROOT / "examples/bays/moss-frame-bay.svg")
SHAPE = ["--series", "10", "--parallel", "4"]


def shell(arguments: list[str], capsys: pytest.CaptureFixture[str]) -> tuple[int, str, str]:
    """(status, what is printed, what is said of an error); a refused argument counts as status."""
    try:
        status = main(arguments)
    except SystemExit as stop:
        status = int(stop.code or 0)
    said = capsys.readouterr()
    return status, said.out, said.err


REFUSED = [
    (["run", BUILD, "--distance", "-5"], "--distance"),
    (["run", BUILD, "--distance", "nan"], "not a number"),
    (["run", BUILD, "--to-speed", "60 kg"], "not a unit of speed"),
    (["run", BUILD, "--seconds", "0"], "not above 0"),
    (["run", BUILD, "--grade", "steep"], "--grade"),
    (["sort", CELLS, "--series", "0", "--parallel", "4"], "no whole number from 1 on"),
    (["sort", CELLS, "--series", "2.5", "--parallel", "4"], "no whole number from 1 on"),
    (["sort", CELLS, "--series", "10"], "--parallel"),
    (["sort", CELLS, *SHAPE, "--max-resistance=-1"], "below 0"),
    (["sort", CELLS, *SHAPE, "--min-capacity", "9 V"], "not a unit of"),
    (["sort", CELLS, "--series", "40", "--parallel", "9"], "They make 40s2p"),
    (["sort", BUILD, *SHAPE], "moss-84.json"),
    (["charge", CHARGE, "--full", "-4.2"], "--full"),
    (["charge", CELLS], "not a charge log"),
    (["outline", CELLS], "salvaged.csv"),
    (["splits", BAY], "moss-frame-bay.svg"),
    (["layout", CHARGE], "pip-72-charge-s5.csv"),
    (["layout", BUILD, "--paper", "a3"], "--paper"),
    (["params", CELLS], "salvaged.csv"),
    (["schema", "rocket"], "rocket"),
    (["percent", "30 % of"], "of what"),
    (["bench", BUILD, "--cells", "-4"], "no whole number from 1 on"),
    (["bench", BUILD, "--fault", "gremlin"], "does not know this fault"),
    (["import", CELLS], "salvaged.csv"),
    (["nothing"], "nothing"),
    ([], "required"),
]


@pytest.mark.parametrize(
    ("arguments", "words"), REFUSED, ids=[" ".join(a)[-60:].replace("/", "_") for a, _ in REFUSED]
)
def test_what_is_refused_has_status_2_and_says_why(
    arguments: list[str],
    words: str,
    capsys: pytest.CaptureFixture[str],
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.chdir(tmp_path)
    status, printed, error = shell(arguments, capsys)
    assert status == 2 and words in error
    assert printed == "" and "Traceback" not in error
    assert not [p for p in tmp_path.rglob("*") if p.suffix not in ("", ".sqlite3")]


WRITES = [
    ["sort", CELLS, *SHAPE, "--out", "gone/a.csv"],
    ["sort", CELLS, *SHAPE, "--labels", "gone/a.pdf"],
    ["params", BUILD, "--dcf", "gone/a.dcf"],
    ["layout", BUILD, "--svg", "gone/a.svg"],
    ["bench", BUILD, "--charge", "--out", "a-file"],
]


@pytest.mark.parametrize("arguments", WRITES, ids=[a[0] + a[-2] for a in WRITES])
def test_a_place_that_cannot_be_written_is_named(
    arguments: list[str],
    capsys: pytest.CaptureFixture[str],
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.chdir(tmp_path)
    (tmp_path / "a-file").write_text("kept")
    status, _, error = shell(arguments, capsys)
    assert status == 2 and "cannot be written" in error and arguments[-1].split(".")[0] in error
    assert (tmp_path / "a-file").read_text() == "kept"


AS_JSON = [
    ["check", BUILD],
    ["run", BUILD, "--distance", "60 ft"],
    ["splits", LOG],
    ["params", BUILD],
    ["layout", BUILD],
    ["sort", CELLS, *SHAPE],
    ["charge", CHARGE],
    ["outline", BAY],
    ["percent", "30 % more than 40"],
    ["schema", "build"],
]


def no_constant(name: str) -> None:
    raise AssertionError(f"{name} is no JSON")


@pytest.mark.parametrize("arguments", AS_JSON, ids=[a[0] for a in AS_JSON])
def test_every_command_can_speak_json(
    arguments: list[str], capsys: pytest.CaptureFixture[str]
) -> None:
    """Strict JSON: no NaN, no Infinity, nothing else on the line."""
    status, printed, error = shell([*arguments, "--json"], capsys)
    assert status in (0, 1) and error == ""
    assert json.loads(printed, parse_constant=no_constant)


@pytest.mark.parametrize("arguments", AS_JSON[:-1], ids=[a[0] for a in AS_JSON[:-1]])
def test_every_command_can_speak_to_people(
    arguments: list[str], capsys: pytest.CaptureFixture[str]
) -> None:
    """No token of a sentence, no bare 'None' or 'nan' is left in it."""
    status, printed, _ = shell(arguments, capsys)
    assert status in (0, 1) and printed.strip()
    for leftover in ("{{", "|v}}", "None", "nan", "inf "):
        assert leftover not in printed


def distance_of(arguments: list[str], capsys: pytest.CaptureFixture[str]) -> dict[str, Any]:
    status, printed, _ = shell(["run", BUILD, *arguments, "--json"], capsys)
    assert status == 0
    found: dict[str, Any] = json.loads(printed)
    return found


@pytest.mark.parametrize(
    ("option", "texts"),
    [
        ("--distance", ["402.336", "402.336 m", "0.25 mi", "1320 ft"]),
        ("--to-speed", ["13.4112", "30 mph", "48.28032 km/h"]),
        ("--seconds", ["3", "3 s", "3000 ms"]),
    ],
)
def test_units_may_be_written_at_the_shell(
    option: str, texts: list[str], capsys: pytest.CaptureFixture[str]
) -> None:
    times = [distance_of([option, t], capsys)["time_s"] for t in texts]
    assert times == pytest.approx([times[0]] * len(times), rel=1e-6)


def test_rules_at_the_shell_are_the_rules_of_the_sorting(
    capsys: pytest.CaptureFixture[str],
) -> None:
    """66 mΩ rejects what 0.066 rejects, and each rejected cell is above it."""
    lots = []
    for text in ("0.066", "66 mΩ"):
        _, printed, _ = shell(["sort", CELLS, *SHAPE, "--max-resistance", text, "--json"], capsys)
        lots.append(json.loads(printed)["rejects"])
    assert lots[0] == lots[1] and lots[0]
    assert any("resistance" in r["reason"] for r in lots[0])


def test_a_reader_that_leaves_early_is_no_error() -> None:
    """As with `| head -1`: no traceback, status 0."""
    first = subprocess.Popen(
        [sys.executable, "-m", "ninebolt", "schema", "build"],
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
    )
    assert first.stdout is not None and first.stderr is not None
    first.stdout.readline()
    first.stdout.close()
    error = first.stderr.read()
    first.stderr.close()
    assert first.wait(60) == 0 and b"Traceback" not in error
