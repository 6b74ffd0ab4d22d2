"""Times taken from a film: what its frames can tell, and what nobody could read in them."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ninebolt.errors import InputError

LEAST_FPS, MOST_FPS = 5.0, 1000.0
MOST_MARKS = 40


@dataclass(frozen=True, slots=True)
class Seen:
    """A moment of a film. at_s: in the film's own time; reading: what a display shows there, None where none can be
    read; quantity: of the reading."""

    what: str
    at_s: float
    reading: float | None = None
    quantity: str = "m_s"


@dataclass(frozen=True, slots=True)
class Extracted:
    """Between the first moment and this one. half_s: what frames leave open (95 %), None while the frame rate is not
    known. state: read, or unverified."""

    what: str
    at_s: float
    since_s: float
    half_s: float | None
    reading: float | None
    quantity: str
    state: Literal["read", "unverified"]
    why: str


@dataclass(frozen=True, slots=True)
class Evidence:
    """claim: borne out, contradicted, not told, or '' where nothing was claimed."""

    rows: tuple[Extracted, ...]
    claim: Literal["", "borne out", "contradicted", "not told"]
    sentence: str


def extract(
    marks: list[Seen], fps: float | None, slowed: float | None = None, claim_s: float | None = None
) -> Evidence:
    """Times since the first moment. fps: frames a second of film time, None where it is not known; slowed: film seconds
    to a real one (1 = real time, 4 = slow motion by four), None where nobody said, which leaves every time open;
    claim_s: what is said of the last moment. Raises InputError.

    Each moment lies anywhere within its frame: the difference of two has a triangular spread of one frame to either
    side, 95 % of it within 0.776 of a frame.
    """
    if not 2 <= len(marks) <= MOST_MARKS:
        raise InputError("A time needs two moments of the film, at most 40.", got=str(len(marks)))
    if fps is not None and not LEAST_FPS <= fps <= MOST_FPS:
        raise InputError(
            "This is no frame rate.",
            where="fps",
            got=f"{fps:g}",
            expected=f"{LEAST_FPS:g} to {MOST_FPS:g}",
        )
    pace = 1.0 if slowed is None else slowed
    if not pace > 0 or any(b.at_s < a.at_s for a, b in zip(marks, marks[1:], strict=False)):
        raise InputError("Moments are given in the order of the film, its slowing above 0.")
    half = None if fps is None or slowed is None else WITHIN_95 / fps / pace
    missing = _missing(fps, slowed)
    rows = tuple(_row(m, marks[0], half, pace, missing) for m in marks)
    last = rows[-1]
    verdict = _claim(last, claim_s)
    words = _said(rows, last, claim_s, verdict)
    return Evidence(rows, verdict, f"{words} {REAL_TIME}" if slowed is None else words)


WITHIN_95 = 1.0 - math.sqrt(0.05)  # of a triangular spread of one frame to either side


REAL_TIME = (
    "Taken as filmed at real speed: nobody said whether it is slowed, and no frame shows it."
)


def _missing(fps: float | None, slowed: float | None) -> str:
    if slowed is None:
        return "whether the film is slowed is not known, so the time has no bound"
    return "the frame rate is not known, so the time has no bound" if fps is None else ""


def _row(m: Seen, first: Seen, half: float | None, pace: float, missing: str) -> Extracted:
    since = (m.at_s - first.at_s) / pace
    if m.reading is None:
        why = "no reading can be seen there: what is said of it is unverified"
        return Extracted(m.what, m.at_s, since, half, None, m.quantity, "unverified", why)
    return Extracted(
        m.what,
        m.at_s,
        since,
        half,
        m.reading,
        m.quantity,
        "read" if half is not None else "unverified",
        missing,
    )


def _claim(
    last: Extracted, claim_s: float | None
) -> Literal["", "borne out", "contradicted", "not told"]:
    if claim_s is None:
        return ""
    if last.half_s is None or last.state != "read":
        return "not told"
    return "borne out" if abs(last.since_s - claim_s) <= last.half_s else "contradicted"


def _said(rows: tuple[Extracted, ...], last: Extracted, claim_s: float | None, verdict: str) -> str:
    gone = [r.what for r in rows if r.state == "unverified"]
    bound = f" ± {last.half_s:.3f} s" if last.half_s is not None else ", without a bound"
    words = f"{last.what}: {last.since_s:.3f} s after {rows[0].what}{bound}."
    if verdict:
        words += f" The {claim_s:g} s claimed are {verdict}."
    if gone:
        words += f" Unverified: {', '.join(gone)}."
    return words + " A display lags what it measures; a film is no timing gear."
