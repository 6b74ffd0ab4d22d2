"""A live bench bike for tests: in another process where the link is what is tried, else in this one."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from ninebolt.bench.live import Bench
from ninebolt.core.build import Build
from ninebolt.core.setting.sets import OUR_PROFILE
from ninebolt.link.port import Adapter, Port, opened
from ninebolt.services.bench_line import ask


@contextmanager
def bench_process(*args: str, port: int = 0) -> Iterator[int]:
    """`ninebolt bench --live` on free ports; the port of its bus."""
    command = [
        sys.executable,
        "-m",
        "ninebolt",
        "bench",
        *args,
        "--live",
        "--while-input",
        "--port",
        str(port),
    ]
    proc = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
    try:
        assert proc.stdin and proc.stdout
        line = proc.stdout.readline()
        yield int(line.rsplit(":", 1)[1])
    finally:
        assert proc.stdin
        proc.stdin.close()
        proc.wait(60)


@contextmanager
def port_to(bus: int) -> Iterator[Port]:
    with opened(Adapter(channel=f"socket://127.0.0.1:{bus}"), OUR_PROFILE.dictionary) as port:
        yield port


def do(bus: int, what: str, **more: Any) -> dict[str, Any]:
    """One request to the control line."""
    return ask(bus, {"do": what, **more})


def build_file(folder: Path, build: Build) -> str:
    from ninebolt.formats.build_json import write_build

    path = folder / "build.json"
    path.write_bytes(write_build(build))
    return str(path)


def still_bench(build: Build, *faults: str) -> Bench:
    """A bench that only moves when it is told to wait."""
    return Bench(build, 1, faults)


def said(answer: dict[str, Any]) -> str:
    return json.dumps(answer)
