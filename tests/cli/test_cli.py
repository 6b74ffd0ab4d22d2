"""The shell on the files in examples/: output, JSON, exit status."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from conftest import ROOT
from ninebolt.cli import main

BUILDS = ROOT / "examples" / "builds"
LOGS = ROOT / "examples" / "logs"


def out(capsys: pytest.CaptureFixture[str]) -> str:
    return capsys.readouterr().out


@pytest.mark.parametrize(("name", "status"), [("brakka-96", 0), ("moss-84", 0), ("pip-72", 1)])
def test_check(name: str, status: int, capsys: pytest.CaptureFixture[str]) -> None:
    """Status 1 where a stop stands."""
    assert main(["check", str(BUILDS / f"{name}.json")]) == status
    text = out(capsys)
    assert "top speed" in text and "{{" not in text
    assert main(["check", "--json", str(BUILDS / f"{name}.json")]) == status
    assert json.loads(out(capsys))["headline"]["top_speed_m_s"] > 10


def test_run(capsys: pytest.CaptureFixture[str]) -> None:
    path = str(BUILDS / "brakka-96.json")
    assert main(["run", path, "--json", "--series", "--distance", "201.168"]) == 0
    got = json.loads(out(capsys))
    assert got["distance_m"] == pytest.approx(201.168, abs=1e-6) and got["ended"] == "distance"
    assert len(got["series"]["t_s"]) == len(got["series"]["choke"])
    assert abs(got["imbalance"]) < 2e-3
    assert main(["run", path, "--json", "--to-speed", "20"]) == 0
    assert json.loads(out(capsys))["speed_m_s"] == pytest.approx(20, abs=1e-6)
    assert main(["run", path, "--json", "--seconds", "5"]) == 0
    assert json.loads(out(capsys))["time_s"] == pytest.approx(5)
    assert main(["run", path, "--json", "--seconds", "5", "--grade", "30"]) == 0
    assert json.loads(out(capsys))["speed_m_s"] < 20


def test_a_sweep_by_its_ends_or_by_a_list(capsys: pytest.CaptureFixture[str]) -> None:
    """Both ways give the same figures for the same values."""
    path = str(BUILDS / "moss-84.json")
    assert main(["sweep", path, "--json", "gear.rear_teeth", "48", "56", "--points", "3"]) == 0
    ends = json.loads(out(capsys))
    assert main(["sweep", path, "--json", "--vary", "gear.rear_teeth=48,52,56"]) == 0
    listed = json.loads(out(capsys))
    assert listed["x"]["values"] == [48, 52, 56] and listed["values"] == ends["values"]
    both = ["--vary", "gear.rear_teeth=48,52", "--vary", "drive.controller.line_a=100 A,120 A"]
    assert main(["sweep", path, "--json", *both]) == 0
    assert len(json.loads(out(capsys))["values"]) == 4


@pytest.mark.parametrize(
    "odd",
    [
        [], ["gear.rear_teeth"], ["gear.rear_teeth", "44"], ["--vary", "gear.rear_teeth=nan,3"],
        ["--vary", "gear.rear_teeth"], ["--vary", "zzz=1,2"], ["--vary", "gear.rear_teeth=48,9999"],
        ["--vary", "gear.rear_teeth=1,2"] * 3,
    ],
)  # fmt: skip
def test_a_sweep_that_cannot_be_is_bad_input_and_no_crash(
    odd: list[str], capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["sweep", str(BUILDS / "moss-84.json"), *odd]) == 2
    assert "ninebolt: " in capsys.readouterr().err


def test_splits_of_two_loggers(capsys: pytest.CaptureFixture[str]) -> None:
    logs = [str(LOGS / f"brakka-96-s7-{x}") for x in ("gps.csv", "controller.csv")]
    assert main(["splits", "--json", *logs]) == 0
    reports = json.loads(out(capsys))
    quarter = [
        next(s["split"]["time_s"] for s in r["splits"] if s["split"]["name"] == "1/4 mile")
        for r in reports
    ]
    assert quarter[0] == pytest.approx(quarter[1], abs=0.15)
    assert reports[1]["pack_ohm"] == pytest.approx(0.033, rel=0.35)
    assert main(["splits", logs[0]]) == 0 and "1/4 mile" in out(capsys)


def test_params_and_schema(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = str(BUILDS / "moss-84.json")
    assert main(["params", path]) == 0 and "Line amps" in out(capsys)
    assert main(["params", path, "--dcf", str(tmp_path / "x.dcf")]) == 0
    assert b"[2104]" in (tmp_path / "x.dcf").read_bytes()
    assert main(["params", path, "--profile", "Guest", "--dcf", str(tmp_path / "g.dcf")]) == 0
    assert main(["params", "--diff", str(tmp_path / "x.dcf"), str(tmp_path / "g.dcf")]) == 1
    assert "Line amps: 100 → 80" in out(capsys)
    assert main(["params", "--diff", str(tmp_path / "x.dcf"), str(tmp_path / "x.dcf")]) == 0
    assert "Nothing differs" in out(capsys)
    assert main(["params", "--eds", str(tmp_path / "c.eds")]) == 0
    assert b"[ManufacturerObjects]" in (tmp_path / "c.eds").read_bytes()
    assert main(["params"]) == 2
    for what in ("build", "run", "parts"):
        assert main(["schema", what]) == 0
        assert json.loads(out(capsys))["$schema"]


def test_export_and_import(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    data = ["--data", str(tmp_path / "data")]
    assert main(["import", str(BUILDS / "pip-72.json"), *data]) == 0
    made = out(capsys).strip()
    assert main(["export", *data]) == 0 and made in out(capsys)
    assert main(["export", made, "--out", str(tmp_path / "x.json"), *data]) == 0
    assert (tmp_path / "x.json").read_bytes() == (BUILDS / "pip-72.json").read_bytes()


def test_bench_writes_what_splits_reads(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    arguments = ["bench", str(BUILDS / "pip-72.json"), "--out", str(tmp_path), "--seed", "4"]
    assert main([*arguments, "--fault", "dragging-brake"]) == 0
    files = out(capsys).split()
    assert len(files) == 3 and main(["splits", *files]) == 0
    assert main([*arguments, "--fault", "gremlin"]) == 2


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["check", "nowhere.json"], "cannot be read"),
        (["check", str(LOGS / "brakka-96-s7-gps.csv")], "breaks off"),
        (["splits", str(BUILDS / "pip-72.json")], "pip-72.json"),
        (["serve", "--host", "0.0.0.0"], "only listens on this machine"),
    ],
)
def test_bad_input_is_status_2_with_the_place(
    arguments: list[str], words: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(arguments) == 2
    assert words in capsys.readouterr().err


def test_a_handbook_case_can_be_typed_in(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    """Every parameter of the run can be given in a build file, as plain numbers."""
    doc = {
        "format_version": 1,
        "pack": {
            "cell": {
                "chemistry": "custom",
                "ocv": [[0, 4.0], [1, 4.0]],
                "capacity_ah": 1000,
                "r0_ohm": 1e-9,
                "r1_ohm": 0,
                "tau_s": 10,
            },
            "series": 25,
            "parallel": 1,
            "interconnect_ohm": 0,
            "start_soc": 1,
            "floor_v": 10,
        },
        "drive": {
            "controller": {
                "line_a": 100,
                "phase_a": 9000,
                "amp_basis": "peak",
                "modulation": 1,
                "r_switch_ohm": 0,
                "fixed_w": 0,
                "fw_id_a": 0,
            },
            "motor": {
                "kv_rpm_v": 90,
                "pole_pairs": 4,
                "r_phase_ohm": 1e-9,
                "l_phase_henry": 1e-9,
                "drag_nm": 0,
                "drag_nm_s_rad": 0,
                "rotor_kg_m2": 0,
            },
        },
        "gear": {
            "ratio": 5,
            "efficiency": 1,
            "wheel_kg_m2": 0,
            "tyre": {"rolling_radius_m": 0.3, "grip_mu": 3},
        },
        "road": {
            "total_kg": 200,
            "cda_m2": 0.6,
            "crr": 0,
            "air_kg_m3": 1.2,
            "grade_pct": 0,
            "cg_height_m": 0.001,
            "wheelbase_m": 1.4,
            "front_share": 0.5,
        },
    }
    path = tmp_path / "case.json"
    path.write_text(json.dumps(doc))
    assert main(["run", str(path), "--json", "--seconds", "100"]) == 0
    terminal = (2 * 100 * 100 / 1.2 / 0.6) ** (1 / 3)  # constant power against the air alone
    assert json.loads(out(capsys))["top_speed_m_s"] == pytest.approx(terminal, rel=1e-3)


def test_layout_and_its_status(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Status 1 when the pack does not go in."""
    files = [f"--{k}={tmp_path / k}" for k in ("svg", "dxf", "pdf")]
    assert main(["layout", str(BUILDS / "moss-84.json"), "--json", *files]) == 0
    got = json.loads(out(capsys))
    fit = got["layout"]
    own = next(o for o in fit["options"] if o["series"] == 23)
    assert fit["needed"] == 207 and own["parallel"] == fit["capacity"] // 23
    assert all((tmp_path / k).stat().st_size > 500 for k in ("svg", "dxf", "pdf"))
    doc = json.loads((BUILDS / "moss-84.json").read_text())
    doc["pack"]["parallel"] = 40
    (tmp_path / "fat.json").write_text(json.dumps(doc))
    assert main(["layout", str(tmp_path / "fat.json")]) == 1


def test_sort_writes_an_assignment(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    cells = str(ROOT / "examples/cells/salvaged.csv")
    shape = ["--series", "14", "--parallel", "8"]
    assert main(["sort", cells, *shape, "--json", "--out", str(tmp_path / "a.csv")]) == 0
    got = json.loads(out(capsys))
    assert len(got["groups"]) == 14 and got["spread"] <= 5e-4
    assert got["cautions"] and len((tmp_path / "a.csv").read_text().splitlines()) == 131 + len(
        got["cautions"]
    )
    assert main(["sort", cells, "--series", "40", "--parallel", "40"]) == 2


def test_sort_prints_labels(tmp_path: Path) -> None:
    cells = str(ROOT / "examples/cells/salvaged.csv")
    labels = tmp_path / "labels.pdf"
    shape = ["--series", "14", "--parallel", "8", "--paper", "letter"]
    assert main(["sort", cells, *shape, "--labels", str(labels)]) == 0
    assert labels.read_bytes().startswith(b"%PDF")


def test_outlines_in_the_examples_are_read(capsys: pytest.CaptureFixture[str]) -> None:
    """The SVG is the bay of the demo build; the DXF a plain box."""
    bay = json.loads((BUILDS / "moss-84.json").read_text())["donor"]["bays"][0]
    assert main(["outline", str(ROOT / "examples/bays/moss-frame-bay.svg"), "--json"]) == 0
    got = json.loads(out(capsys))
    assert got["corners"] == [pytest.approx(c) for c in bay["outline"]]
    assert main(["outline", str(ROOT / "examples/bays/brakka-engine-bay.dxf")]) == 0
    assert "4 corners, 360 mm x 270 mm" in out(capsys)
    assert main(["outline", str(BUILDS / "moss-84.json")]) == 2


def test_a_charge_that_should_have_stopped_has_status_1(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    log = str(ROOT / "examples/charging/pip-72-charge-s5.csv")
    assert main(["charge", log]) == 1
    assert "stop at" in out(capsys)
    assert main(["charge", log, "--full", "9", "--json"]) == 1  # apart, if not over
    again = ["bench", str(BUILDS / "pip-72.json"), "--out", str(tmp_path), "--seed", "5"]
    assert main([*again, "--charge", "--cells", "30"]) == 0
    assert (tmp_path / "charge-s5.csv").read_bytes() == Path(log).read_bytes()
    assert len((tmp_path / "cells-30-s5.csv").read_text().splitlines()) == 31


def test_percentages_want_their_base(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["percent", "30 % more than 40"]) == 0
    assert out(capsys).startswith("30 % more than 40 is 52")
    assert main(["percent", "30 %"]) == 2


def test_parts_go_onto_the_shelf_and_come_off_as_files(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    data = ["--data", str(tmp_path / "data")]
    assert main(["parts", str(ROOT / "examples/parts/barn-lot.csv"), *data]) == 0
    assert out(capsys) == "2 parts\n"
    assert main(["parts", "--kind", "cell", "--json", *data]) == 0
    names = [x["name"] for x in json.loads(out(capsys))["items"]]
    assert names[:2] == ["Barn lot 18650, 2.0 Ah", "Barn lot 26650, 3.1 Ah"]
    bad = tmp_path / "bad.csv"
    bad.write_text("name,capacity_ah\nX,-1\n")
    assert main(["parts", str(bad), *data]) == 2
