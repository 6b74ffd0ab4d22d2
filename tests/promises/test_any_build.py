"""Any build that a document can hold is assessed: no crash, no endless run, no broken number."""

from __future__ import annotations

import json
import math
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from ninebolt.core.bolts.assess import Assessment, assess
from ninebolt.core.build import Build
from ninebolt.core.codec import decode, encode, set_path
from ninebolt.errors import FieldError
from ninebolt.library.demo import DEMOS


def numbers(doc: Any, path: str = "") -> list[str]:
    if isinstance(doc, dict) and "amount" not in doc:
        return [x for k, v in doc.items() for x in numbers(v, f"{path}.{k}" if path else k)]
    if isinstance(doc, list):
        return []
    kept = isinstance(doc, dict) or (isinstance(doc, int) and not isinstance(doc, bool))
    return [path] if kept and path != "format_version" else []


SENT = TypeAdapter(Assessment)
STARTS = {name: encode(make()) for name, make in DEMOS.items()}
PATHS = sorted({p for doc in STARTS.values() for p in numbers(doc)})
changes = st.lists(
    st.tuples(st.sampled_from(PATHS), st.one_of(st.none(), st.floats(-4, 4))), max_size=8
)


@settings(max_examples=90, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.sampled_from(sorted(STARTS)), changes)
def test_any_build_is_assessed(name: str, moves: list[tuple[str, float | None]]) -> None:
    """Up to eight numbers forgotten or moved by up to four powers of ten, as far as the bounds
    let them: the assessment still comes, and it can be sent."""
    doc = STARTS[name]
    for path, power in moves:
        old: Any = doc
        for step in path.split("."):
            old = old[step]
        if power is None:
            new: Any = None
        elif isinstance(old, dict):
            new = {**old, "amount": old["amount"] * 10**power}
        else:
            new = max(1, round((old or 1) * 10 ** (power / 2)))
        try:
            changed = set_path(doc, path, new)
            decode(Build, changed)
            doc = changed
        except FieldError:
            continue
    a = assess(decode(Build, doc))
    json.loads(SENT.dump_json(a))
    for b in a.bolts:
        for f in b.figures:
            assert f.value is None or math.isfinite(f.value), f"{b.bolt}.{f.key}"
