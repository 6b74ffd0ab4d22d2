"""What is written on a controller or a motor: every reading is a hypothesis until somebody confirms it.

Which number on a case is what follows habits of the trade (common practice, no source): volts are nominal
for a lithium or lead pack, amps without a word are line amps more often than not, a number beside letters is
often only a name.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

LONGEST = 400
_NUMBER = r"(\d{1,5}(?:[.,]\d{1,3})?)"
_RANGE = re.compile(
    rf"{_NUMBER}\s*(?:-|–|to|~|/)\s*{_NUMBER}\s*(k?[vawcVAWC]|°C|rpm)\b", re.IGNORECASE
)
_UNIT = re.compile(rf"{_NUMBER}\s*(kW|W|V|A|rpm|°C|C|kV|kv/v|rpm/V|KV)(?![a-z])", re.IGNORECASE)
_NAME = re.compile(r"\b(?=[A-Z0-9-]*\d)(?=[A-Z0-9-]*[A-Z])[A-Z][A-Z0-9-]{2,15}\b")
# Words that say which amps: (pattern, field, what it is).
WORDS = (
    (r"phase|motor\s+(?:current|amps)", "phase"),
    (r"batter|line|bus|\bdc\b|input|supply", "line"),
    (r"peak|max|boost|burst", "peak"),
    (r"cont|rated|nominal", "rated"),
    (r"fuse", "fuse"),
)
CEILING = 1.17  # full over nominal volts of a lithium pack. Common practice, no source.


@dataclass(frozen=True, slots=True)
class Reading:
    """One hypothesis. path: field of the build that it would fill, '' for none. value: SI. sure: 0…1 by habit
    of the trade; why: what speaks for it; ask: how to find out."""

    text: str
    path: str
    label: str
    value: float | None
    quantity: str
    sure: float
    why: str
    ask: str


def read_label(text: str) -> tuple[Reading, ...]:
    """Hypotheses of a label, the surest first; several of one number where it can be several things."""
    text = text[:LONGEST]
    found: list[Reading] = []
    taken: list[tuple[int, int]] = []
    for match in _RANGE.finditer(text):
        found += _range(match, text)
        taken.append(match.span())
    units = [m for m in _UNIT.finditer(text) if not any(a <= m.start() < b for a, b in taken)]
    amps = _words_of_amps(text, [m for m in units if m.group(2).lower() == "a"])
    for match in units:
        words = amps.get(match.start())
        found += _one(match, _near(text, match) if words is None else words)
        taken.append(match.span())
    for match in _NAME.finditer(text):
        if not any(a <= match.start() < b for a, b in taken):
            found.append(_name(match.group(0)))
    return tuple(sorted(found, key=lambda r: -r.sure))


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _near(text: str, match: re.Match[str]) -> set[str]:
    """Words that belong to a number: those before it back to the last mark or number; where they say nothing,
    those behind it up to the next."""
    return _said(_before(text[: match.start()])) or _said(_behind(text[match.end() :]))


def _before(text: str) -> str:
    """The end of what stands before a number, back to the last mark or number."""
    return re.split(r"[,;|\n]|\d[^\s]*", text)[-1]


def _behind(text: str) -> str:
    """The start of what stands behind a number, up to the next mark or number; a word with a colon is of the next."""
    words = re.split(r"[,;|\n]|\d", text)[0]
    return words[: words.rfind(" ", 0, words.index(":"))] if ":" in words else words


def _words_of_amps(text: str, found: list[re.Match[str]]) -> dict[int, set[str]]:
    """Where several amps stand in a row, whose word is whose, by where each begins: labels put the word before each
    number ("battery 60A phase 180A") or behind it ("180A phase 60A battery"). A word that stands between two and may be
    of either goes to the larger where it says phase, to the smaller where it says battery: phase amps are the more."""
    out: dict[int, set[str]] = {}
    for run in _in_a_row(text, found):
        ends = [text[a.end() : b.start()] for a, b in zip(run, run[1:], strict=False)]
        before = _said(_before(text[: run[0].start()]))
        behind = _said(_behind(text[run[-1].end() :]))
        gaps = [_said(x) for x in ends]
        if before:
            said = [before, *gaps]
        elif behind:
            said = [*gaps, behind]
        else:
            said = [set() for _ in run]
            for i, words in enumerate(gaps):
                smaller, larger = sorted((i, i + 1), key=lambda k: _number(run[k].group(1)))
                said[smaller if "line" in words else larger if "phase" in words else i] |= words
        out |= {m.start(): words for m, words in zip(run, said, strict=True)}
    return out


def _in_a_row(text: str, found: list[re.Match[str]]) -> list[list[re.Match[str]]]:
    """Amps with nothing but words between them, two or more."""
    rows: list[list[re.Match[str]]] = []
    for m in found:
        if rows and not re.search(r"[,;|\n\d]", text[rows[-1][-1].end() : m.start()]):
            rows[-1].append(m)
        else:
            rows.append([m])
    return [r for r in rows if len(r) > 1]


def _said(words: str) -> set[str]:
    return {what for pattern, what in WORDS if re.search(pattern, words.lower())}


def _range(match: re.Match[str], text: str) -> list[Reading]:
    low, high = sorted((_number(match.group(1)), _number(match.group(2))))
    unit, words = match.group(3).lower(), match.group(0)
    if unit == "v":
        return [
            Reading(
                words, "drive.controller.v_max_v", "Voltage ceiling", high * CEILING, "v", 0.5,
                f"a range of nominal volts: full, a {high:g} V pack has about {high * CEILING:.0f} V",
                "Read the volts on the capacitors: they stand above the ceiling. Until then the full pack may "
                f"not pass {high * CEILING:.0f} V.",
            ),
            Reading(
                words, "drive.controller.v_max_v", "Voltage ceiling", high, "v", 0.4,
                "a range of what it works at: the upper end is the ceiling itself",
                "Take this one where a mistake costs the controller.",
            ),
            Reading(
                words, "drive.controller.v_min_v", "Lowest working voltage", low, "v", 0.5,
                "the lower end of the range", "It cuts out below: try it with a supply.",
            ),
        ]  # fmt: skip
    if unit == "a":
        return [
            Reading(
                words, "drive.controller.line_max_a", "Line amps, rating", low, "a", 0.5,
                "two amps: the smaller is often what it holds, or the line amps", "Ask which is which.",
            ),
            Reading(
                words, "drive.controller.phase_max_a", "Phase amps, rating", high, "a", 0.5,
                "two amps: the larger is often the peak, or the phase amps", "Ask which is which.",
            ),
        ]  # fmt: skip
    return []


def _one(match: re.Match[str], words: set[str]) -> list[Reading]:
    text, unit = match.group(0), match.group(2)
    x = _number(match.group(1))
    key = unit.lower()
    if key == "a":
        return _amps(text, x, words)
    if key == "v":
        return _volts(text, x, words)
    if key in ("w", "kw"):
        return _watts(text, x * (1000.0 if key == "kw" else 1.0), words)
    if key in ("kv", "rpm/v"):
        return [
            Reading(text, "drive.motor.kv_rpm_v", "Motor constant KV", x, "rpm_v", 0.7, "rpm per volt",
                    "Spin it with a drill and read the volts between two leads.")
        ]  # fmt: skip
    if key == "rpm":
        return [
            Reading(text, "", "Speed at the label's volts", x, "rpm", 0.7,
                    "KV is this over the volts beside it, if it is the speed without load; loaded it is a tenth more",
                    "Spin it free at a known voltage and count.")
        ]  # fmt: skip
    return [
        Reading(text, "drive.controller.temp_max_c", "Highest temperature of it", x, "c", 0.5,
                "where it begins to take the amps back", "Its manual, or a slow climb with a thermometer.")
    ]  # fmt: skip


def _amps(text: str, x: float, words: set[str]) -> list[Reading]:
    """Amps need a word: line and phase amps differ by a factor of two to four."""
    line = "drive.controller.line_max_a", "Line amps, rating"
    phase = "drive.controller.phase_max_a", "Phase amps, rating"
    ask = "A clamp meter on one battery lead and on one phase lead, at a pull, tells them apart."
    if "fuse" in words:
        return [
            Reading(
                text,
                "guard.fuse.rated_a",
                "Fuse",
                x,
                "a",
                0.8,
                "it says fuse",
                "Read the fuse itself.",
            )
        ]
    if "phase" in words:
        return [
            Reading(
                text,
                *phase,
                x,
                "a",
                0.9,
                "it says phase or motor",
                "Peak or RMS? They differ by 41 %.",
            )
        ]
    if "line" in words:
        return [Reading(text, *line, x, "a", 0.9, "it says battery, line or input", ask)]
    if "peak" in words:
        return [
            Reading(text, *line, x, "a", 0.5, "the peak of the line amps, for seconds", ask),
            Reading(text, *phase, x, "a", 0.45, "phase amps are what sounds largest", ask),
        ]
    return [
        Reading(
            text, *line, x, "a", 0.5, "amps without a word are line amps more often than not", ask
        ),
        Reading(text, *phase, x, "a", 0.35, "or phase amps: nobody can tell from the number", ask),
    ]


def _volts(text: str, x: float, words: set[str]) -> list[Reading]:
    ceiling = "drive.controller.v_max_v", "Voltage ceiling"
    ask = "Read the rating of its capacitors; a full pack must stay a tenth under it."
    if "peak" in words:
        return [Reading(text, *ceiling, x, "v", 0.85, "it says max", ask)]
    return [
        Reading(text, *ceiling, x * CEILING, "v", 0.5,
                f"nominal volts: the full pack of that name has about {x * CEILING:.0f} V", ask),
        Reading(text, *ceiling, x, "v", 0.35, "or already the ceiling; the safe reading", ask),
    ]  # fmt: skip


def _watts(text: str, x: float, words: set[str]) -> list[Reading]:
    why = (
        "peak watts of a label are for seconds"
        if "peak" in words
        else "what it was sold with, for good"
    )
    return [
        Reading(text, "drive.motor.label_w", "Power on the label", x, "w", 0.4 if "peak" in words else 0.7, why,
                "Watts of a controller are its volts x line amps; only a motor is rated by its heat.")
    ]  # fmt: skip


def _name(text: str) -> Reading:
    digits = re.sub(r"\D", "", text)
    return Reading(
        text, "", "Name of the model", None, "ratio", 0.3,
        f"letters with {digits}: may hide volts or amps, or be a number of the catalogue",
        "Not to be taken for a rating.",
    )  # fmt: skip
