"""Ride logs of every shape, and what is wrong with broken ones, with line and column."""

from __future__ import annotations

from datetime import UTC, datetime

import gpxpy
import numpy as np
import pytest

from ninebolt.bench.ride import ride
from ninebolt.core.logs.ride import analyse
from ninebolt.errors import FormatError, InputError
from ninebolt.formats.gpx import read_gpx, write_gpx
from ninebolt.formats.ride_csv import ALIASES, read_ride, write_ride
from ninebolt.formats.ride_log import read_log
from ninebolt.formats.table import Column, sniff
from ninebolt.library.demo import brakka


def rows(n: int = 60, head: str = "time [s],speed [km/h]", form: str = "{:.2f},{:.2f}") -> str:
    body = [form.format(0.1 * i, 14.4 * max(0.0, 0.1 * i - 1)) for i in range(n)]
    return "\n".join([head, *body]) + "\n"


GOOD = {
    "plain": rows(),
    "semicolon and comma": rows(head="Time [s];Speed [km/h]", form="{:.2f};{:.2f}").replace(
        ".", ","
    ),
    "tab": rows(head="t\tv [km/h]", form="{:.2f}\t{:.2f}"),
    "comment lines": "# logger 3\n#\n" + rows(),
    "unit in the name": rows(head="elapsed_s,speed_kmh"),
    "byte order mark": "\ufeff" + rows(),
    "blank lines": rows().replace("\n", "\n\n"),
    "windows ends": rows().replace("\n", "\r\n"),
    "quoted": rows(head='"time [s]","speed [km/h]"', form='"{:.2f}","{:.2f}"'),
}


@pytest.mark.parametrize("name", GOOD)
def test_reads_the_same_ride(name: str) -> None:
    """One ride, many dialects: the same SI columns."""
    got = read_ride(GOOD[name].encode(), "log.csv")
    assert got.columns["t_s"][-1] == pytest.approx(5.9)
    assert got.columns["speed_m_s"][-1] == pytest.approx(4 * 4.9, abs=0.01)


def test_mph_and_iso_times() -> None:
    text = "timestamp,gps speed (mph)\n" + "".join(
        f"2031-05-04T10:00:{i / 10:06.3f}Z,{i}\n" for i in range(50)
    )
    got = read_ride(text.encode(), "log.csv")
    assert got.columns["t_s"][10] == pytest.approx(1.0)
    assert got.columns["speed_m_s"][10] == pytest.approx(4.4704)


BAD = {
    "empty": (b"", "empty"),
    "white": (b" \n\n ", "empty"),
    "binary": (b"\x89PNG\x00\x01\x02" * 50, "binary file"),
    "header only": (b"time [s],speed [km/h]\n", "no rows"),
    "no header": (b"0.0,1.0\n0.1,2.0\n", "not column names"),
    "one column": (b"hello\n1\n2\n", "one column"),
    "no time": (rows(head="a,speed [km/h]").encode(), "No column holds the time"),
    "no speed": (rows(head="time [s],b").encode(), "No column holds the speed"),
    "backwards": (rows().encode() + b"2.0,50\n", "Time goes backwards"),
    "word": (rows().replace("5.00,", "5.00,fast\n5.05,").encode(), "not a number"),
    "decimal comma in commas": (
        b"time [s],speed [km/h]\n" + b'"0,1","1,5"\n"0,2","2,5"\n',
        "not a number",
    ),
    "minutes as seconds": (
        ("time [s],speed [km/h]\n" + "\n".join(f"{i * 60},{i}" for i in range(9))).encode(),
        "too far apart",
    ),
}


@pytest.mark.parametrize("name", BAD)
def test_broken_logs_are_named(name: str) -> None:
    data, words = BAD[name]
    with pytest.raises(InputError, match=words) as caught:
        read_ride(data, "run 3.csv")
    assert "run 3.csv" in caught.value.message()


def test_the_place_is_named() -> None:
    with pytest.raises(FormatError) as caught:
        read_ride(rows().encode() + b"2.0,50\n", "run.csv")
    assert "line 62" in caught.value.where and "time [s]" in caught.value.where


def test_gaps_are_skipped_and_said() -> None:
    got = read_ride(rows().replace("3.00,28.80", "3.00,").encode(), "log.csv")
    assert len(got.columns["t_s"]) == 59 and "line 32" in got.issues[0]


def test_a_mapping_overrides_the_guess() -> None:
    text = rows(head="a,b")
    got = read_ride(text.encode(), "x", (Column("t_s", "a", "s"), Column("speed_m_s", "b", "km/h")))
    assert got.columns["speed_m_s"][-1] == pytest.approx(4 * 4.9, abs=0.01)
    with pytest.raises(FormatError, match="no column 'c'"):
        read_ride(text.encode(), "x", (Column("t_s", "a", ""), Column("speed_m_s", "c", "")))
    assert sniff(text.encode(), "x", ALIASES).mapping == ()


def test_own_csv_round_trip() -> None:
    log, _ = ride(brakka(), 2, [])
    back = read_ride(write_ride(log), "x.csv")
    for name, column in log.columns.items():
        assert back.columns[name] == pytest.approx(column, rel=1e-5, abs=1e-5)


def test_gpx_is_read_by_another_reader_and_by_us() -> None:
    """Written GPX 1.1 is read by gpxpy; read back, it gives the ride's own speed."""
    log, _ = ride(brakka(), 2, [])
    data = write_gpx(log, datetime(2031, 5, 4, tzinfo=UTC))
    assert len(gpxpy.parse(data.decode()).tracks[0].segments[0].points) == len(log.columns["t_s"])
    report = analyse(read_log(data, "x.gpx"))
    direct = analyse(log)
    ours = {m.split.name: m.split.time_s for m in direct.splits}
    for m in report.splits:
        if m.split.time_s and m.split.kind == "distance" and m.split.mark < 402:
            assert m.split.time_s == pytest.approx(ours[m.split.name] or 0, abs=0.15)


XML = '<gpx version="1.1" creator="x" xmlns="http://www.topografix.com/GPX/1/1">{}</gpx>'
BAD_GPX = {
    "cut off": ("<gpx><trk>", "cannot be read"),
    "no track": (XML.format(""), "no track"),
    "no time": (
        XML.format('<trk><trkseg><trkpt lat="1" lon="2"/></trkseg></trk>'),
        "readable time",
    ),
    "entity bomb": (
        '<!DOCTYPE g [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>' + XML.format("&b;"),
        "cannot be read",
    ),
    "backwards": (
        XML.format(
            "<trk><trkseg>"
            + "".join(
                f'<trkpt lat="1" lon="2"><time>2031-05-04T10:00:{s:02d}Z</time></trkpt>'
                for s in (5, 6, 4)
            )
            + "</trkseg></trk>"
        ),
        "backwards",
    ),
}


@pytest.mark.parametrize("name", BAD_GPX)
def test_broken_gpx_is_named(name: str) -> None:
    text, words = BAD_GPX[name]
    with pytest.raises(FormatError, match=words) as caught:
        read_gpx(text.encode(), "ride.gpx")
    assert "ride.gpx" in caught.value.where


def test_example_logs_are_read() -> None:
    from conftest import ROOT

    files = sorted((ROOT / "examples/logs").glob("*"))
    assert len(files) >= 9
    for file in files:
        report = analyse(read_log(file.read_bytes(), file.name))
        assert np.isfinite(report.top_speed_m_s) and len(report.launches) == 1


EXTENDED = """<?xml version="1.0"?><gpx version="1.1" creator="test" xmlns="http://www.topografix.com/GPX/1/1"
 xmlns:e="http://example.org/e"><trk><trkseg>{}</trkseg></trk></gpx>"""


def tracked(speeds: list[float | None]) -> bytes:
    points = "".join(
        f'<trkpt lat="59.{i:05d}" lon="10"><time>2026-05-01T12:00:{i:02d}Z</time>'
        + (
            f"<extensions><e:point><e:speed>{v}</e:speed></e:point></extensions>"
            if v is not None
            else ""
        )
        + "</trkpt>"
        for i, v in enumerate(speeds)
    )
    return EXTENDED.format(points).encode()


def test_a_speed_in_an_extension_is_not_passed_over() -> None:
    """The positions are 1.1 m apart a second; the speed says what it says, and the reader of both is asked later."""
    speeds = [1.1 + 0.01 * i for i in range(30)]
    assert read_gpx(tracked([*speeds]), "t.gpx").columns["speed_m_s"].tolist() == speeds


def test_dangerous_half_a_speed_is_no_speed_and_is_said() -> None:
    ride = read_gpx(tracked([1.1 if i % 2 else None for i in range(30)]), "t.gpx")
    assert "speed_m_s" not in ride.columns and "15 of 30 points carry no speed" in ride.issues[0]
