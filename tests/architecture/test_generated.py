"""What is generated from the Python side is what lies in the tree."""

from __future__ import annotations

import importlib.util
import shutil
import subprocess
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
FRONT = ROOT / "frontend"


def generated() -> dict[str, str]:
    spec = importlib.util.spec_from_file_location("generate", ROOT / "scripts" / "generate.py")
    assert spec and spec.loader
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    out: dict[str, str] = module.generated()
    return out


def test_generated_files_are_fresh() -> None:
    """OpenAPI, units and schemas match the code. If not: ./nb types"""
    made = generated()
    assert len(made) > 5
    assert [p for p, text in made.items() if (ROOT / p).read_text("utf-8") != text] == [], (
        "stale; run ./nb types"
    )


def test_front_end_types_are_fresh(tmp_path: Path) -> None:
    """schema.d.ts is what openapi-typescript makes of the OpenAPI document."""
    npx = shutil.which("npx")
    assert npx, "Node is needed"
    target = tmp_path / "schema.d.ts"
    subprocess.run(
        [npx, "openapi-typescript", "src/api/openapi.json", "-o", str(target)],
        cwd=FRONT,
        check=True,
        capture_output=True,
    )
    assert target.read_text() == (FRONT / "src/api/schema.d.ts").read_text(), "run ./nb types"
