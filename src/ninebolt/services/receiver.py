"""A satellite receiver that speaks NMEA 0183, listened to while a ride is recorded: a serial port by its name, or a
socket."""

from __future__ import annotations

import threading
import time
from typing import Any

from ninebolt.errors import InputError, LinkError

MOST_BYTES = 40_000_000
PATIENCE_S = 3.0
BAUD = 38400


class Receiver:
    """Keeps the sentences as they come, so that the log is what was received."""

    def __init__(self) -> None:
        self._raw = bytearray()
        self._port: Any = None
        self._thread: threading.Thread | None = None
        self.problem = ""

    def begin(self, url: str) -> None:
        """url: a port such as /dev/ttyUSB0 or COM5, or socket://host:port. Raises LinkError where it cannot be opened
        or says nothing within three seconds, InputError for an address that is none."""
        self.end()
        import serial

        if "://" in url and not url.startswith("socket://"):  # other schemes write files
            raise InputError(
                "This is no receiver's address.",
                where="gps",
                got=url[:60],
                expected="a port, or socket://host:port",
            )
        try:
            self._port = serial.serial_for_url(url, baudrate=BAUD, timeout=0.5)
        except ValueError as error:
            raise InputError(
                "This is no receiver's address.",
                where="gps",
                got=url[:60],
                expected="a port, or socket://host:port",
            ) from error
        except (serial.SerialException, OSError) as error:
            raise LinkError(
                "The receiver cannot be opened.",
                where=url[:60],
                got=str(error)[:120],
                silent=True,
                todo="Is it plugged in, and not in use elsewhere?",
            ) from error
        self._raw, self.problem = bytearray(), ""
        self._thread = threading.Thread(target=self._listen, name="gps", daemon=True)
        self._thread.start()
        until = time.monotonic() + PATIENCE_S
        while b"$" not in self._raw and time.monotonic() < until:
            time.sleep(0.05)
        if b"$" not in self._raw:
            self.end()
            raise LinkError(
                "The receiver says nothing.",
                where=url[:60],
                silent=True,
                todo="Is it switched on, and does it speak NMEA at 38400 baud?",
            )

    def _listen(self) -> None:
        port = self._port
        while port is self._port and len(self._raw) < MOST_BYTES:
            try:
                self._raw += port.read(max(1, port.in_waiting))
            except Exception as error:  # noqa: BLE001 – pulled out, or closed under the reading hand
                self.problem = f"the receiver was lost: {str(error)[:80]}"
                return

    def end(self) -> bytes:
        """What came, whole sentences only."""
        port, self._port = self._port, None
        if self._thread is not None:
            self._thread.join(2.0)
            self._thread = None
        if port is not None:
            port.close()
        start, stop = self._raw.find(b"$"), self._raw.rfind(b"\n")
        return bytes(self._raw[max(start, 0) : stop + 1])

    @property
    def heard(self) -> int:
        """Sentences so far."""
        return self._raw.count(b"$")
