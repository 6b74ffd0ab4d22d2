"""Write what is generated from the Python side: OpenAPI, units for the front end, JSON
Schemas, the list of findings, the rows covered."""

from __future__ import annotations

import ast
import json
import re
from pathlib import Path
from typing import Any

from ninebolt.api.app import make_app
from ninebolt.core.bolts.register import CHECKS
from ninebolt.core.build import BOLTS
from ninebolt.services.schemas import SCHEMAS
from ninebolt.units import QUANTITIES

ROOT = Path(__file__).resolve().parents[1]


def units() -> dict[str, Any]:
    """Quantities with their units as the front end reads them."""
    return {
        q.key: {
            "label": q.label,
            "units": [
                {
                    "symbol": u.symbol,
                    "factor": u.factor,
                    "offset": u.offset,
                    "aliases": list(u.aliases),
                }
                for u in q.units
            ],
        }
        for q in QUANTITIES.values()
    }


def findings() -> str:
    """Every finding with when it speaks and its source, by bolt."""
    out = [
        "# Findings",
        "",
        "Made by `./nb types` from the register of findings; do not edit. A key with several places",
        "carries the place behind it.",
        "",
    ]
    for bolt in BOLTS:
        rows = [c for c in CHECKS.values() if c.bolt == bolt]
        out += [f"## {bolt} ({len(rows)})", "", "| key | speaks when | source |", "|---|---|---|"]
        out += [f"| `{c.key}` | {cell(c.when)} | {cell(c.source.text)} |" for c in rows] + [""]
    return "\n".join(out)


def cell(text: str) -> str:
    return text.replace("|", "\\|").replace("\n", " ")


def coverage() -> str:
    """Rows of capability with the file of tests that drives each from outside."""
    out = [
        "# Coverage",
        "",
        "Made by `./nb types` from `tests/rows`; do not edit. Each file drives the program from",
        "outside: the ordinary case, the dangerous one, what is not known, what is not there.",
        "",
        "| row | what it shows | cases |",
        "|---|---|---|",
    ]
    for file in sorted((ROOT / "tests/rows").glob("[A-Z]*_*.py")):
        body = file.read_text(encoding="utf-8")
        tests = re.findall(r"^def test_(\w+)", body, re.M)
        first = ast.get_docstring(ast.parse(body)) or ""
        words = "; ".join(t.replace("_", " ") for t in tests)
        out.append(f"| {file.stem.split('_')[0]} | {cell(first.splitlines()[0])} | {words} |")
    return "\n".join(out) + "\n"


def generated() -> dict[str, str]:
    """Path from the root -> text of every generated file."""

    def text(obj: Any) -> str:
        return json.dumps(obj, indent=1, ensure_ascii=False, sort_keys=True) + "\n"

    out = {
        "frontend/src/api/openapi.json": text(make_app(None).openapi()),
        "frontend/src/lib/units.gen.json": text(units()),
    }
    out["docs/findings.md"] = findings()
    out["docs/coverage.md"] = coverage()
    for name, make in SCHEMAS.items():
        out[f"docs/schema/{name}.schema.json"] = text(make())
    return out


if __name__ == "__main__":
    for path, content in generated().items():
        (ROOT / path).write_text(content, encoding="utf-8")
        print(path)
