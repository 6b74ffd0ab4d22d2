"""What a page is told of the connection: who answers, what it shows, what was written."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.setting.sets import Identity


@dataclass(frozen=True, slots=True)
class Pending:
    """A write into this controller that never came to its end, and what stands where. build: whose it was, by name."""

    id: str
    build_id: str
    build: str
    at: str
    state: str
    new: int
    old: int
    neither: int
    sentence: str


@dataclass(frozen=True, slots=True)
class LinkState:
    """The connection as a page shows it. bench: the channel of the bench bike beside this server."""

    connected: bool
    adapter: str
    profile: str
    device: Identity | None
    problem: str
    pending: Pending | None
    recording: bool
    samples: int
    bench: str
    bench_gps: str
    heard: int
    unseen: tuple[str, ...] = ()  # what this kind does not show while it runs
    identifies: bool = False  # its identification is known here
    turned: str = ""  # the job of the newest identification since it was connected
    last_for: str = (
        ""  # the build that this controller was written for last, '' for none that is known here
    )
    last_name: str = ""


@dataclass(frozen=True, slots=True)
class LiveSample:
    """One look at a running controller; state and fault in words, '' for no fault. What its kind does not show is said
    to be so: it is not ready because nobody can see that it is not."""

    t_s: float
    values: dict[str, float]
    state: str
    fault: str
    blinks: tuple[int, int]
    causes: tuple[str, ...]
    expected: str = ""  # what the code belongs to while that runs; then it is no fault by itself


@dataclass(frozen=True, slots=True)
class Written:
    """A write that ran through: how many objects, and whether the power has to be off once."""

    id: str
    count: int
    cycle: bool
    state: str
    sentence: str
