"""Talks to the live bench bike over its control line, one JSON object a line; starts it beside the server."""

from __future__ import annotations

import json
import socket
import subprocess
import sys
from typing import Any

from ninebolt.bench import HOST
from ninebolt.errors import InputError, LinkError

PORT = 8791
PATIENCE_S = 20.0
LONGEST = 1 << 20  # bytes of an answer


def ask(port: int, what: dict[str, Any]) -> dict[str, Any]:
    """One request to the bench whose bus is at `port`. Raises LinkError where none runs, InputError for what it does
    not take."""
    try:
        with socket.create_connection((HOST, port + 1), timeout=2.0) as sock:
            sock.settimeout(PATIENCE_S)
            sock.sendall(json.dumps(what).encode() + b"\n")
            with sock.makefile("rb") as file:
                line = file.readline(LONGEST)
    except OSError as error:
        raise LinkError(
            "The bench bike does not answer.", where=f"{HOST}:{port + 1}", got=str(error.strerror or error),
            silent=True,
            todo="Start it with: ninebolt bench --live",
        ) from error  # fmt: skip
    if not line:
        raise LinkError("The bench bike hung up.", where=f"{HOST}:{port + 1}", silent=True)
    try:
        answer = json.loads(line)
    except ValueError:
        answer = None
    if not isinstance(answer, dict):
        raise LinkError(
            "What answers there is no bench bike.", where=f"{HOST}:{port + 1}", got=repr(line[:40]),
            expected="the control line of: ninebolt bench --live",
            todo="Another program has that port: give both another one with --bench-port.",
        )  # fmt: skip
    if not answer.get("ok"):
        raise InputError(
            str(answer.get("what", "The bench bike refused.")), where=str(answer.get("where", "")),
            got=str(answer.get("got", "")), expected=str(answer.get("expected", "")), todo=str(answer.get("todo", "")),
        )  # fmt: skip
    return answer


def start(port: int = PORT) -> subprocess.Popen[bytes]:
    """A bench bike as a process of its own, which ends when this one does."""
    return subprocess.Popen(
        [sys.executable, "-m", "ninebolt", "bench", "--live", "--while-input", "--port", str(port)],
        stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip
