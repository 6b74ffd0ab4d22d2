"""Benchmarks: printed as ratios and medians, never asserted.

run        one quarter-mile run against SciPy's adaptive integrator on the same case
recalc     one recalculation of all nine bolts through the API, a new value each time
keypress   from Enter in a field to the new headline on the screen, in the browser
"""

from __future__ import annotations

import shutil
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "tests"))

from fastapi.testclient import TestClient  # noqa: E402
from serving import demo_server  # noqa: E402

from cases import Reference, plain_case  # noqa: E402
from ninebolt.api.app import make_app  # noqa: E402
from ninebolt.core.simulate.run import Stop, run  # noqa: E402
from ninebolt.services.demo import fill_demo  # noqa: E402
from ninebolt.services.house import House  # noqa: E402

PORT = 8798


def median_s(work: Callable[[], object], times: int) -> float:
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        taken.append(time.perf_counter() - start)
    return statistics.median(taken)


def bench_run() -> None:
    for name, changes in (("volts", {}), ("weakening", {"machine_fw_a": 80.0})):
        case = plain_case(**changes)
        ours = median_s(lambda case=case: run(case, Stop(distance_m=402.336)), 9)
        theirs = median_s(lambda case=case: Reference(case).times([402.336]), 3)
        print(
            f"run, {name}: {ours * 1e3:.1f} ms; SciPy reference {theirs * 1e3:.0f} ms; "
            f"{theirs / ours:.0f} times faster"
        )


def bench_recalc() -> None:
    with tempfile.TemporaryDirectory() as data:
        house = House.open(Path(data))
        fill_demo(house)
        with TestClient(make_app(house), base_url="http://127.0.0.1:8790") as client:
            amps = iter(range(100, 280))

            def once() -> None:
                change = {"path": "drive.controller.line_a", "value": next(amps)}
                body = {"changes": [change]}
                client.post("/api/builds/brakka-96/changes", json=body).raise_for_status()

            once()
            print(f"recalc, nine bolts through the API: {median_s(once, 15) * 1e3:.0f} ms median")


def bench_keypress() -> None:
    from playwright.sync_api import sync_playwright

    with demo_server(PORT) as address, sync_playwright() as p:
        path = shutil.which("chromium") or shutil.which("chromium-browser")
        page = p.chromium.launch(executable_path=path).new_page()
        page.goto(f"{address}/build/moss-84/drive")
        page.get_by_role("group", name="Parts").get_by_role("button", name="Controller").click()
        page.wait_for_load_state("networkidle")
        taken = [_keypress(page, 200 + 7 * i) for i in range(9)]
        print(
            f"keypress, Enter to new headline: {statistics.median(taken):.0f} ms median, "
            f"{min(taken):.0f} to {max(taken):.0f}"
        )


def _keypress(page, amps: int) -> float:  # type: ignore[no-untyped-def]
    page.wait_for_timeout(1500)
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


if __name__ == "__main__":
    chosen = sys.argv[1:] or ["run", "recalc", "keypress"]
    for name in chosen:
        {"run": bench_run, "recalc": bench_recalc, "keypress": bench_keypress}[name]()
