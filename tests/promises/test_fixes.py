"""What a fix promises: one press, and what it was offered for is gone or smaller."""

from __future__ import annotations

from typing import Any

import pytest

from builds import assess, changed
from ninebolt.core.bolts.assess import Assessment
from ninebolt.core.build import Build
from ninebolt.core.codec import decode, encode
from ninebolt.core.finding import Finding, Fix, set_line_amps
from ninebolt.library.demo import DEMOS, brakka
from ninebolt.services.docs import with_changes
from ninebolt.services.house import bundled_shelf
from promises.test_findings import CASES

SHELF = bundled_shelf()
WEIGHT = {"stop": 0, "caution": 1, "note": 2}


def look(build: Build) -> Assessment:
    return assess(build, None, SHELF)


def finding_of(build: Build, key: str) -> Finding | None:
    found = look(build).bolt(key.split(".")[0]).findings
    return next((f for f in found if f.key == key), None)


def offered(key: str) -> list[tuple[int, int]]:
    """(case in the table, number of the fix) of all fixes that a finding offers."""
    rows = []
    for number, (of, changes, _, _) in enumerate(CASES):
        if of == key:
            found = finding_of(changed(brakka(), changes), key)
            rows += [(number, i) for i in range(len(found.fixes) if found else 0)]
    return rows


def milder(before: Finding, after: Finding) -> bool:
    """The same finding again, but lighter, or with its number nearer to its limit."""
    if WEIGHT[after.severity] > WEIGHT[before.severity]:
        return True
    numbers = (before.measured, before.limit, after.measured, after.limit)
    if any(x is None for x in numbers):
        return False
    was, was_limit, now, now_limit = (float(x or 0.0) for x in numbers)
    return abs(now - now_limit) < abs(was - was_limit)


def test_there_are_many_fixes_to_look_at() -> None:
    """Of every eighth finding."""
    assert sum(len(offered(key)) for key in sorted({c[0] for c in CASES})[::8]) > 5


@pytest.mark.parametrize("key", sorted({k for k, _, _, _ in CASES}))
def test_each_fix_of_a_finding_cures_it(key: str) -> None:
    for number, i in offered(key):
        build = changed(brakka(), CASES[number][1])
        before = finding_of(build, key)
        assert before is not None
        fix = before.fixes[i]
        after = finding_of(changed(build, {c.path: c.value for c in fix.changes}), key)
        assert after is None or milder(before, after), f"{fix.label} leaves it as it was"


@pytest.mark.parametrize("name", sorted(DEMOS))
def test_each_fix_of_the_demo_garage_makes_a_readable_build(name: str) -> None:
    """What a fix writes is a document like any other: it decodes, and encodes to itself."""
    build = DEMOS[name]()
    for bolt in look(build).bolts:
        for fix in (fix for f in bolt.findings for fix in f.fixes):
            doc = encode(changed(build, {c.path: c.value for c in fix.changes}))
            assert encode(decode(Build, doc)) == doc, fix.label


@pytest.mark.parametrize("name", sorted(DEMOS))
def test_a_fix_says_what_it_sets(name: str) -> None:
    """The number on the button is the number that is written."""
    for bolt in look(DEMOS[name]()).bolts:
        for fix in (fix for f in bolt.findings for fix in f.fixes):
            if fix.label.startswith("Set line amps"):
                assert fix == set_line_amps(float(fix.changes[0].value["amount"]))


@pytest.mark.parametrize(("amps", "label"), [(134.6, "134 A"), (60.0, "60 A"), (99.999, "99 A")])
def test_line_amps_are_capped_below_the_limit(amps: float, label: str) -> None:
    """Rounding up would put the setting above what it is to stay under."""
    fix: Fix = set_line_amps(amps)
    value: dict[str, Any] = fix.changes[0].value
    assert fix.label == f"Set line amps to {label}"
    assert value["amount"] <= amps and fix.changes[0].path == "drive.controller.line_a"


@pytest.mark.parametrize("name", sorted(DEMOS))
def test_pressing_first_fixes_comes_to_an_end(name: str) -> None:
    """Following the first fix of the first stop never goes round in a circle."""
    build, seen = DEMOS[name](), set[str]()
    for _ in range(40):
        stops = [f for b in look(build).bolts for f in b.findings if f.severity == "stop"]
        fix = next((f.fixes[0] for f in stops if f.fixes), None)
        if fix is None:
            return
        state = repr(encode(build))
        assert state not in seen, f"round in a circle with: {fix.label}"
        seen.add(state)
        build = changed(build, {c.path: c.value for c in fix.changes})
    raise AssertionError("forty fixes and still a stop with a fix")


def test_dangerous_no_fix_is_offered_that_no_build_can_hold() -> None:
    """At 70 degrees the cells may give nothing: line amps of 0 were offered, and refused at the press."""
    for changes in (
        {"pack.temp_c": 70.0},
        {"pack.stand_in.capacity_ah": 0.05, "pack.stand_in.i_cont_a": 0.1},
        {"pack.cell.temp_max_c": 14.5},
    ):
        build = changed(brakka(), changes)
        doc, tried = encode(build), 0
        for f in [x for b in look(build).bolts for x in b.findings]:
            for fix in f.fixes:
                made = [{"path": c.path, "value": c.value} for c in fix.changes]
                decode(Build, with_changes(doc, made))
                tried += 1
        assert tried
