"""A real server in its own process on a free port, and Debian's Chromium."""

from __future__ import annotations

import json
import os
import random
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Error, Page, expect

from benches import bench_process
from chromium import chromium
from ninebolt.services.demo import fill_demo
from ninebolt.services.house import House

ROOT = Path(__file__).resolve().parents[2]
# A machine that is held up for half a minute is no fault of the page.
PATIENT_MS = 90_000


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    path = chromium()
    assert path, "Chromium is missing: run ./nb test, which installs it"
    # Pages live for seconds here: to compile their scripts a second time does not pay.
    args = ["--js-flags=--no-opt --no-maglev", "--disable-gpu"]
    return {**browser_type_launch_args, "executable_path": path, "args": args}


@pytest.fixture(scope="session")
def browser_context_args(
    browser_context_args: dict[str, Any], running: tuple[str, Path]
) -> dict[str, Any]:
    return {
        **browser_context_args,
        "base_url": running[0],
        "viewport": {"width": 1280, "height": 800},
    }


@pytest.fixture(scope="session")
def garage(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo garage, filled once; each test works on a copy."""
    folder = tmp_path_factory.mktemp("garage")
    fill_demo(House.open(folder))
    return folder


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def three_free() -> int:
    """The first of three free ports in a row, as the bench bike needs them minutes later: below those that the system
    gives to whoever asks for any."""
    for first in random.SystemRandom().sample(range(20_000, 32_000, 3), 50):
        try:
            for port in (first, first + 1, first + 2):
                with socket.socket() as probe:
                    probe.bind(("127.0.0.1", port))
        except OSError:
            continue
        return first
    raise AssertionError("no three free ports in a row")


@pytest.fixture(scope="session")
def running(started: tuple[str, Path, int]) -> tuple[str, Path]:
    """One server for all tests: (address, its data folder)."""
    return started[:2]


@pytest.fixture
def hung(started: tuple[str, Path, int]) -> Iterator[Callable[[bool], None]]:
    """Lets the server hang, its connections open, or go on: as a phone out of reach sees it, or a laptop asleep."""

    def hang(on: bool) -> None:
        os.kill(started[2], signal.SIGSTOP if on else signal.SIGCONT)

    yield hang
    hang(False)


@pytest.fixture(scope="session")
def started(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[str, Path, int]]:
    """The server's address, its data folder, and the number of its process."""
    assert (ROOT / "frontend/dist/index.html").exists(), "the front end is not built: ./nb test"
    data = tmp_path_factory.mktemp("data")
    port, bench = free_port(), three_free()
    process = subprocess.Popen(
        [
            *(sys.executable, "-m", "ninebolt", "serve", "--port", str(port), "--data", str(data)),
            *("--bench-port", str(bench)),
        ],
        stdout=subprocess.DEVNULL,
        start_new_session=True,
        env={**os.environ},
    )
    url = f"http://127.0.0.1:{port}"
    for _ in range(600):
        try:
            urllib.request.urlopen(f"{url}/api/preferences", timeout=1).close()
            break
        except OSError:
            time.sleep(0.1)
    yield url, data, process.pid
    process.terminate()
    process.wait(60)


@pytest.fixture
def server(running: tuple[str, Path], garage: Path) -> str:
    """The server with a fresh demo garage: it opens its database anew for every request."""
    url, data = running
    for old in data.glob("ninebolt.sqlite3*"):
        old.unlink()
    for file in garage.glob("ninebolt.sqlite3*"):
        shutil.copy(file, data)
    return url


@pytest.fixture(scope="session")
def tab(browser: Browser, browser_context_args: dict[str, Any]) -> Iterator[Page]:
    """One tab for all tests of a worker: a new one reads and compiles every script again, which takes as long as the
    page itself."""
    context = browser.new_context(**browser_context_args)
    context.set_default_timeout(PATIENT_MS)
    expect.set_options(timeout=PATIENT_MS)
    yield context.new_page()
    context.close()


@pytest.fixture
def bench(tab: Page, server: str, browser_context_args: dict[str, Any]) -> Iterator[Page]:
    """A page at no address, with nothing kept of an earlier test, on a fresh garage; it fails its test on any script
    error."""
    devtools = tab.context.new_cdp_session(tab)
    devtools.send("Storage.clearDataForOrigin", {"origin": server, "storageTypes": "all"})
    devtools.detach()
    tab.context.clear_cookies()
    tab.set_viewport_size(browser_context_args["viewport"])
    tab.emulate_media(color_scheme="light", media="screen")
    errors: list[str] = []

    def wrong(error: Error) -> None:
        errors.append(str(error))

    tab.on("pageerror", wrong)
    yield tab
    tab.goto("about:blank")  # what it still asks for is not answered out of the next test's garage
    tab.remove_listener("pageerror", wrong)
    tab.unroute_all()
    tab.context.set_offline(False)
    for other in tab.context.pages:
        if other is not tab:
            other.close()
    assert errors == []


@pytest.fixture(scope="module")
def bench_bike(running: tuple[str, Path]) -> Iterator[int]:
    """The bench bike that the server looks for, in a process of its own; the port of its bus."""
    with urllib.request.urlopen(f"{running[0]}/api/link") as got:
        channel = json.load(got)["bench"]
    with bench_process(port=int(channel.rsplit(":", 1)[1])) as port:
        yield port
