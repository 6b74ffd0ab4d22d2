"""A demo server of its own, for scripts that look at the real thing."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def demo_server(port: int, bench: bool = False) -> Iterator[str]:
    """Start `serve --demo` on a fresh garage; gives its address, ends it again. bench: with a live bench
    bike beside it."""
    with tempfile.TemporaryDirectory() as data:
        command = [sys.executable, "-m", "ninebolt", "serve", "--demo", "--port", str(port)]
        command += ["--bench", "--bench-port", str(port + 30)] if bench else []
        server = subprocess.Popen([*command, "--data", data])
        address = f"http://127.0.0.1:{port}"
        for _ in range(200):
            try:
                urllib.request.urlopen(f"{address}/api/preferences").close()
                break
            except OSError:
                time.sleep(0.1)
        try:
            yield address
        finally:
            server.terminate()
            server.wait(10)
