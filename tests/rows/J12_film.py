"""Times from a film: what frames can tell, and what nobody could read."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside


def film(bike: Outside, status: int = 200, **body: Any) -> dict[str, Any]:
    got = bike.client.post("/api/sums/video", json=body)
    assert got.status_code == status, got.text
    return dict(got.json())


LAUNCH = {"what": "rolls", "at_s": 10.0, "reading": 0.0}
SIXTY = {"what": "60 mph", "at_s": 14.2, "reading": 26.82}


def test_ordinary_a_time_with_what_a_frame_leaves_open(bike: Outside) -> None:
    """Two uniform errors of a frame: 95 % within (1 - sqrt 0.05) of one (triangular distribution)."""
    found = film(bike, marks=[LAUNCH, SIXTY], fps=30.0, slowed=1.0, claim_s=4.21)
    assert found["rows"][1]["since_s"] == pytest.approx(4.2)
    assert found["rows"][1]["half_s"] == pytest.approx((1 - 0.05**0.5) / 30)
    assert found["claim"] == "borne out"


def test_dangerous_a_claim_that_the_film_contradicts(bike: Outside) -> None:
    assert (
        film(bike, marks=[LAUNCH, SIXTY], fps=30.0, slowed=1.0, claim_s=3.5)["claim"]
        == "contradicted"
    )


def test_dangerous_slow_motion_is_not_taken_for_real_time(bike: Outside) -> None:
    found = film(bike, marks=[LAUNCH, SIXTY], fps=30.0, slowed=4.0)
    assert found["rows"][1]["since_s"] == pytest.approx(1.05)


def test_unknown_whether_it_is_slowed_proves_nothing(bike: Outside) -> None:
    """Phones film slow motion at 120 and show it at 30: a 1.05 s launch would pass for one of 4.2 s."""
    found = film(bike, marks=[LAUNCH, SIXTY], fps=30.0, claim_s=4.2)
    assert found["claim"] == "not told" and "real speed" in found["sentence"]
    assert found["rows"][1]["half_s"] is None and "slowed" in found["rows"][1]["why"]


def test_unknown_frame_rate_has_no_bound_and_proves_nothing(bike: Outside) -> None:
    found = film(bike, marks=[LAUNCH, SIXTY], slowed=1.0, claim_s=4.2)
    assert found["rows"][1]["half_s"] is None and found["claim"] == "not told"
    assert found["rows"][1]["state"] == "unverified"


def test_not_there_no_reading_is_unverified(bike: Outside) -> None:
    blurred = {"what": "60 mph", "at_s": 14.2, "reading": None}
    found = film(bike, marks=[LAUNCH, blurred], fps=60.0, slowed=1.0, claim_s=4.2)
    assert found["rows"][1]["state"] == "unverified" and found["claim"] == "not told"
    assert "Unverified: 60 mph" in found["sentence"]


def test_bad_input_is_named(bike: Outside) -> None:
    assert "two moments" in film(bike, 422, marks=[LAUNCH], fps=30.0)["message"]
    assert "order of the film" in film(bike, 422, marks=[SIXTY, LAUNCH], fps=30.0)["message"]
    assert "no frame rate" in film(bike, 422, marks=[LAUNCH, SIXTY], fps=2.0)["message"]
