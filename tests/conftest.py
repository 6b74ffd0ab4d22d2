"""Shared set-up: a house in a temporary folder, with counted ids and a clock that only ticks."""

from __future__ import annotations

import gc
import itertools
import shutil
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from types import SimpleNamespace

import httpx
import pytest
from fastapi.testclient import TestClient
from hypothesis import settings
from pydantic_core import from_json
from serial.urlhandler import protocol_socket

from builds import KNOWN
from ninebolt.api.app import make_app
from ninebolt.compiled import compile_now
from ninebolt.core.build import Build
from ninebolt.library.demo import DEMOS
from ninebolt.services.connection import Connection
from ninebolt.services.demo import fill_demo
from ninebolt.services.house import DATABASE, House
from ninebolt.services.jobs import Jobs
from ninebolt.store.database import session

# The same examples on every run; look for new ones with --hypothesis-profile=wide.
settings.register_profile("steady", derandomize=True, deadline=None)
settings.register_profile("wide", max_examples=600, deadline=None)
settings.load_profile("steady")

# A serial line over a socket waits 0.3 s after its end for whoever connects next; here somebody else does.
protocol_socket.time = SimpleNamespace(sleep=lambda _: None, time=time.time)

# Answers of 300 KB, ten thousand times: read in less than half the time.
httpx.Response.json = lambda self, **_: from_json(self.content)  # type: ignore[method-assign]

compile_now()  # once for all tests; some compare it with the plain one

ROOT = Path(__file__).resolve().parents[1]
UI = ROOT / "tests" / "ui"


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Each worker begins with an even stretch of the tests. The browser's, each as long as a hundred others, stand at
    the head of two of them: left at the end, they are all that is under way for the last minute, on every core."""
    workers = getattr(config, "workerinput", {}).get("workercount", 1)
    if workers < 2:
        return
    slow = [i for i in items if UI in i.path.parents]
    light = [i for i in items if UI not in i.path.parents]
    half, before = len(slow) // 2, workers // 2 * (len(items) // workers) - len(slow) // 2
    if before > 0:
        items[:] = [*slow[:half], *light[:before], *slow[half:], *light[before:]]


def pytest_collection_finish() -> None:
    """Eight thousand tests and their modules live to the end: looked through for garbage again and again, they cost a
    tenth of all the time."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 100)


def counted(form: str) -> Callable[[], str]:
    numbers = itertools.count(1)
    return lambda: form.format(next(numbers))


@pytest.fixture
def house(tmp_path: Path) -> House:
    return House.open(
        tmp_path,
        memory=KNOWN,
        now=counted("2031-05-04T10:00:00.{:06d}+00:00"),
        new_id=counted("id{:04d}"),
    )


@pytest.fixture(scope="session")
def filled(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo garage, filled once; each test works on a copy."""
    folder = tmp_path_factory.mktemp("filled")
    made = House.open(
        folder,
        memory=KNOWN,
        now=counted("2031-05-03T10:00:00.{:06d}+00:00"),
        new_id=counted("demo{:04d}"),
    )
    fill_demo(made)
    with session(made.path) as db:
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    return made.path


@pytest.fixture
def demo(tmp_path: Path, filled: Path) -> House:
    """A house on a copy of the demo garage."""
    shutil.copy(filled, tmp_path / DATABASE)
    return House(
        tmp_path / DATABASE,
        memory=KNOWN,
        now=counted("2031-05-04T10:00:00.{:06d}+00:00"),
        new_id=counted("id{:04d}"),
    )


@pytest.fixture(scope="session")
def served() -> Iterator[TestClient]:
    """The application and its loop, made once: its routes are worked out at the first request, which costs more
    than most tests."""
    with TestClient(
        make_app(None), base_url="http://127.0.0.1:8790", raise_server_exceptions=False
    ) as made:
        yield made


@pytest.fixture
def client(demo: House, served: TestClient) -> Iterator[TestClient]:
    state = served.app.state  # type: ignore[attr-defined]
    state.house, state.jobs, state.link = demo, Jobs(), Connection(demo)
    headers = dict(served.headers)
    yield served
    state.link.close()
    served.cookies.clear()
    served.headers.clear()
    served.headers.update(headers)


@pytest.fixture(params=sorted(DEMOS))
def demo_build(request: pytest.FixtureRequest) -> Build:
    return DEMOS[request.param]()
