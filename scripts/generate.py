"""Write what is generated from the Python side: OpenAPI, units for the front end, JSON Schemas."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from ninebolt.api.app import make_app
from ninebolt.formats.schema import SCHEMAS
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


def generated() -> dict[str, str]:
    """Path from the root -> text of every generated file."""

    def text(obj: Any) -> str:
        return json.dumps(obj, indent=1, ensure_ascii=False, sort_keys=True) + "\n"

    out = {
        "frontend/src/api/openapi.json": text(make_app(None).openapi()),
        "frontend/src/lib/units.gen.json": text(units()),
    }
    for name, make in SCHEMAS.items():
        out[f"docs/schema/{name}.schema.json"] = text(make())
    return out


if __name__ == "__main__":
    for path, content in generated().items():
        (ROOT / path).write_text(content, encoding="utf-8")
        print(path)
