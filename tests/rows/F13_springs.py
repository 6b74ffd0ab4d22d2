"""Springs for the new mass: sag, rate, rebound."""

from __future__ import annotations

import math

import pytest

from rows.conftest import Outside

G = 9.80665


def end(bike: Outside, which: str) -> dict[str, float]:
    rows = bike.body["assessment"]["drawings"]["gear"]["chassis"]["springs"]
    return dict(next(r for r in rows if r["end"] == which))


def test_ordinary_sag_is_load_over_rate(bike: Outside) -> None:
    """Hooke by hand: a shock of 80 N/mm at 2.5 : 1, preloaded 5 mm, under its sprung weight."""
    bike.put(
        ("gear.shock", {"rate_n_m": 80_000, "travel_m": 0.2, "leverage": 2.5, "preload_m": 0.005})
    )
    rear = end(bike, "rear")
    wheel = 80_000 / 2.5**2
    assert rear["sag_m"] == pytest.approx((rear["load_n"] - 80_000 * 0.005 / 2.5) / wheel)
    assert rear["share"] == pytest.approx(rear["sag_m"] / 0.2)


def test_the_rate_that_is_advised_gives_the_sag_that_is_promised(bike: Outside) -> None:
    bike.put(("gear.fork", {"rate_n_m": 30_000, "travel_m": 0.2, "preload_m": 0.0}))
    assert bike.says("gear.springs.front") == "caution"
    bike.put(("gear.fork.rate_n_m", end(bike, "front")["rate_n_m"]))
    assert end(bike, "front")["share"] == pytest.approx(0.30, abs=1e-6)
    assert bike.says("gear.springs.front") == ""


def test_dangerous_a_spring_that_is_all_in_at_rest_is_a_stop(bike: Outside) -> None:
    bike.put(("gear.shock", {"rate_n_m": 20_000, "travel_m": 0.18, "leverage": 2.6}))
    assert bike.says("gear.springs.rear") == "stop" and "bottoms" in bike.words("gear.springs")


def test_unknown_rate_is_judged_against_the_donor(bike: Outside) -> None:
    """Sprung weight 1.2 times: rate by the same factor, rebound by its root."""
    bike.put(("donor.ratings.gross_kg", 140))
    front = end(bike, "front")
    assert bike.says("gear.springs_open") == "note"
    assert front["damping"] == pytest.approx(math.sqrt(front["more"] ** 2))
    assert f"{front['more']:.2f} times" in bike.words("gear.springs_open")


def test_not_there_nothing_known_of_donor_or_springs_is_no_number(bike: Outside) -> None:
    bike.put(("donor.ratings", {}), ("donor.kind", "gas_roller"))
    assert end(bike, "rear")["more"] is None and end(bike, "rear")["rate_n_m"] is None


def test_unknown_travel_beside_a_rate_is_said_and_a_spring_that_is_far_too_soft(
    bike: Outside,
) -> None:
    """By hand: the fork carries about 600 N; 2 N/mm give some 300 mm of sag, 20 N/mm some 30."""
    bike.put(("gear.fork.rate_n_m", 2000))
    assert bike.says("gear.springs_half.front") == "caution"
    assert "decimal" in bike.words("gear.springs_half.front")
    assert 0.25 < (bike.findings()["gear.springs_half.front"]["measured"] or 0.0) < 0.35
    bike.put(("gear.fork.rate_n_m", 20_000))
    assert bike.says("gear.springs_half.front") == "note"
    bike.put(("gear.fork.travel_m", 0.2))
    assert bike.says("gear.springs_half.front") == ""
    bike.put(("gear.shock.rate_n_m", 60_000), ("gear.shock.travel_m", 0.2))
    assert "leverage" in bike.words("gear.springs_half.rear")
