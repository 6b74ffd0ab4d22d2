"""Moments are kept in UTC and told by the clock on the wall of the machine that tells them, as its pages tell them.
What is no moment is told as it was written."""

from __future__ import annotations

from datetime import datetime, timedelta, timezone


def on_the_wall(at: str) -> str:
    """A kept moment to the minute."""
    local = _local(at)
    return at[:16] if local is None else f"{local:%Y-%m-%d %H:%M}"


def with_zone(at: str) -> str:
    """The same for paper, which travels: with how far that clock is from UTC."""
    local = _local(at)
    if local is None:
        return on_the_wall(at)
    return f"{on_the_wall(at)} {timezone(local.utcoffset() or timedelta())}"


def _local(at: str) -> datetime | None:
    try:
        return datetime.fromisoformat(at).astimezone() if "T" in at else None
    except (ValueError, OverflowError):
        return None
