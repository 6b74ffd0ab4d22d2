"""Many runs at once: the compiled kernel lets go of the interpreter, so threads share the cores."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor

from ninebolt.core.kernel import is_compiled
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.run import Run, Stop, run

AT_ONCE = 64  # cases handed to a thread at a time: small enough to stop soon, large enough to pay


def runs(cases: Sequence[RunCase], stop: Stop, workers: int = 2) -> Iterator[Run]:
    """Each case's run, in order. Whoever reads on decides whether the rest is ridden."""
    if not is_compiled() or len(cases) < 4:
        yield from (run(case, stop) for case in cases)
        return
    blocks = [cases[i : i + AT_ONCE] for i in range(0, len(cases), AT_ONCE)]
    with ThreadPoolExecutor(workers) as pool:
        for done in pool.map(lambda block: [run(case, stop) for case in block], blocks):
            yield from done
