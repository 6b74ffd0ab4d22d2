"""Adapters by configuration, not by code: the same bench bike behind a serial line and behind a bus on the network.

Both ends are made here from what is published: the serial one speaks the ASCII frames that small adapters speak (the
bench's own), through a pseudo-terminal as a serial port is; the network one the CAN library's daemon protocol, as its
client asks for it ("< open … >", "< rawmode >", "< send id length bytes >", "< frame id seconds bytes >").
"""

from __future__ import annotations

import os
import socket
import threading
import time
import tty
from collections.abc import Iterator
from contextlib import contextmanager, suppress

import pytest
from fastapi.testclient import TestClient

from ninebolt.core.setting.sets import OUR_PROFILE
from ninebolt.errors import LinkError
from ninebolt.link import guarded
from ninebolt.link.port import Adapter, connect, opened


def pumped(read, write) -> None:  # type: ignore[no-untyped-def]
    """Bytes from one end to the other until one is closed."""

    def pump() -> None:
        try:
            while data := read():
                write(data)
        except OSError:
            pass

    threading.Thread(target=pump, daemon=True).start()


@contextmanager
def serial_line(bus: int) -> Iterator[str]:
    """A serial device on which the bench bike's adapter answers."""
    ours, theirs = os.openpty()
    tty.setraw(theirs)
    with socket.create_connection(("127.0.0.1", bus)) as line:
        pumped(lambda: os.read(ours, 4096), line.sendall)
        pumped(lambda: line.recv(4096), lambda data: os.write(ours, data))
        yield os.ttyname(theirs)
        line.shutdown(socket.SHUT_RDWR)
    os.close(theirs)
    os.close(ours)


def to_words(frame: str) -> str:
    """t IIII L DD… of the serial frames as the daemon's words."""
    data = frame[5:]
    pairs = " ".join(data[i : i + 2] for i in range(0, len(data), 2))
    return f"< frame {frame[1:4]} 0.000001 {pairs.replace(' ', '')} >"


def to_frame(words: list[str]) -> str:
    """< send 610 8 40 18 10 01 … > as a serial frame."""
    return f"t{int(words[2], 16):03X}{int(words[3])}{''.join(f'{int(w, 16):02X}' for w in words[4:-1])}\r"


@contextmanager
def network_bus(bus: int, gone: str = "", asked: list[str] | None = None) -> Iterator[int]:
    """A daemon on a port, with the bench bike on its bus. gone: an identifier that reaches nobody; asked: what was sent
    to it."""
    with socket.create_server(("127.0.0.1", 0)) as door:

        def serve() -> None:
            try:
                client, _ = door.accept()
            except OSError:
                return
            with client, socket.create_connection(("127.0.0.1", bus)) as line:
                client.sendall(b"< hi >")
                line.sendall(b"S5\rO\r")

                def back() -> None:
                    rest = ""
                    while data := line.recv(4096):
                        *frames, rest = (rest + data.decode()).split("\r")
                        out = "".join(to_words(f) for f in frames if f.startswith("t"))
                        client.sendall(out.encode())

                threading.Thread(target=lambda: quiet(back), daemon=True).start()
                rest = ""
                while data := client.recv(4096):
                    rest += data.decode()
                    while ">" in rest:
                        message, rest = rest.split(">", 1)
                        words = f"{message} >".split()
                        if words[1] == "send" and words[2] == gone:
                            (asked if asked is not None else []).append(message)
                        elif words[1] == "send":
                            line.sendall(to_frame(words).encode())
                        else:
                            client.sendall(b"< ok >")

        threading.Thread(target=lambda: quiet(serve), daemon=True).start()
        yield door.getsockname()[1]


def quiet(work) -> None:  # type: ignore[no-untyped-def]
    with suppress(OSError):
        work()


def test_a_serial_device_reads_and_writes(bus: int) -> None:
    with serial_line(bus) as device:
        adapter = Adapter("slcan", device, more={"sleep_after_open": 0.1})
        with opened(adapter, OUR_PROFILE.dictionary) as port:
            assert port.identity().product
            have = guarded.read_all(port, OUR_PROFILE)
            assert len(have.values) > 60
            before = port.read((0x2104, 0))
            port.write((0x2104, 0), int(float(before)) - 1)  # type: ignore[arg-type]
            assert port.read((0x2104, 0)) == int(float(before)) - 1  # type: ignore[arg-type]
            port.write((0x2104, 0), before)


def test_a_bus_on_the_network_with_options_of_its_own(bus: int) -> None:
    with network_bus(bus) as door:
        adapter = Adapter("socketcand", "can0", more={"host": "127.0.0.1", "port": str(door)})
        with opened(adapter, OUR_PROFILE.dictionary) as port:
            assert port.identity().product
            assert len(guarded.read_all(port, OUR_PROFILE).values) > 60


def test_through_the_door_of_the_application(bus: int, client: TestClient) -> None:
    with serial_line(bus) as device:
        body = {"interface": "slcan", "channel": device, "more": {"sleep_after_open": 0.1}}
        found = client.post("/api/link/connect", json=body).json()
        assert found["connected"] and found["device"]["serial"], found
        client.post("/api/link/disconnect")


def test_unknown_an_option_that_the_interface_does_not_have(bus: int) -> None:
    with pytest.raises(LinkError, match="cannot be opened"):
        connect(Adapter("socketcand", "can0"))  # needs host and port
    with pytest.raises(LinkError, match="cannot be opened"):
        connect(Adapter("socketcand", "can0", more={"host": "127.0.0.1", "port": "many"}))


@pytest.mark.parametrize("more", [{"channel": "can1"}, {"interface": "virtual"}, {"bitrate": 1}])
def test_dangerous_an_option_never_replaces_what_is_said_above_it(
    bus: int, more: dict[str, str]
) -> None:
    """Another bus than the one that is shown would be written to."""
    with opened(
        Adapter(channel=f"socket://127.0.0.1:{bus}", more=more), OUR_PROFILE.dictionary
    ) as port:
        assert port.identity().product


@pytest.mark.parametrize("more", [{"No Name": "x"}, {"a": [1]}, {"a": float("nan")}])
def test_options_that_are_none(client: TestClient, more: dict[str, object]) -> None:
    import json

    body = json.dumps({"interface": "slcan", "channel": "/dev/null", "more": more})
    got = client.post(
        "/api/link/connect", content=body, headers={"content-type": "application/json"}
    )
    assert got.status_code == 422


def test_not_there(client: TestClient) -> None:
    got = client.post(
        "/api/link/connect", json={"interface": "slcan", "channel": "/dev/no-such-tty"}
    )
    assert got.status_code in (409, 422, 502, 503), got.text
    assert "cannot be opened" in got.text


def test_a_bus_without_a_bms_is_asked_once(bus: int, client: TestClient) -> None:
    """Each try waits for an answer: the finder, which looks every other second, would wait on and on."""
    asked: list[str] = []
    with network_bus(bus, "611", asked) as door:
        more = {"host": "127.0.0.1", "port": str(door)}
        body = {"interface": "socketcand", "channel": "can0", "more": more}
        assert client.post("/api/link/connect", json=body).status_code == 200
        url = "/api/builds/moss-84"
        first = client.get(f"{url}/link/groups")
        assert first.status_code == 409 and "No BMS" in first.json()["what"]
        before = -1
        while before != len(asked):  # the last frame may be on its way
            before = len(asked)
            time.sleep(0.5)
        assert before > 0
        assert client.get(f"{url}/link/groups").status_code == 409
        assert client.get(f"{url}/finder/known").status_code == 200
        assert len(asked) == before
        client.post("/api/link/disconnect")
