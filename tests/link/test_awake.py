"""The clock of writes and recordings: man clock_gettime(2) has CLOCK_BOOTTIME count a suspend, CLOCK_MONOTONIC not."""

from __future__ import annotations

import time

import pytest

from ninebolt import awake


@pytest.mark.skipif(not hasattr(time, "CLOCK_BOOTTIME"), reason="not Linux")
def test_it_counts_a_sleep_of_the_machine(monkeypatch: pytest.MonkeyPatch) -> None:
    asleep = {time.CLOCK_BOOTTIME: 4000.0, time.CLOCK_MONOTONIC: 400.0}
    monkeypatch.setattr(time, "clock_gettime", asleep.__getitem__)
    assert awake.seconds() == 4000.0


def test_not_there_it_goes_on_all_the_same(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delattr(time, "CLOCK_BOOTTIME", raising=False)
    first = awake.seconds()
    assert first <= awake.seconds() <= time.monotonic()
