"""Frames of a CAN bus with a DBC: cut out as cantools, an outside reader, decodes them; bad input named."""

from __future__ import annotations

import random
from datetime import UTC, datetime

import cantools
import numpy as np
import pytest

from ninebolt.errors import FormatError, TooLargeError
from ninebolt.formats.candump import is_candump, to_table
from ninebolt.formats.ride_log import read_log

DBC = """VERSION ""
BU_: X
BO_ 291 Motion: 8 X
 SG_ speed : 0|16@1+ (0.01,0) [0|655] "km/h" X
 SG_ line : 16|16@1- (0.1,0) [-3276|3276] "A" X
 SG_ volts : 39|16@0+ (0.01,0) [0|655] "V" X
 SG_ motor : 48|8@1- (1,40) [-88|167] "C" X
 SG_ odd : 60|3@0- (2,-1) [-9|5] "" X
BO_ 512 Mixed: 8 X
 SG_ Which M : 0|8@1+ (1,0) [0|255] "" X
 SG_ A m0 : 8|16@1+ (1,0) [0|65535] "" X
 SG_ B m1 : 8|16@1- (1,0) [-32768|32767] "" X
"""


def dumped(frames: list[tuple[float, int, bytes]]) -> bytes:
    return "".join(
        f"({1.7e9 + t:.6f}) can0 {i:03X}#{d.hex().upper()}\n" for t, i, d in frames
    ).encode()


def motion(n: int, seed: int) -> list[tuple[float, int, bytes]]:
    rng = random.Random(seed)
    return [(0.01 * k, 291, rng.randbytes(8)) for k in range(n)]


def test_signals_are_those_that_the_library_decodes() -> None:
    """Little and big end, signed and not, scaled: against cantools' own decode, frame by frame."""
    frames = motion(400, 5)
    rows = to_table(dumped(frames), "x.log", DBC).decode().splitlines()
    assert rows[0] == "time [s],speed [km/h],line [A],volts [V],motor [C],odd"
    message = cantools.database.load_string(DBC).get_message_by_name("Motion")
    for (t, _, body), row in zip(frames, rows[1:], strict=True):
        want = message.decode_simple(body, decode_choices=False)
        got = [float(x) for x in row.split(",")]
        assert got[0] == pytest.approx(t, abs=1e-6)
        assert got[1:] == pytest.approx([want[s.name] for s in message.signals], rel=1e-8)


def test_multiplexed_signals_go_through_the_library() -> None:
    frames = [
        (0.1 * k, 512, bytes([k % 2]) + (k - 20).to_bytes(2, "little", signed=True) + bytes(5))
        for k in range(40)
    ]
    head, *rows = to_table(dumped(frames), "x.log", DBC).decode().splitlines()
    at = head.split(",").index("B")
    assert float(rows[11].split(",")[at]) == -9.0


def test_both_ways_of_writing_a_frame() -> None:
    spaced = b"".join(
        b"(1700000000.%06d) can0 123 [8] 10 27 64 00 10 27 01 02\n" % (k * 10_000) for k in range(9)
    )
    assert is_candump(spaced) and not is_candump(b"time [s],speed [m/s]\n0,0\n")
    row = to_table(spaced, "x", DBC).decode().splitlines()[1].split(",")
    assert float(row[1]) == 100.0 and float(row[2]) == 10.0


def test_frames_as_they_are_printed_on_a_screen() -> None:
    """Two blanks behind the length, the direction, a date for the time: the same frames."""
    frames = motion(50, 7)
    want = to_table(dumped(frames), "x.log", DBC)
    for form, way in (("{t:.6f}", ""), ("{t:.6f}", "  RX - - "), ("{d}", "")):
        lines = []
        for t, i, body in frames:
            date = datetime.fromtimestamp(1.7e9 + round(t, 6), UTC).strftime("%Y-%m-%d %H:%M:%S.%f")
            stamp = form.format(t=1.7e9 + t, d=date)
            lines.append(f" ({stamp})  can0{way}  {i:03X}   [8]  {body.hex(' ').upper()}")
        got = to_table("\n".join(lines).encode(), "x.log", DBC)
        assert got.decode().splitlines()[1:10] == want.decode().splitlines()[1:10]


def test_it_reads_on_as_a_log() -> None:
    """The ride that was put into the frames comes out of the table."""
    frames = []
    for k in range(600):
        v = max(0.0, 0.05 * (k - 200))
        frames.append((0.02 * k, 291, round(v * 360).to_bytes(2, "little") + bytes(6)))
    ride = read_log(to_table(dumped(frames), "x.log", DBC), "x.csv")
    assert ride.columns["speed_m_s"][500] == pytest.approx(15.0, abs=0.01)
    assert np.all(np.diff(ride.columns["t_s"]) > 0)


@pytest.mark.parametrize(
    ("data", "dbc", "words"),
    [
        (dumped(motion(9, 1)), "", "what they mean stands in a DBC"),
        (dumped(motion(9, 1)), "BO_ rubbish", "DBC"),
        (dumped([(0.1 * k, 0x777, bytes(8)) for k in range(9)]), DBC, "No frame of this log stands in the DBC"),
        (dumped(motion(9, 1)) + b"and a story\n" * 30, DBC, "not a log of CAN frames"),
        (b"(1.0) can0 123#1\n" * 9, DBC, "not a log of CAN frames"),
    ],
)  # fmt: skip
def test_bad_input_is_named(data: bytes, dbc: str, words: str) -> None:
    with pytest.raises((FormatError, TooLargeError), match=words):
        to_table(data, "x.log", dbc)


def test_a_frame_that_is_cut_costs_what_it_lacks() -> None:
    frames = motion(20, 2)
    frames[7] = (frames[7][0], 291, frames[7][2][:3])
    rows = to_table(dumped(frames), "x.log", DBC).decode().splitlines()[1:]
    want = cantools.database.load_string(DBC).get_message_by_name("Motion")
    whole = want.decode_simple(frames[7][2] + bytes(5), decode_choices=False)
    assert float(rows[7].split(",")[1]) == pytest.approx(whole["speed"])
    assert len(rows) == 20
