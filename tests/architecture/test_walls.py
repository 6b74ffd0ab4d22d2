"""The walls of the house, from the syntax tree: who may import whom, how long a file may be."""

from __future__ import annotations

import ast
import re
from functools import cache
from pathlib import Path

import pytest

from ninebolt.core.build import BOLTS

ROOT = Path(__file__).resolve().parents[2]
SRC = ROOT / "src" / "ninebolt"
FRONT = ROOT / "frontend" / "src"
FILES = sorted(SRC.rglob("*.py"))

# Room -> rooms it may import. Inside the core the same, one level down.
ALLOWED = {
    "errors": set(),
    "awake": set(),
    "units": {"errors"},
    "core": {"units", "errors"},
    "compiled": {"core"},
    "library": {"core", "units", "errors"},
    "formats": {"core", "units", "errors"},
    "store": {"core", "units", "errors"},
    "link": {"core", "formats", "units", "errors", "awake"},
    "bench": {"core", "formats", "units", "errors"},
    "services": {
        "awake",
        "compiled",
        "core",
        "formats",
        "store",
        "library",
        "bench",
        "link",
        "units",
        "errors",
    },
    "api": {"services", "core", "formats", "store", "library", "units", "errors"},
    "cli": {
        "services",
        "compiled",
        "core",
        "formats",
        "store",
        "library",
        "bench",
        "api",
        "units",
        "errors",
    },
    "__main__": {"cli"},
    "__init__": set(),
}
GROUND = {"value", "finding", "limits", "codec", "copper", "parts", "build", "trace"}
ELEMENTS = {"battery", "drive", "vehicle", "guard"}
CORE = {
    "value": set(),
    "words": set(),
    "finding": {"words"},
    "limits": {"finding"},
    "copper": set(),
    "codec": {"value"},
    "parts": {"value"},
    "build": {"value", "parts"},
    "trace": {"value", "build", "codec"},
    "kernel": set(),
    "setting": {"words"},  # what a controller holds: numbers and addresses
    **{room: {"copper", "kernel"} for room in ELEMENTS},
    "simulate": {"copper", "kernel"} | ELEMENTS,  # numbers, no parts and no build
    "match": {"copper", "limits"} | ELEMENTS,
    "logs": {"copper", "limits", "words"} | ELEMENTS,
    "bike": GROUND | ELEMENTS | {"simulate", "match", "logs"},
    "bolts": GROUND | ELEMENTS | {"bike", "simulate", "match", "logs", "setting"},
}
PURE_NOT = {
    "os",
    "pathlib",
    "io",
    "time",
    "random",
    "socket",
    "sqlite3",
    "fastapi",
    "pydantic",
    "starlette",
    "subprocess",
    "tempfile",
    "urllib",
    "http",
    "secrets",
    "uuid",
    "shutil",
}


@cache
def imports(path: Path) -> list[str]:
    out = []
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            out += [a.name for a in node.names]
        elif isinstance(node, ast.ImportFrom):
            assert node.level == 0, f"{path}: relative import"
            out.append(node.module or "")
            if node.module and node.module.startswith("ninebolt"):
                out += [f"{node.module}.{a.name}" for a in node.names]
    return out


def room(path: Path) -> str:
    part = path.relative_to(SRC).parts[0]
    return part.removesuffix(".py")


def core_room(parts: list[str]) -> str:
    return parts[0].removesuffix(".py")


def wrong_way(path: Path, name: str) -> str:
    """Why a file may not import this; nothing if it may."""
    own, parts = room(path), name.split(".")
    if parts[0] != "ninebolt" or len(parts) < 2 or parts[1].startswith("__"):
        return ""
    other = parts[1]
    if other != own and other not in ALLOWED[own]:
        return f"{own} imports {name}"
    if not own == other == "core" or len(parts) < 3:
        return ""
    mine = core_room(list(path.relative_to(SRC / "core").parts))
    theirs = core_room(parts[2:])
    if mine == "__init__":
        return ""
    if theirs != mine and theirs not in CORE[mine]:
        return f"core.{mine} imports {name}"
    return another_bolt(path, parts) if mine == theirs == "bolts" else ""


def another_bolt(path: Path, parts: list[str]) -> str:
    """What two bolts need lives in core.bike."""
    inside = path.relative_to(SRC / "core" / "bolts").parts
    if len(inside) > 1 and len(parts) > 3 and parts[3] in BOLTS and parts[3] != inside[0]:
        return f"bolt {inside[0]} imports {'.'.join(parts)}"
    return ""


def test_imports_run_one_way() -> None:
    """Each file imports only what stands below its room."""
    found = {path: [w for name in imports(path) if (w := wrong_way(path, name))] for path in FILES}
    assert {str(p.relative_to(SRC)): f for p, f in found.items() if f} == {}


def test_the_core_is_pure() -> None:
    """No files, clock, random numbers, network, database or web in the core."""
    core = [p for p in FILES if room(p) == "core"]
    found = {p: {name.split(".")[0] for name in imports(p)} & PURE_NOT for p in core}
    assert {str(p.relative_to(SRC)): f for p, f in found.items() if f} == {}


def test_the_wall_would_hold(tmp_path: Path) -> None:
    """The reader of imports sees what it should see."""
    bad = tmp_path / "bad.py"
    bad.write_text("import os\nfrom ninebolt.api import app\n")
    assert imports(bad) == ["os", "ninebolt.api", "ninebolt.api.app"]
    run = SRC / "core" / "simulate" / "run.py"
    assert wrong_way(run, "ninebolt.api.app") == "core imports ninebolt.api.app"
    assert wrong_way(run, "ninebolt.core.build") == "core.simulate imports ninebolt.core.build"
    gear = SRC / "core" / "bolts" / "gear" / "bolt.py"
    assert "bolt gear imports" in wrong_way(gear, "ninebolt.core.bolts.pack.bolt")
    assert not wrong_way(gear, "ninebolt.core.bolts.gear.ladder")


def test_no_import_circles() -> None:
    """Files do not import each other in a ring."""
    modules = {"ninebolt." + ".".join(p.relative_to(SRC).with_suffix("").parts): p for p in FILES}
    graph = {m: {i for i in imports(p) if i in modules and i != m} for m, p in modules.items()}
    seen: dict[str, int] = {}

    def walk(node: str, trail: tuple[str, ...]) -> None:
        assert node not in trail, " -> ".join((*trail, node))
        if seen.get(node):
            return
        for other in graph[node]:
            walk(other, (*trail, node))
        seen[node] = 1

    for module in graph:
        walk(module, ())


SOURCES = [
    *FILES,
    *(p for p in FRONT.rglob("*.ts*") if p.name != "schema.d.ts"),
    *(ROOT / "tests").rglob("*.py"),
    *(ROOT / "scripts").glob("*.py"),
    ROOT / "nb",
]


def test_no_file_is_too_long() -> None:
    long = {p: len(p.read_text("utf-8").splitlines()) for p in SOURCES}
    assert {str(p.relative_to(ROOT)): n for p, n in long.items() if n > 600} == {}


@pytest.mark.parametrize(
    "path", [p for p in FILES if p.name != "units.py"], ids=lambda p: str(p.relative_to(SRC))
)
def test_constants_stand_in_one_place(path: Path) -> None:
    """No 3.6, 273.15, 9.81 or 1609.344 outside units.py, as a number in code."""
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Constant) and isinstance(node.value, float):
            if path.name == "ocv.py" or path.parts[-2] == "library":
                continue  # 3.6 V is a cell voltage there
            assert node.value not in (3.6, 273.15, 9.81, 9.80665, 1609.344, 0.3048), node.lineno


def test_no_colour_outside_the_theme() -> None:
    """Colours are tokens; only the theme spells them."""
    for path in FRONT.rglob("*.ts*"):
        if "theme" in path.parts or path.name.endswith("schema.d.ts"):
            continue
        assert not re.search(r"#[0-9a-fA-F]{6}\b", path.read_text("utf-8")), path


def test_no_size_outside_the_theme() -> None:
    """Sizes of text, fields, columns and lines are steps of the theme's scales; a page names a step."""
    for path in FRONT.rglob("*.tsx"):
        if path.name.endswith(".test.tsx"):
            continue
        assert not re.search(r"\d(?:px|rem)\b", path.read_text("utf-8")), path


def test_dependencies_are_pinned_without_addresses() -> None:
    """Every requirement has a version and a hash; no lock names a place to download from."""
    for path in (ROOT / "requirements").glob("*.lock"):
        text = path.read_text()
        assert "http://" not in text and "https://" not in text and "--index" not in text
        names = [x for x in text.splitlines() if x and not x.startswith((" ", "#"))]
        assert names and all("==" in x for x in names)
        assert text.count("--hash=sha256:") >= len(names)
    assert '"resolved"' not in (ROOT / "frontend" / "package-lock.json").read_text()
