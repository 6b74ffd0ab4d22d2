"""The server is killed while a log comes in: the garage opens, and the log is whole or not there."""

from __future__ import annotations

import signal
import socket
import time
from pathlib import Path

import numpy as np
import pytest

from served import Server, with_demo

ROWS = 60_000  # big enough to be under way when the signal comes


def log() -> bytes:
    t = np.arange(ROWS) / 100.0
    v = np.maximum(0.0, 12.0 - 12.0 * np.cos(t / 20.0))
    rows = "\n".join(f"{a:.2f},{b:.3f},{80 - b:.2f}" for a, b in zip(t, v, strict=True))
    return f"time [s],speed [m/s],pack [V]\n{rows}\n".encode()


def send_and_forget(server: Server, path: str, name: str, data: bytes) -> socket.socket:
    """The whole body of an upload, over a connection whose answer nobody reads."""
    edge = "edge-of-a-part"
    head = f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'
    body = head.encode() + data + f"\r\n--{edge}--\r\n".encode()
    host, port = server.url.removeprefix("http://").split(":")
    line = socket.create_connection((host, int(port)), timeout=30)
    line.sendall(
        f"POST {path} HTTP/1.1\r\nHost: {host}:{port}\r\nContent-Type: multipart/form-data; boundary={edge}\r\n"
        f"Content-Length: {len(body)}\r\n\r\n".encode()
        + body
    )
    return line


@pytest.mark.parametrize("after_s", [0.02, 0.3])
def test_a_log_that_was_coming_in_is_whole_or_not_there(
    tmp_path: Path, filled: Path, after_s: float
) -> None:
    server = Server(with_demo(tmp_path / "data", filled))
    build = "/api/builds/moss-84"
    before = server.ask(f"{build}/logs")
    line = send_and_forget(server, f"{build}/logs", "hour.csv", log())
    time.sleep(after_s)
    server.end(signal.SIGKILL)
    line.close()
    again = Server(tmp_path / "data")
    try:
        now = again.ask(f"{build}/logs")
        came = [x for x in now if x["id"] not in {y["id"] for y in before}]
        assert len(now) == len(before) + len(came) and len(came) <= 1
        for x in came:  # there: then all of it
            trace = again.ask(f"{build}/logs/{x['id']}/trace")
            assert trace["whole"][1] == pytest.approx((ROWS - 1) / 100.0)
        assert again.ask(build)["assessment"]["headline"]["top_speed_m_s"] > 0
        assert len(again.ask("/api/builds")) == 3
    finally:
        again.end()
