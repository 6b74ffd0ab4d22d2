"""Moments on paper and in names: by the clock of this machine, whatever zone that is in."""

from __future__ import annotations

import time
from collections.abc import Iterator

import pytest

from ninebolt.formats.when import on_the_wall, with_zone


@pytest.fixture
def denver(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """Seven hours behind UTC in winter, six in summer (IANA zone data)."""
    monkeypatch.setenv("TZ", "America/Denver")
    time.tzset()
    yield
    monkeypatch.undo()
    time.tzset()


@pytest.mark.usefixtures("denver")
def test_ordinary_the_evening_before_where_utc_is_past_midnight() -> None:
    assert on_the_wall("2031-01-05T02:30:00.000+00:00") == "2031-01-04 19:30"
    assert with_zone("2031-01-05T02:30:00.000+00:00") == "2031-01-04 19:30 UTC-07:00"
    assert with_zone("2031-07-05T02:30:00.000+00:00") == "2031-07-04 20:30 UTC-06:00"


@pytest.mark.parametrize(
    "text", ["", "spring", "2031-01-05", "2031-99-05T02:30", "0001-01-01T00:00:00+14:00"]
)
def test_unknown_what_is_no_moment_stays_as_it_was_written(text: str) -> None:
    assert on_the_wall(text) == with_zone(text) == text[:16]
