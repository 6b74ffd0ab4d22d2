"""What is printed can be printed, whatever the terminal or the file takes."""

from __future__ import annotations

import codecs
import io
import sys
import unicodedata
from typing import TextIO

PLAIN = {
    "→": "->", "–": "-", "−": "-", "…": "...", "±": "+/-", "×": "x", "·": "|", "Ω": "ohm", "µ": "u", "μ": "u",
    "°": "deg ", "²": "2", "³": "3", "≤": "<=", "≥": ">=", "√": "root ", "’": "'", "“": '"', "”": '"', "«": '"',
    "»": '"',
}  # fmt: skip
OURS = "".join(PLAIN)


def plain(error: UnicodeError) -> tuple[str, int]:
    """What stands for characters that an encoding lacks: an error handler of codecs."""
    if not isinstance(error, UnicodeEncodeError):
        raise error
    lacking = error.object[error.start : error.end]
    return "".join(PLAIN.get(c) or _bare(c) for c in lacking), error.end


def _bare(c: str) -> str:
    """A letter without what stands on it."""
    return unicodedata.normalize("NFKD", c).encode("ascii", "ignore").decode() or "?"


def fit(stream: TextIO) -> None:
    """A terminal that lacks some of our characters gets others for them; a file or a pipe gets UTF-8."""
    if not isinstance(stream, io.TextIOWrapper):
        return
    try:
        OURS.encode(stream.encoding)
    except UnicodeEncodeError:
        if stream.isatty():
            codecs.register_error("ninebolt.plain", plain)
            stream.reconfigure(errors="ninebolt.plain")
        else:
            stream.reconfigure(encoding="utf-8")


def fit_all() -> None:
    for stream in (sys.stdout, sys.stderr):
        fit(stream)
