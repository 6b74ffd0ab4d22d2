"""The bench's CAN bus: nodes in this process, and any number of clients over a socket that speaks the serial-line
CAN text protocol (frames as `tIIILDD…`), which is what small USB adapters speak."""

from __future__ import annotations

import random
import socket
import threading
from queue import Empty, SimpleQueue
from typing import Any

import can

MOST_LINE = 64


class Hub:
    """Carries every frame to everybody but its sender. loss: share of frames that get lost."""

    def __init__(self, seed: int = 1) -> None:
        self._lock = threading.Lock()
        self._members: list[Any] = []
        self._rng = random.Random(seed)
        self.loss = 0.0

    def join(self, member: Any) -> None:
        with self._lock:
            self._members.append(member)

    def leave(self, member: Any) -> None:
        with self._lock:
            self._members = [m for m in self._members if m is not member]

    def carry(self, sender: Any, message: can.Message) -> None:
        with self._lock:
            members = tuple(self._members)
            lost = self.loss > 0 and self._rng.random() < self.loss
        for m in () if lost else members:
            if m is not sender:
                m.deliver(message)


class LocalBus(can.BusABC):  # type: ignore[misc]
    """A node's end of the hub, as the CAN library knows a bus."""

    def __init__(self, hub: Hub) -> None:
        self._hub: Hub = hub
        self._queue: SimpleQueue[can.Message] = SimpleQueue()
        self.channel_info = "bench"
        super().__init__(channel="bench")
        hub.join(self)

    def deliver(self, message: can.Message) -> None:
        self._queue.put(message)

    def send(self, msg: can.Message, timeout: float | None = None) -> None:
        self._hub.carry(self, msg)

    def _recv_internal(self, timeout: float | None) -> tuple[can.Message | None, bool]:
        try:
            return self._queue.get(timeout=timeout), False
        except Empty:
            return None, False

    def shutdown(self) -> None:
        self._hub.leave(self)
        super().shutdown()


class Client:
    """One socket on the bus."""

    def __init__(self, hub: Hub, sock: socket.socket) -> None:
        self._hub, self._sock = hub, sock
        self._send = threading.Lock()

    def deliver(self, message: can.Message) -> None:
        self._write(line_of(message))

    def _write(self, data: bytes) -> None:
        try:
            with self._send:
                self._sock.sendall(data)
        except OSError:
            self._hub.leave(self)

    def run(self) -> None:
        """Read until the other end goes."""
        self._hub.join(self)
        rest = b""
        try:
            while True:
                data = self._sock.recv(4096)
                if not data:
                    return
                *lines, rest = (rest + data).split(b"\r")
                for line in lines:
                    self._line(line.strip(b"\n"))
                if len(rest) > MOST_LINE:
                    return  # no adapter speaks like that
        except OSError:
            return
        finally:
            self._hub.leave(self)
            self._sock.close()

    def _line(self, line: bytes) -> None:
        message = message_of(line)
        if message is None:
            self._write(b"\r")  # a setting of the adapter: taken
            return
        self._write(b"z\r")
        self._hub.carry(self, message)


def line_of(m: can.Message) -> bytes:
    """A frame as text."""
    head = f"T{m.arbitration_id:08X}" if m.is_extended_id else f"t{m.arbitration_id:03X}"
    return f"{head}{m.dlc}{bytes(m.data).hex().upper()}\r".encode()


def message_of(line: bytes) -> can.Message | None:
    """The frame in a line; None where it is none, or is broken."""
    size = {b"t": 3, b"T": 8}.get(line[:1])
    if size is None:
        return None
    try:
        data = bytes.fromhex(line[2 + size :].decode())
        if len(data) != int(line[1 + size : 2 + size]) or len(data) > 8:
            return None
        return can.Message(
            arbitration_id=int(line[1 : 1 + size], 16), is_extended_id=size == 8, data=data
        )
    except ValueError:
        return None


def serve(listener: socket.socket, hub: Hub) -> None:
    """Take clients until the listener is closed."""
    while True:
        try:
            sock, _ = listener.accept()
        except OSError:
            return
        sock.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        threading.Thread(target=Client(hub, sock).run, name="bench-can", daemon=True).start()
