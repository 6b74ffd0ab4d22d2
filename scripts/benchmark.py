"""Benchmarks: printed as ratios and medians with their spread, never asserted.

run        one quarter-mile run against SciPy's adaptive integrator on the same case
many       1,000 variants of one build, in runs
recalc     one recalculation of all nine bolts through the API, a new value each time
link       the whole dictionary, and one look of the live view, from the bench bike in another process
brain      sweep, bands, advisor and proposals, each beside one run
logs       an hour at 100 Hz beside a bare parse of the same bytes; two loggers aligned
book       a thousand runs listed and filtered
keypress   from Enter in a field to the new headline on the screen, in the browser
"""

from __future__ import annotations

import dataclasses
import http.client
import json
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import partial
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "tests"))

from bench_brain import bench_brain  # noqa: E402
from bench_logs import bench_book, bench_logs  # noqa: E402
from fastapi.testclient import TestClient  # noqa: E402
from serving import demo_server  # noqa: E402

from benches import bench_process, port_to  # noqa: E402
from cases import Reference, plain_case  # noqa: E402
from chromium import chromium  # noqa: E402
from ninebolt.api.app import make_app  # noqa: E402
from ninebolt.compiled import compile_now  # noqa: E402
from ninebolt.core.setting.sets import OUR_PROFILE  # noqa: E402
from ninebolt.core.simulate.case import RunCase  # noqa: E402
from ninebolt.core.simulate.many import runs  # noqa: E402
from ninebolt.core.simulate.run import Stop, run  # noqa: E402
from ninebolt.link import guarded  # noqa: E402
from ninebolt.link.routines import sample  # noqa: E402
from ninebolt.services.demo import fill_demo  # noqa: E402
from ninebolt.services.house import House  # noqa: E402
from ninebolt.store.database import session  # noqa: E402

PORT = 8798
QUARTER_M = 402.336


@dataclass(frozen=True)
class Taken:
    """Seconds of some goes."""

    goes: list[float]

    @property
    def median(self) -> float:
        return statistics.median(self.goes)

    def __str__(self) -> str:
        return (
            f"{self.median * 1e3:.3g} ms ({min(self.goes) * 1e3:.3g} to {max(self.goes) * 1e3:.3g})"
        )


def taken(work: Callable[[], object], times: int) -> Taken:
    goes = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        goes.append(time.perf_counter() - start)
    return Taken(goes)


def _referred(case: RunCase) -> list[float]:
    return Reference(case).times([QUARTER_M])


def bench_run() -> None:
    for name, changes in (("volts", {}), ("weakening", {"machine_fw_a": 80.0})):
        case = plain_case(**changes)
        ours = taken(partial(run, case, Stop(distance_m=QUARTER_M)), 31)
        theirs = taken(partial(_referred, case), 5)
        print(
            f"run, {name}: {ours}; SciPy {theirs}; {theirs.median / ours.median:.0f} times faster"
        )


def bench_many() -> None:
    case = plain_case()
    one = taken(lambda: run(case, Stop(distance_m=QUARTER_M)), 31)
    cases = [
        dataclasses.replace(case, start_soc=case.start_soc * (1.0 - i / 4000)) for i in range(1000)
    ]
    all_of = taken(lambda: list(runs(cases, Stop(distance_m=QUARTER_M))), 5)
    print(f"1,000 variants: {all_of}; {all_of.median / one.median:.0f} compiled runs")


@contextmanager
def demo_client() -> Iterator[TestClient]:
    with tempfile.TemporaryDirectory() as data:
        house = House.open(Path(data))
        fill_demo(house)
        app = make_app(house)
        # The server holds a connection open, so that none of its requests is the last to close one.
        with session(house.path), TestClient(app, base_url="http://127.0.0.1:8790") as client:
            yield client


def bench_recalc() -> None:
    """Over a socket to a server in its own process, as the page asks."""
    with demo_server(PORT) as address:
        wire = http.client.HTTPConnection(address.removeprefix("http://"))
        amps = iter(range(100, 280))
        url = "/api/builds/brakka-96"

        def ask(method: str, path: str, body: object = None) -> None:
            wire.request(method, path, json.dumps(body), {"Content-Type": "application/json"})
            got = wire.getresponse()
            text = got.read()
            assert got.status == 200, text

        def once() -> None:
            change = {"path": "drive.controller.line_a", "value": next(amps)}
            ask("POST", f"{url}/changes?bolt=drive", {"changes": [change]})

        once()
        time.sleep(3.0)  # the physics is loaded by then, as for whoever has read the first page
        print(f"recalc, nine bolts through the API: {taken(once, 50)}")
        print(f"the least call: {taken(lambda: ask('GET', f'{url}/version'), 50)}")
        bands = []
        for _ in range(5):
            once()
            bands += taken(lambda: ask("GET", f"{url}/band"), 1).goes
        print(f"band of a headline: {Taken(bands)}")


def bench_runs() -> None:
    with demo_client() as client:
        bench_book(client, taken)


def bench_link() -> None:
    """Over a real socket to the bench bike in another process."""
    with bench_process() as bus, port_to(bus) as port:
        everything = taken(lambda: guarded.read_all(port, OUR_PROFILE), 9)
        one = taken(lambda: port.read((0x2104, 0)), 200)
        looks = taken(lambda: sample(port, OUR_PROFILE), 100)
        print(
            f"full dictionary read: {everything}; {everything.median / one.median:.0f} times one object ({one})"
        )
        print(f"one look of the live view: {looks}")
        hogs = [
            subprocess.Popen([sys.executable, "-c", "while True: pass"])
            for _ in range(os.cpu_count() or 1)
        ]
        loaded = taken(lambda: sample(port, OUR_PROFILE), 100)
        for hog in hogs:
            hog.kill()
            hog.wait()
        more = loaded.median / looks.median
        print(
            f"the same while every core is busy: {loaded}; {more:.1f} times; ten a second need 100 ms"
        )


def bench_keypress() -> None:
    from playwright.sync_api import sync_playwright

    with demo_server(PORT) as address, sync_playwright() as p:
        path = chromium()
        page = p.chromium.launch(executable_path=path).new_page()
        page.goto(f"{address}/build/moss-84/drive")
        page.get_by_role("group", name="Parts").get_by_role("button", name="Controller").click()
        page.wait_for_load_state("networkidle")
        goes = [_keypress(page, 200 + 3 * i) for i in range(50)]
        print(
            f"keypress, Enter to new headline: {statistics.median(goes):.0f} ms median, "
            f"{min(goes):.0f} to {max(goes):.0f}"
        )


def _keypress(page, amps: int) -> float:  # type: ignore[no-untyped-def]
    page.wait_for_timeout(700)
    page.get_by_label("Phase amps, setting", exact=True).fill(str(amps))
    return float(
        page.evaluate(
            """() => new Promise(done => {
          const strip = document.querySelector('[aria-label="Headline"]')
          const before = strip.innerText
          const start = performance.now()
          new MutationObserver((_, me) => {
            if (strip.innerText !== before) { me.disconnect(); done(performance.now() - start) }
          }).observe(strip, { subtree: true, childList: true, characterData: true })
          document.activeElement.dispatchEvent(
            new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
        })"""
        )
    )


ALL: dict[str, Callable[[], None]] = {
    "run": bench_run,
    "many": bench_many,
    "recalc": bench_recalc,
    "brain": lambda: bench_brain(taken),
    "logs": lambda: bench_logs(taken),
    "book": bench_runs,
    "link": bench_link,
    "keypress": bench_keypress,
}

if __name__ == "__main__":
    compile_now()
    for name in sys.argv[1:] or ALL:
        ALL[name]()
