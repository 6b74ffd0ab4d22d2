"""Sweeps are the build's own figures point by point; bands follow the laws of drawing at random."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy import stats

from builds import changed
from ninebolt.core.bolts.assess import assess
from ninebolt.core.build import Build
from ninebolt.core.finding import Finding
from ninebolt.core.simulate.band import KEYS, drawn_factors, sampled
from ninebolt.errors import FieldError, InputError
from ninebolt.library.demo import brakka, moss
from ninebolt.services.bands import how_to, sampling_steps, uncertain
from ninebolt.services.quick import quick
from ninebolt.services.sweep import RESULTS, Axis, sweep, sweep_steps


def test_each_point_is_what_the_build_then_shows() -> None:
    found = sweep(moss(), Axis("gear.rear_teeth", 48, 60, 13), None, "top_speed")
    for teeth, value in zip(found.x.values, found.values, strict=True):
        shown = assess(changed(moss(), {"gear.rear_teeth": int(teeth)})).headline.top_speed_m_s
        assert value == pytest.approx(shown, rel=1e-9)
    assert found.x.now == 56 and found.best == 0


def stops_of(build: Build) -> tuple[Finding, ...]:
    return assess(build).stops


def keys(build: Build) -> set[str]:
    return {f.key for f in stops_of(build)}


def test_the_best_is_not_what_stops_the_bike() -> None:
    """30 in series is 126 V on a controller for 100 V: the fastest, and smoke. Against trying every point."""
    for axis, result in (
        (Axis("pack.series", 16, 30, 15), "top_speed"),
        (Axis("drive.controller.phase_a", 100, 450, 36), "to_time"),
    ):
        found = sweep(moss(), axis, None, result, stops_of)
        assert found.stops and found.clear is not None and found.clear != found.best
        whole, good = axis.path == "pack.series", []
        for x, value in zip(found.x.values, found.values, strict=True):
            there = keys(changed(moss(), {axis.path: int(x) if whole else x}))
            if value is not None and there <= keys(moss()):
                good.append(value)
        best = max(good) if found.better == "more" else min(good)
        assert found.values[found.clear] == best
    assert sweep(moss(), axis, None, result).clear is None  # nobody judged


def test_an_ordinary_best_is_clear_and_where_none_is_that_is_said() -> None:
    found = sweep(moss(), Axis("gear.rear_teeth", 48, 60, 13), None, "top_speed", stops_of)
    assert found.clear == found.best and found.stops == ()
    found = sweep(moss(), Axis("pack.series", 27, 30, 4), None, "top_speed", stops_of)
    assert found.clear is None and any("ceiling" in t for t in found.stops)


def test_in_a_map_the_point_that_is_named_was_looked_at() -> None:
    x, y = Axis("pack.series", 20, 28, 9), Axis("drive.controller.phase_a", 100, 450, 15)
    found = sweep(moss(), x, y, "quarter", stops_of)
    assert found.clear is not None and found.y is not None
    row, column = divmod(found.clear, 9)
    at = {"pack.series": int(found.x.values[column]), y.path: found.y.values[row]}
    assert keys(changed(moss(), at)) <= keys(moss())


def test_a_map_has_its_rows_and_the_best_of_all() -> None:
    found = sweep(
        moss(),
        Axis("gear.rear_teeth", 44, 60, 5),
        Axis("drive.controller.phase_a", 150, 300, 4),
        "to_time",
    )
    assert found.y is not None and len(found.values) == len(found.x.values) * len(found.y.values)
    known = [v for v in found.values if v is not None]
    assert found.best is not None and found.values[found.best] == min(known)
    one = sweep(
        changed(moss(), {"drive.controller.phase_a": found.y.values[2]}),
        Axis("gear.rear_teeth", 44, 60, 5),
        None,
        "to_time",
    )
    width = len(found.x.values)
    assert found.values[2 * width : 3 * width] == pytest.approx(one.values)


def test_more_line_amps_are_never_slower_and_more_mass_never_quicker() -> None:
    amps = sweep(moss(), Axis("drive.controller.line_a", 40, 200, 9), None, "to_time").values
    kg = sweep(moss(), Axis("road.total_kg", 140, 260, 9), None, "to_time").values
    assert all(
        a is not None and b is not None and b <= a + 1e-6
        for a, b in zip(amps, amps[1:], strict=False)
    )
    assert all(
        a is not None and b is not None and b >= a - 1e-6 for a, b in zip(kg, kg[1:], strict=False)
    )


def test_a_limit_that_is_not_the_choke_can_be_raised_without_effect() -> None:
    found = sweep(moss(), Axis("guard.bms.i_peak_a", 300, 600, 7), None, "to_time").values
    assert max(found) - min(found) < 1e-6  # type: ignore[type-var, operator]


@pytest.mark.parametrize("result", sorted(RESULTS))
def test_every_result_computes(result: str) -> None:
    found = sweep(brakka(), Axis("road.cda_m2", 0.4, 0.7, 4), None, result)
    assert found.done == 4 and all(v is not None for v in found.values)


def test_modules_are_swept_in_whole_ones() -> None:
    build = changed(
        moss(), {"pack.cell.inner_series": 4, "pack.series": 24, "pack.cell.form": "module"}
    )
    found = sweep(build, Axis("pack.series", 16, 28, 13), None, "top_speed")
    assert found.x.values == [16, 20, 24, 28]


@pytest.mark.parametrize(
    ("axis", "what"),
    [
        (Axis("gear.rear_teeth", 0, 60, 5), "at least 10"),
        (Axis("drive.motor.kv_rpm_v", 0, 60, 5), "above 0"),
        (Axis("gear.ratio", 0, 6, 5), "above 0"),
        (Axis("name", 0, 6, 5), "cannot be swept"),
        (Axis("drive.motor.nothing", 0, 6, 5), "cannot be swept"),
        (Axis("road.cda_m2", 0.5, 0.5, 5), "two different ends"),
        (Axis("road.cda_m2", math.nan, 0.5, 5), "two different ends"),
    ],
)
def test_bad_axes_are_named(axis: Axis, what: str) -> None:
    with pytest.raises((InputError, FieldError), match=what):
        sweep(moss(), axis, None, "top_speed")


def test_a_build_that_does_not_compute_says_what_is_missing() -> None:
    with pytest.raises(InputError, match="kv_rpm_v"):
        sweep(
            changed(moss(), {"drive.motor.kv_rpm_v": None}),
            Axis("road.cda_m2", 0.4, 0.6, 5),
            None,
            "top_speed",
        )


def test_too_many_points_are_refused() -> None:
    with pytest.raises(InputError, match="Too many"):
        sweep_steps(
            moss(),
            Axis("road.cda_m2", 0.4, 0.6, 300),
            Axis("road.crr", 0.01, 0.04, 300),
            "top_speed",
        )


def test_drawn_factors_have_their_laws() -> None:
    """Kolmogorov-Smirnov by SciPy against the uniform and the normal law of JCGM 101."""
    made = drawn_factors({"a": (0.3, True), "b": (0.1, False)}, 4000, 7)
    assert stats.kstest(made["a"], stats.uniform(0.7, 0.6).cdf).pvalue > 0.01
    assert stats.kstest(made["b"], stats.norm(1.0, 0.05).cdf).pvalue > 0.01
    again = drawn_factors({"a": (0.3, True), "b": (0.1, False)}, 4000, 7)
    assert np.array_equal(made["a"], again["a"])


def test_shares_of_a_sum_are_known_in_closed_form() -> None:
    """y = 3 a + b with spreads of variance ratio 9 : 1 per unit: shares 0.9 and 0.1, an idle input none; the 95 %
    bounds are those of a normal law."""
    f = drawn_factors({"a": (0.2, False), "b": (0.2, False), "c": (0.2, False)}, 20_000, 3)
    y = 3 * f["a"] + f["b"]
    found = sampled(f, [dict.fromkeys(KEYS, float(v)) for v in y])[KEYS[0]]
    shares = dict(found.shares)
    assert shares["a"] == pytest.approx(0.9, abs=0.02) and shares["b"] == pytest.approx(
        0.1, abs=0.02
    )
    assert shares.get("c", 0.0) < 0.002
    half = 1.96 * 0.1 * math.sqrt(10)
    assert found.low == pytest.approx(4 - half, abs=0.02) and found.high == pytest.approx(
        4 + half, abs=0.02
    )


def test_bands_shrink_when_the_leading_guess_is_measured() -> None:
    """And the headline lies inside them."""
    *_, wide = sampling_steps(moss())()
    lead = wide.next[0]
    top = next(f for f in wide.figures if f.key == "top_speed_m_s")
    made = quick(moss(), protected=False)
    assert made is not None and top.low < made.top_m_s < top.high
    assert uncertain(moss())[lead.path] > 0 and lead.how
    first = top.shares[0].path
    old = moss()
    value = {"amount": old.road.cda_m2.amount, "origin": "measured", "tolerance": 0.01}
    assert first == "road.cda_m2"
    *_, narrow = sampling_steps(changed(old, {first: value}))()
    then = next(f for f in narrow.figures if f.key == "top_speed_m_s")
    assert then.high - then.low < 0.75 * (top.high - top.low)


def test_how_to_measure_is_never_empty() -> None:
    assert all(how_to(p) for p in uncertain(brakka()))
