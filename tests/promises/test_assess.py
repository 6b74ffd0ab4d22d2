"""The nine bolts: states, marks made of exactly the inputs used, findings with a fix that works."""

from __future__ import annotations

import dataclasses
from typing import Any

import pytest

from builds import changed
from ninebolt.core.bolts.assess import Assessment, assess, inputs_of
from ninebolt.core.build import BOLTS, Build, Mark
from ninebolt.core.codec import decode, encode, set_path
from ninebolt.core.finding import Finding
from ninebolt.core.trace import digest
from ninebolt.library.demo import brakka, moss, pip


def with_fix(build: Build, finding: Finding, which: int = 0) -> Build:
    return changed(build, {c.path: c.value for c in finding.fixes[which].changes})


def keys(a: Assessment, severity: str | None = None) -> set[str]:
    return {f.key for b in a.bolts for f in b.findings if severity in (None, f.severity)}


def test_an_empty_build_is_loose_and_says_what_is_missing() -> None:
    a = assess(Build())
    assert {b.state for b in a.bolts} <= {"loose"}
    assert all(b.missing for b in a.bolts)
    assert a.headline.top_speed_m_s is None


def test_the_third_demo_still_has_its_mistakes() -> None:
    """Each planted mistake is found."""
    found = keys(assess(pip()))
    for key in (
        "guard.bms_peak",
        "guard.fuse_dc",
        "guard.fuse_cable",
        "guard.dcdc_v",
        "guard.charger_v",
        "guard.no_precharge",
        "drive.basis",
        "drive.lvc_low",
        "wire.colour",
        "wire.order",
        "tune.curve_early",
        "donor.frame",
    ):
        assert key in found, key


def test_findings_carry_their_number_and_source(demo_build: Build) -> None:
    for b in assess(demo_build).bolts:
        for f in b.findings:
            assert f.reason.endswith((".", ")")) and f.source.text
            assert f.measured is not None, f.key


def test_every_fix_removes_or_softens_its_finding(demo_build: Build) -> None:
    """Applied, a fix leaves no finding of the same key that is as heavy."""
    weight = {"stop": 3, "caution": 2, "note": 1}
    for b in assess(demo_build).bolts:
        for f in b.findings:
            for i in range(len(f.fixes)):
                after = {
                    x.key: x for y in assess(with_fix(demo_build, f, i)).bolts for x in y.findings
                }
                rest = after.get(f.key)
                assert (
                    rest is None
                    or weight[rest.severity] < weight[f.severity]
                    or ((rest.measured or 0) < (f.measured or 0))
                ), f"{f.key}: {f.fixes[i].label}"


def test_a_mark_holds_until_one_of_its_inputs_moves() -> None:
    build = brakka()
    inputs = inputs_of(build, "guard")
    mark = Mark("guard", digest(inputs), "2031-05-04", "", inputs)
    signed = dataclasses.replace(build, marks=(mark,))
    assert assess(signed).bolt("guard").state == "marked"
    assert assess(changed(signed, {"wire.lowest_live_m": 0.3})).bolt("guard").state == "marked"
    moved = assess(changed(signed, {"pack.parallel": 11})).bolt("guard")
    assert moved.state == "broken"
    assert [(m.path, m.then, m.now) for m in moved.moved] == [("pack.parallel", 12, 11)]
    renamed = changed(signed, {"guard.bms.name": "Another name"})
    assert assess(renamed).bolt("guard").state == "marked"


def leaves(doc: Any, path: str = "") -> list[tuple[str, Any]]:
    if isinstance(doc, dict) and "amount" not in doc:
        return [x for k, v in doc.items() for x in leaves(v, f"{path}.{k}" if path else k)]
    return [(path, doc)]


@pytest.mark.parametrize("bolt", BOLTS)
def test_recorded_inputs_are_all_that_matters(bolt: str) -> None:
    """Change every number that a bolt did not record: its figures and findings stay the same."""
    build = moss()
    recorded = inputs_of(build, bolt)
    doc = encode(build)
    for path, value in leaves({k: v for k, v in doc.items() if k not in ("marks", "prove")}):
        if path in recorded or not isinstance(value, dict):
            continue
        doc = set_path(doc, path, {**value, "amount": value["amount"] * 1.01})
    before, after = assess(build).bolt(bolt), assess(decode(Build, doc)).bolt(bolt)
    assert (before.figures, before.findings) == (after.figures, after.findings)
    marked = dataclasses.replace(build, marks=(Mark(bolt, signed_at="now", inputs=recorded),))
    assert recorded and assess(marked).bolt(bolt).moved == ()


def test_power_is_set_by_the_weakest_link() -> None:
    """A 20 kW motor behind a 72 V, 100 A BMS is a 7 kW bike (common practice, no source)."""
    a = assess(
        changed(
            brakka(),
            {
                "pack.series": 20,
                "guard.bms.i_cont_a": 100,
                "guard.bms.i_peak_a": 100,
                "guard.bms.series": 20,
            },
        )
    )
    assert a.headline.peak_wheel_w is not None and a.headline.peak_wheel_w < 7500
    assert a.headline.choke == "BMS" and "drive.label" in keys(a)


def test_series_count_runs_through_all_bolts() -> None:
    """Changing S moves charger, BMS, controller ceiling and converter at once."""
    found = keys(assess(changed(brakka(), {"pack.series": 32})), "stop")
    assert {"guard.bms_series", "drive.ceiling"} <= found
    low = keys(assess(changed(brakka(), {"pack.series": 20})), "stop")
    assert {"guard.bms_series", "guard.charger_v"} <= low


@pytest.mark.parametrize("setting", [90, 140, 240])
def test_line_amps_are_never_exceeded(setting: float) -> None:
    a = assess(changed(brakka(), {"drive.controller.line_a": setting}))
    assert a.drawings.drive is not None
    assert max(a.drawings.drive.line_a) <= setting * 1.0001


def test_ribbon_covers_all_speeds_without_gap(demo_build: Build) -> None:
    d = assess(demo_build).drawings.drive
    assert d is not None
    assert d.ribbon[0].start == 0 and d.ribbon[-1].end == d.speed_m_s[-1]
    for a, b in zip(d.ribbon, d.ribbon[1:], strict=False):
        assert a.end == b.start and a.choke != b.choke


def test_unknown_amp_basis_gives_both_outcomes() -> None:
    f = next(f for f in assess(pip()).bolt("drive").findings if f.key == "drive.basis")
    assert f.limit == pytest.approx((f.measured or 0) * 2**0.5) and len(f.fixes) == 2
