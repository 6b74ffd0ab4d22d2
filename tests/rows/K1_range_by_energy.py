"""Range by energy and use, with its spread."""

from __future__ import annotations

import pytest

from rows.conftest import Outside


def test_ordinary_range_follows_the_use(bike: Outside) -> None:
    """A trail takes more a kilometre than a street."""
    bike.put(("goal.use", "trail"))
    trail = bike.head["range_m"]
    bike.put(("goal.use", "street"))
    assert trail < bike.head["range_m"]


def test_it_has_a_band(bike: Outside) -> None:
    band = bike.client.get(f"{bike.url}/band").json()
    assert 0 < band["half"]["range_m"] < 0.3 * bike.head["range_m"]


def test_dangerous_an_empty_pack_goes_nowhere_far(bike: Outside) -> None:
    full = bike.head["range_m"]
    bike.put(("pack.start_soc", 0.2))
    assert bike.head["range_m"] is None or bike.head["range_m"] < 0.4 * full


def test_unknown_capacity_is_no_range(bike: Outside) -> None:
    bike.put(("pack.cell.capacity_ah", None))
    assert bike.head["range_m"] is None


def test_twice_the_cells_go_further_but_not_twice(bike: Outside) -> None:
    once, parallel = bike.head["range_m"], bike.body["doc"]["pack"]["parallel"]
    bike.put(("pack.parallel", 2 * parallel))
    assert 1.5 * once < bike.head["range_m"] < 2.1 * once


def test_not_there_a_stated_absence_is_no_number(bike: Outside) -> None:
    bike.put(("pack.series", None))
    assert bike.head["range_m"] is None and bike.head["range_m"] != pytest.approx(0)
