"""NMEA 0183 against a well-kept library's own parser; checksums counted, voids and jumps left out."""

from __future__ import annotations

import random

import numpy as np
import pynmea2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ninebolt.bench.gps import sentences
from ninebolt.core.logs.ride import analyse
from ninebolt.errors import FormatError
from ninebolt.formats.nmea import angle, checksum, read_nmea
from ninebolt.formats.ride_log import kind_of, read_log


def ride(seconds: float = 30.0, hz: float = 10.0) -> str:
    """Two seconds at rest, then 3 m/s² up to 60 m/s."""
    rng, out = random.Random(3), ""
    for i in range(int(seconds * hz)):
        t = i / hz
        v = min(60.0, 3.0 * max(0.0, t - 2.0))
        x = 1.5 * max(0.0, min(t, 22.0) - 2.0) ** 2 + 60.0 * max(0.0, t - 22.0)
        out += sentences(t, x, v, rng)
    return out


def test_every_sentence_reads_as_the_library_reads_it() -> None:
    """pynmea2: the same place, speed and count as ours."""
    text = ride(5.0)
    got = read_nmea(text.encode(), "r.nmea")
    theirs = [pynmea2.parse(line, check=True) for line in text.splitlines()]
    rmc = [m for m in theirs if m.sentence_type == "RMC"]
    assert len(rmc) == len(got.columns["t_s"])
    assert got.columns["lat_deg"] == pytest.approx([m.latitude for m in rmc], abs=1e-9)
    assert got.columns["lon_deg"] == pytest.approx([m.longitude for m in rmc], abs=1e-9)
    assert got.columns["speed_m_s"] == pytest.approx([m.spd_over_grnd * 1852 / 3600 for m in rmc])


def test_a_ride_is_found_in_it() -> None:
    """3 m/s² from rest: 100 km/h after 9.26 s."""
    report = analyse(read_log(ride().encode(), "ride.nmea"))
    split = next(s.split.time_s for s in report.splits if s.split.name == "0–100 km/h")
    assert split == pytest.approx(100 / 3.6 / 3.0, abs=0.15)


def test_the_standard_s_own_example() -> None:
    """The RMC sentence that receivers' papers print (from memory): 48° 07.038' N, 11° 31.000' E, 22.4 knots."""
    line = "$GPRMC,123519.00,A,4807.038,N,01131.000,E,022.4,084.4,230394,003.1,W"
    rows = (line, line.replace("123519", "123520"))
    both = "".join(f"{x}*{checksum(x[1:]):02X}\n" for x in rows)
    got = read_nmea(both.encode(), "x.nmea")
    assert got.columns["lat_deg"][0] == pytest.approx(48 + 7.038 / 60) and got.columns["lon_deg"][
        0
    ] == pytest.approx(11 + 31 / 60)
    assert got.columns["speed_m_s"][0] == pytest.approx(22.4 * 0.514444, rel=1e-5)
    assert np.diff(got.columns["t_s"])[0] == pytest.approx(1.0)


def test_wrong_checksums_voids_and_backward_times_are_counted() -> None:
    lines = ride(4.0).splitlines()
    lines[3] = lines[3].replace("A,", "B,", 1)
    lines.append(lines[0])
    void = "GPRMC,093100.00,V,,,,,,,040531,,,N"
    lines.append(f"${void}*{checksum(void):02X}")
    got = read_nmea("\n".join(lines).encode(), "x.nmea")
    words = " ".join(got.issues)
    assert (
        "1 sentences with a wrong checksum" in words
        and "1 sentences without a fix" in words
        and "does not rise" in words
    )


def test_few_satellites_are_said() -> None:
    body = "GPGGA,093000.00,3830.0,S,03112.0,W,1,03,0.8,12.0,M,0.0,M,,"
    got = read_nmea((ride(2.0) + f"${body}*{checksum(body):02X}\n").encode(), "x.nmea")
    assert any("fewer than 5 satellites" in i for i in got.issues)


def test_midnight_does_not_turn_time_back() -> None:
    rows = []
    for clock, day in (("235959.50", "040531"), ("000000.50", "050531")):
        body = f"GPRMC,{clock},A,3830.0,S,03112.0,W,10.0,0.0,{day},,,A"
        rows.append(f"${body}*{checksum(body):02X}")
    assert read_nmea("\n".join(rows).encode(), "x.nmea").columns["t_s"][1] == pytest.approx(1.0)


@pytest.mark.parametrize(
    "data", [b"$GPGSV,1*00\n", b"$" * 500, b"$GPRMC,\n" * 50, b"\xff\xfe$GPRMC,x*00"]
)
def test_garbage_says_what_is_wrong(data: bytes) -> None:
    with pytest.raises(FormatError, match="No fix"):
        read_nmea(data, "bad.nmea")


@given(st.binary(max_size=300))
def test_no_bytes_crash_it(data: bytes) -> None:
    try:
        read_nmea(b"$GPRMC," + data, "x.nmea")
    except FormatError as error:
        assert error.message()


def test_it_is_known_by_how_it_begins() -> None:
    assert (
        kind_of(b"$GPRMC,1", "log.txt") == "nmea" and kind_of(b"time,speed\n", "log.txt") == "csv"
    )
    with pytest.raises(ValueError):
        angle("9999.0", "X")


# What receivers and terminals make of it.


def only(text: str, *kinds: str) -> str:
    return "\n".join(x for x in text.splitlines() if x[3:6] in kinds)


def signed(body: str) -> str:
    return f"${body}*{checksum(body):02X}"


def dateless(text: str) -> str:
    """As receivers write it before they know the day."""
    out = []
    for line in text.splitlines():
        fields = line[1:].split("*")[0].split(",")
        if fields[0].endswith("RMC"):
            fields[9] = ""
        out.append(signed(",".join(fields)))
    return "\n".join(out)


def test_the_same_ride_however_it_was_kept() -> None:
    text = ride(20.0)
    whole = read_nmea(text.encode(), "r.nmea").columns
    captured = "\n".join(f"12:00:01.5 > {x}" for x in text.splitlines())
    for said in (dateless(text), captured, text.replace("\n", "\r\n\r\n")):
        got = read_nmea(said.encode(), "r.nmea").columns
        for name in ("t_s", "lat_deg", "speed_m_s"):
            assert got[name] == pytest.approx(whole[name], abs=1e-6), name


def test_height_stands_in_the_other_sentence() -> None:
    """Read by pynmea2 from the same lines."""
    text = ride(5.0)
    theirs = [pynmea2.parse(x).altitude for x in text.splitlines() if x[3:6] == "GGA"]
    got = read_nmea(text.encode(), "r.nmea").columns["altitude_m"]
    assert got[np.isfinite(got)] == pytest.approx(theirs[: np.isfinite(got).sum()])


def test_a_receiver_without_rmc_gives_place_by_gga_and_speed_by_vtg() -> None:
    text = only(ride(20.0), "GGA", "VTG")
    turned = text.splitlines()
    turned = [x for a, b in zip(turned[::2], turned[1::2], strict=True) for x in (b, a)]
    whole = read_nmea(ride(20.0).encode(), "r.nmea").columns
    for said in (text, "\n".join(turned)):
        got = read_nmea(said.encode(), "r.nmea").columns
        assert got["lat_deg"] == pytest.approx(whole["lat_deg"], abs=1e-6)
        assert got["speed_m_s"] == pytest.approx(whole["speed_m_s"], abs=0.006)  # of two decimals


def test_dangerous_a_receiver_that_says_void_is_not_believed_through_another_sentence() -> None:
    lines = []
    for x in ride(5.0).splitlines():
        fields = x[1:].split("*")[0].split(",")
        if fields[0].endswith("RMC"):
            fields[2] = "V"
        lines.append(signed(",".join(fields)))
    with pytest.raises(FormatError, match="without a fix"):
        read_nmea("\n".join(lines).encode(), "r.nmea")


def test_what_cannot_be_read_is_not_called_a_wrong_checksum() -> None:
    text = ride(5.0) + "\n" + signed("GPRMC,noon,A,4807.038,N,01131.000,E,022.4,084.4,230394,,,A")
    words = " ".join(read_nmea(text.encode(), "r.nmea").issues)
    assert "1 sentences that cannot be read" in words and "checksum" not in words
