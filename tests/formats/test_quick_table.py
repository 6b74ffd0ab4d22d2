"""A log read column by column by the data-frame library is the log that is read row by row, or neither is."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ninebolt.errors import NineBoltError
from ninebolt.formats import quick_table, ride_csv
from ninebolt.formats.ride_csv import ALIASES, read_ride
from ninebolt.formats.table import HEAD, sniff

HEAD_LINE = "time [s],speed [km/h],volts [V],note"


def both(data: bytes, monkeypatch: pytest.MonkeyPatch) -> tuple[Any, Any]:
    """The ride, or the message, by each of the two ways."""

    def one() -> Any:
        try:
            ride = read_ride(data, "x.csv")
        except NineBoltError as error:
            return error.message()
        return {k: v.tolist() for k, v in ride.columns.items()}, ride.issues

    quick = one()
    with monkeypatch.context() as m:
        m.setattr(ride_csv, "quick_columns", lambda *_: None)
        m.setattr(ride_csv, "mixed_columns", lambda *_: None)
        return quick, one()


def same(a: Any, b: Any) -> bool:
    if isinstance(a, str) or isinstance(b, str):
        return bool(a == b)
    (left, said), (right, too) = a, b
    return said == too and list(left) == list(right) and all(
        np.allclose(np.asarray(left[k]), np.asarray(right[k]), 0.0, 1e-6 if k == "t_s" else 0.0, equal_nan=True)
        for k in left
    )  # fmt: skip


def table(*rows: str, head: str = HEAD_LINE, end: str = "\n") -> bytes:
    return (end.join([head, *rows]) + end).encode()


PLAIN = tuple(f"{i / 10},{i * 3.3:.2f},{96 - i * 0.1:.3f},{i}" for i in range(30))


def timed(*times: str) -> tuple[str, ...]:
    return tuple(f"{t},{i},96,1" for i, t in enumerate(times))


CLOCKS = {
    "clock": timed(*(f"12:00:{i:02d}.5" for i in range(20))),
    "clock to the minute": timed("12:00", "12:01:01", "12:01:02"),
    "over midnight": timed("23:59:58", "23:59:59.5", "0:00:01", "00:00:02"),
    "clock set to nothing": timed("13:00:01", "13:00:02", "00:00:00", "00:00:01"),
    "clock back": timed("12:00:01", "12:00:02", "11:59:59"),
    "ISO": timed(*(f"2026-05-01T12:00:{i:02d}.250Z" for i in range(20))),
    "ISO over midnight": timed(
        "2026-05-01 23:59:59", "2026-05-02 00:00:00.500", "2026-05-02 00:00:01"
    ),
    "ISO with a zone": timed(*(f"2026-05-01T12:00:{i:02d}+02:00" for i in range(20))),
    "ISO of no day": timed("2026-02-30T12:00:00", "2026-02-30T12:00:01"),
    "mixed": timed("0.5", "12:00:01", "12:00:02"),
    "a word among clocks": timed("12:00:01", "noon", "12:00:02"),
    "a blank among clocks": timed("12:00:01", "", "12:00:02"),
    "only words": timed("noon", "later"),
    "twice a clock": timed("12:00:01", "12:00:01", "12:00:02"),
    "a minute of 99": timed("12:99:01", "12:99:02"),
}
CASES = {
    **{name: table(*rows) for name, rows in CLOCKS.items()},
    "plain": table(*PLAIN),
    "windows ends": table(*PLAIN, end="\r\n"),
    "old ends": table(*PLAIN, end="\r"),
    "padded": table(*(r.replace(",", " , ") for r in PLAIN)),
    "led by blanks": table(*("  " + r for r in PLAIN)),
    "a blank": table(*PLAIN[:5], "0.5,16.5,,5", *PLAIN[6:]),
    "a needed blank": table(*PLAIN[:5], "0.5,,95,5", *PLAIN[6:]),
    "a word": table(*PLAIN[:5], "0.5,16.5,off,5", *PLAIN[6:]),
    "a needed word": table(*PLAIN[:5], "0.5,off,95,5", *PLAIN[6:]),
    "not a number": table(*PLAIN[:5], "0.5,nan,95,5", *PLAIN[6:]),
    "without end": table(*PLAIN[:5], "0.5,inf,95,5", *PLAIN[6:]),
    "volts without end": table(*PLAIN[:5], "0.5,16,-inf,5", *PLAIN[6:]),
    "a short row": table(*PLAIN[:5], "0.5,16.5", *PLAIN[6:]),
    "a long row": table(*PLAIN[:5], "0.5,16.5,95,5,6", *PLAIN[6:]),
    "blank lines": table(*PLAIN[:5], "", "   ", *PLAIN[5:]),
    "only commas": table(*PLAIN[:5], ",,,", *PLAIN[5:]),
    "quoted": table(*(",".join(f'"{c}"' for c in r.split(",")) for r in PLAIN)),
    "quoted over lines": table(*PLAIN[:5], '0.5,16.5,95,"a', 'b"', *PLAIN[6:]),
    "a quote inside": table(*(f'{i / 10},{i},96,5" rim' for i in range(20))),
    "a quote at the start": table(*PLAIN[:5], '0.5,16.5,95,"5', *PLAIN[6:]),
    "doubled quotes": table(*(f'{i / 10},{i},96,"a ""b"" c"' for i in range(20))),
    "a separator in quotes": table(*(f'{i / 10},{i},96,"a,b"' for i in range(20))),
    "quoted numbers with blanks": table(*(f'"{i / 10}" ,"{i}", "96",x' for i in range(20))),
    "time back": table(*PLAIN[:5], "0.2,16.5,95,5", *PLAIN[6:]),
    "twice a time": table(*PLAIN[:5], PLAIN[4], *PLAIN[5:]),
    "comma marks": table(*(r.replace(",", ";").replace(".", ",") for r in PLAIN), head=HEAD_LINE.replace(",", ";")),
    "thousands": table(*PLAIN[:5], "0.5,1 600.5,95,5", *PLAIN[6:]),
    "exponents": table(*(f"{i}e-1,+{i}.5,.5E2,{i}." for i in range(30))),
    "underscores": table(*PLAIN[:5], "0.5,1_6.5,95,5", *PLAIN[6:]),
    "notes before": b"# note: from a made-up logger\n\n" + table(*PLAIN),
    "a byte-order mark": b"\xef\xbb\xbf" + table(*PLAIN),
    "western letters": "time [s],speed [km/h],volts [V],°C\n".encode("cp1252") + b"\n".join(r.encode() for r in PLAIN),
    "two bytes a letter": table(*PLAIN).decode().encode("utf-16"),
    "a nul": table(*PLAIN[:5], "0.5,16\0,95,5", *PLAIN[6:]),
    "a comment inside": table(*PLAIN[:5], "# paused", *PLAIN[5:]),
}  # fmt: skip


@pytest.mark.parametrize("name", sorted(CASES))
def test_both_ways_read_the_same(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    quick, slow = both(CASES[name], monkeypatch)
    assert same(quick, slow), f"{quick}\n{slow}"


@pytest.mark.parametrize("name", ["plain", "windows ends", "padded", "a blank", "comma marks"])
def test_what_is_common_is_read_quickly(name: str) -> None:
    data = CASES[name]
    found = quick_table.quick_columns(data, sniff(data, "x.csv", ALIASES))
    assert found is not None and len(found[0]) == 30


@pytest.mark.parametrize(
    "name", ["clock", "ISO", "over midnight", "a needed blank", "twice a time", "a word"]
)
def test_what_is_less_common_is_read_by_columns_too(
    name: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A logger with clock times, or with blank cells of a slower one, gives an hour of 100 rows a second as well."""

    def never(*_: object) -> None:
        raise AssertionError("read row by row")

    monkeypatch.setattr(ride_csv, "_row_by_row", never)
    assert read_ride(CASES[name], "x.csv").columns["t_s"][-1] > 0


@pytest.mark.parametrize("name", ["clock set to nothing", "clock back"])
def test_dangerous_a_clock_that_was_set_back_is_no_midnight(name: str) -> None:
    """Half a day would be put into the ride."""
    with pytest.raises(NineBoltError, match="Time goes backwards"):
        read_ride(CASES[name], "x.csv")


def test_a_ride_over_midnight_goes_on() -> None:
    assert read_ride(CASES["over midnight"], "x.csv").columns["t_s"].tolist() == [0, 1.5, 3, 4]


cells = st.one_of(
    st.floats(-1e6, 1e6).map(repr),
    st.sampled_from(["", " ", "-", "nan", "1,5", "x", "1e400", "0x10", '"', "+", ".", "1.2.3"]),
)


@given(st.lists(st.tuples(cells, cells), min_size=3, max_size=12))
def test_any_cells_are_read_the_same(rows: list[tuple[str, str]]) -> None:
    data = table(*(f"{i},{a},{b},0" for i, (a, b) in enumerate(rows)))
    with pytest.MonkeyPatch.context() as m:
        quick, slow = both(data, m)
    assert same(quick, slow), f"{data!r}\n{quick}\n{slow}"


def test_a_long_file_is_sniffed_by_its_head() -> None:
    """The header and the rows shown are those of the whole file, and a number far down is still read exactly."""
    rows = [f"{i / 100:.2f},{(i % 977) / 7!r},96,1" for i in range(40_000)]
    data = table(*rows)
    assert len(data) > 2 * HEAD
    seen = sniff(data, "x.csv", ALIASES)
    assert seen.header == tuple(HEAD_LINE.split(",")) and len(seen.rows) == 8
    ride = read_ride(data, "x.csv")
    assert len(ride.columns["t_s"]) == 40_000
    assert math.isclose(ride.columns["speed_m_s"][39_999], (39_999 % 977) / 7 / 3.6, rel_tol=1e-15)
    late = data + b"400.00,x,96,1\n"
    with pytest.raises(NineBoltError, match="line 40002"):
        read_ride(late, "x.csv")
