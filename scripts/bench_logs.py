"""Benchmarks of logs and run book: an hour at 100 Hz beside a bare parse of the same bytes, a thousand runs."""

from __future__ import annotations

import io
import json
import random
import subprocess
import tempfile
from pathlib import Path

import numpy as np
import polars
from fastapi.testclient import TestClient

from ninebolt.core.logs.align import aligned
from ninebolt.core.logs.ride import analyse
from ninebolt.formats.ride_log import read_log

ROOT = Path(__file__).resolve().parents[1]
REFERENCES = ROOT / ".venv-references" / "bin" / "python"  # made by ./nb references
# The data-frame library that most people know, by its usual parser: times of some goes, one file after the other.
USUAL = """
import io, json, sys, time
import pandas
files = [open(name, "rb").read() for name in sys.argv[1:]]
def goes():
    start = time.perf_counter()
    for data in files:
        pandas.read_csv(io.BytesIO(data))
    return time.perf_counter() - start
print(json.dumps([goes() for _ in range(6)][1:]))
"""
HZ, HOUR_S = 100, 3600
CHANNELS = ("pack [V]", "line [A]", "phase [A]", "rpm", "throttle [%]", "motor [C]", "controller [C]",
            "duty", "x", "y")  # fmt: skip


def made() -> tuple[bytes, bytes]:
    """(the controller's log of 12 columns, a receiver's at 10 Hz): thirty starts in an hour."""
    rng = np.random.default_rng(1)
    t = np.arange(HZ * HOUR_S) / HZ
    v = np.maximum(0.0, 14.0 - 14.0 * np.cos(2 * np.pi * t / 120.0) - 0.4)
    seen = v + rng.normal(0.0, 0.03, len(t))
    frame = polars.DataFrame(
        {"time [s]": t.round(3), "speed [m/s]": seen.round(3)}
        | {c: (v * (k + 2) + rng.normal(0.0, 0.1, len(t))).round(3) for k, c in enumerate(CHANNELS)}
    )
    lat = 50.0 + np.cumsum(v) / HZ / 111_229.0
    every = slice(None, None, HZ // 10)
    fixes = polars.DataFrame(
        {"time [s]": t[every].round(3), "speed [m/s]": seen[every].round(3),
         "latitude": lat[every].round(8), "longitude": np.full(len(t), 8.0)[every]}
    )  # fmt: skip
    return frame.write_csv().encode(), fixes.write_csv().encode()


def usual(*files: bytes) -> float | None:
    """Median seconds of the usual bare parse of files; None without the reference libraries."""
    if not REFERENCES.exists():
        return None
    with tempfile.TemporaryDirectory() as folder:
        names = [str(Path(folder) / f"{i}.csv") for i in range(len(files))]
        for name, data in zip(names, files, strict=True):
            Path(name).write_bytes(data)
        done = subprocess.run(
            [str(REFERENCES), "-c", USUAL, *names], capture_output=True, text=True, check=True
        )
    return float(np.median(json.loads(done.stdout)))


def beside(seconds: float, *files: bytes) -> str:
    least = usual(*files)
    if least is None:
        return "the usual library's is not there: ./nb references"
    return f"{seconds / least:.1f} times the usual library's ({least * 1e3:.0f} ms)"


def bench_logs(taken) -> None:  # type: ignore[no-untyped-def]
    """taken: times some work some times."""
    data, fixes = made()
    bare = taken(lambda: [polars.read_csv(io.BytesIO(x)) for x in (data, fixes)], 9)
    alone = taken(lambda: polars.read_csv(io.BytesIO(data)), 9)
    own = taken(lambda: analyse(read_log(data, "c.csv")), 7)
    both = taken(lambda: analyse(aligned(read_log(data, "c.csv"), read_log(fixes, "g.csv"))), 7)
    print(f"an hour at {HZ} Hz, {len(data) / 1e6:.0f} MB, bare: {alone}")
    print(
        f"read and analysed: {own}; {own.median / alone.median:.1f} times the bare parse; {beside(own.median, data)}"
    )
    print(
        f"two loggers read, aligned, analysed: {both}; {both.median / bare.median:.1f} times the bare parses ({bare}); "
        f"{beside(both.median, data, fixes)}"
    )


def bench_book(client: TestClient, taken) -> None:  # type: ignore[no-untyped-def]
    """A thousand runs of one build, listed and filtered."""
    url, rng = "/api/builds/moss-84", random.Random(1)
    setups = ["16 teeth", "17 teeth"]
    plan = {
        "name": "Months",
        "setups": setups,
        "protocol": "between marks",
        "trials": 4,
        "spread": 0.1,
        "gap": 0.3,
    }
    session = client.post(f"{url}/sessions", json=plan).raise_for_status().json()["id"]
    for k in range(1000):
        trial = {"setup": setups[k % 2], "value": round(rng.gauss(15.0, 0.2), 3)}
        client.post(f"{url}/sessions/{session}/trials", json=trial).raise_for_status()
    print(
        f"a thousand runs listed: {taken(lambda: client.get(f'{url}/book').raise_for_status(), 9)}"
    )
    found = taken(
        lambda: client.get(f"{url}/book", params={"text": "17 teeth"}).raise_for_status(), 9
    )
    print(f"a thousand runs filtered: {found}")
