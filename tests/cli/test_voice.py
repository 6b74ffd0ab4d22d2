"""Terminals, files and pipes that do not take our characters: nothing crashes, nothing that a program reads is lost."""

from __future__ import annotations

import codecs
import json
import os
import subprocess
import sys

import pytest

from conftest import ROOT
from ninebolt.cli import voice

BUILD = str(ROOT / "examples" / "builds" / "brakka-96.json")


def shell(encoding: str, *words: str, terminal: bool = False) -> tuple[int, bytes]:
    """Exit status and what was printed, by a program whose output has an encoding."""
    ours, theirs = os.openpty() if terminal else os.pipe()
    with subprocess.Popen(
        [sys.executable, "-m", "ninebolt", *words],
        stdout=theirs,
        stderr=subprocess.STDOUT,
        env={**os.environ, "PYTHONIOENCODING": encoding},
    ) as process:
        os.close(theirs)
        got = b""
        try:
            while more := os.read(ours, 65536):
                got += more
        except OSError:  # a terminal whose other side is closed
            pass
        os.close(ours)
    return process.returncode, got


@pytest.mark.parametrize("encoding", ["ascii", "cp1252", "utf-8"])
def test_a_file_or_a_pipe_gets_all_of_it(encoding: str) -> None:
    status, printed = shell(encoding, "check", BUILD)
    assert status == 0 and "\u2013" in printed.decode("utf-8")
    status, printed = shell(encoding, "check", "--json", BUILD)
    assert status == 0 and json.loads(printed)["headline"]["top_speed_m_s"] > 10  # RFC 8259: UTF-8


def test_a_terminal_without_them_gets_others_for_them() -> None:
    status, printed = shell("ascii", "check", BUILD, terminal=True)
    text = printed.decode("ascii")
    assert status == 0 and "top speed" in text and "did not expect" not in text
    assert "0-" in text  # the dash of "0–97 km/h"


@pytest.mark.parametrize(
    ("text", "said"),
    [("5 → 6", "5 -> 6"), ("± 2 mΩ", "+/- 2 mohm"), ("naïve", "naive"), ("Łódź", "?odz"), ("90 °C", "90 deg C")],
)  # fmt: skip
def test_what_stands_for_them(text: str, said: str) -> None:
    codecs.register_error("ninebolt.plain", voice.plain)
    assert text.encode("ascii", "ninebolt.plain").decode() == said
