"""Benchmarks of the workshop's brain: sweep, bands, advisor, proposals, each beside one run of the same bike."""

from __future__ import annotations

from collections.abc import Callable

from builds import changed
from ninebolt.core.bike.case import assemble
from ninebolt.core.build import Build
from ninebolt.core.simulate.run import Stop, run
from ninebolt.library.demo import moss
from ninebolt.services.advisor import advise
from ninebolt.services.bands import sampling_steps
from ninebolt.services.house import bundled_shelf
from ninebolt.services.propose import LOOKED_AT, proposing_steps
from ninebolt.services.sweep import Axis, sweep


def bench_brain(taken) -> None:  # type: ignore[no-untyped-def]
    """taken: times some work some times."""
    build, shelf = moss(), bundled_shelf()
    case = assemble(build).case
    assert case is not None
    one = taken(lambda: run(case, Stop(distance_m=402.336)), 31).median

    def show(what: str, work: Callable[[], object], times: int, each: int) -> None:
        goes = taken(work, times)
        print(f"{what}: {goes}; {goes.median / one / each:.2g} quarter miles each of {each}")

    teeth, amps = (
        Axis("gear.rear_teeth", 40, 64, 25),
        Axis("drive.controller.phase_a", 100, 300, 40),
    )
    show("sweep, a map of quarter miles", lambda: sweep(build, teeth, amps, "quarter"), 5, 1000)
    show("bands, drawn at random", lambda: list(sampling_steps(build)()), 3, 2000)
    show("advisor, singles and pairs", lambda: advise(build, shelf=shelf), 3, 1)
    wish = changed(Build(name="New"), {"goal.top_speed_m_s": 25, "goal.ride_m": 40_000})
    show("proposals", lambda: list(proposing_steps(wish, shelf, "light")()), 1, LOOKED_AT)
