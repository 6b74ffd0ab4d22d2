"""`ninebolt serve` as a process of its own, asked over HTTP and killed without a word."""

from __future__ import annotations

import json
import shutil
import signal
import subprocess
import sys
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

from ninebolt.services.house import DATABASE


def with_demo(data: Path, filled: Path) -> Path:
    """A folder with a copy of the demo garage, which takes seconds to fill anew."""
    data.mkdir()
    shutil.copy(filled, data / DATABASE)
    return data


class Server:
    """`ninebolt serve` on a folder; asked over HTTP, killed without a word."""

    def __init__(self, data: Path, demo: bool = False) -> None:
        command = [sys.executable, "-m", "ninebolt", "serve", "--port", "0", "--data", str(data)]
        self.process = subprocess.Popen(
            [*command, *(["--demo"] if demo else [])], stdout=subprocess.PIPE, text=True
        )
        assert self.process.stdout is not None
        self.url = self.process.stdout.readline().strip().rsplit(" ", 1)[1]

    def ask(self, path: str, body: Any = None) -> Any:
        """A GET, or a POST of a body; the answer, or what was said against it."""
        data = None if body is None else json.dumps(body).encode()
        head = {"content-type": "application/json"} if data is not None else {}
        try:
            request = urllib.request.Request(f"{self.url}{path}", data, head)
            with urllib.request.urlopen(request, timeout=60) as got:
                return json.load(got)
        except urllib.error.HTTPError as error:
            return json.load(error)

    def begin(self, path: str, body: Any) -> subprocess.Popen[str]:
        """A POST in a process of its own, whose answer nobody will see."""
        code = (
            "import sys, urllib.request as u;"
            "r = u.Request(sys.argv[1], sys.argv[2].encode(), {'content-type': 'application/json'});"
            "u.urlopen(r, timeout=60)"
        )
        return subprocess.Popen(
            [sys.executable, "-c", code, f"{self.url}{path}", json.dumps(body)],
            stderr=subprocess.DEVNULL,
            text=True,
        )

    def end(self, how: signal.Signals = signal.SIGTERM) -> None:
        self.process.send_signal(how)
        self.process.wait(60)
