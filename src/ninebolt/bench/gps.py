"""The bench's GPS: NMEA 0183 sentences RMC, GGA and VTG at 10 Hz, with noise and a little lag."""

from __future__ import annotations

import random
import socket
from datetime import UTC, datetime, timedelta

from ninebolt.bench.ride import GPS_NOISE_M_S, HOME, START
from ninebolt.core.logs.geodesy import WGS84_A_M
from ninebolt.formats.nmea import checksum
from ninebolt.units import KM_H_PER_M_S, KNOT_M_S


def sealed(body: str) -> str:
    """A sentence with its checksum."""
    return f"${body}*{checksum(body):02X}\r\n"


def _angle(value: float, digits: int, marks: str) -> str:
    side = marks[0] if value >= 0 else marks[1]
    value = abs(value)
    whole = int(value)
    return f"{whole:0{digits}d}{(value - whole) * 60.0:08.5f},{side}"


def sentences(t_s: float, distance_m: float, speed_m_s: float, rng: random.Random) -> str:
    """The three sentences of one instant."""
    now = (START.astimezone(UTC) + timedelta(seconds=t_s)).astimezone(UTC)
    lat = HOME[0] + (distance_m / WGS84_A_M + rng.gauss(0, 0.3) / WGS84_A_M) * 57.29577951308232
    lon = HOME[1] + rng.gauss(0, 0.3) / WGS84_A_M * 57.29577951308232
    speed = max(0.0, speed_m_s + rng.gauss(0, GPS_NOISE_M_S))
    clock = _clock(now)
    where = f"{_angle(lat, 2, 'NS')},{_angle(lon, 3, 'EW')}"
    knots = speed / KNOT_M_S
    return (
        sealed(f"GPRMC,{clock},A,{where},{knots:.2f},0.0,{now:%d%m%y},,,A")
        + sealed(f"GPGGA,{clock},{where},1,11,0.8,12.0,M,0.0,M,,")
        + sealed(f"GPVTG,0.0,T,,M,{knots:.2f},N,{speed * KM_H_PER_M_S:.2f},K,A")
    )


def _clock(now: datetime) -> str:
    return f"{now:%H%M%S}.{now.microsecond // 10000:02d}"


class Receivers:
    """Everybody who listens to the GPS."""

    def __init__(self) -> None:
        self._socks: list[socket.socket] = []

    def serve(self, listener: socket.socket) -> None:
        """Take listeners until the socket is closed."""
        while True:
            try:
                sock, _ = listener.accept()
            except OSError:
                return
            sock.settimeout(0.5)
            self._socks.append(sock)

    def tell(self, text: str) -> None:
        for sock in tuple(self._socks):
            try:
                sock.sendall(text.encode())
            except OSError:
                self._socks = [s for s in self._socks if s is not sock]
                sock.close()
