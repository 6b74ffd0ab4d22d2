"""What became of a build, in its zip: every kept state, the test sessions with their runs, what was read from
controllers and written into them, and the dictionaries of those."""

from __future__ import annotations

import base64
import json
import re
from binascii import Error as NoBase64
from dataclasses import dataclass, field
from typing import Any

from ninebolt.core.codec import decode, encode
from ninebolt.core.logs.protocols import PROTOCOLS, protocol
from ninebolt.core.logs.session import Trial, plan
from ninebolt.core.setting.sets import Identity
from ninebolt.errors import FieldError, InputError
from ninebolt.formats.build_json import build_of, load_json

RECORD_VERSION = 1
FILE = "record.json"
ADDRESS = re.compile(r"[0-9A-F]{4}:[0-9A-F]{2}")
WRITING_STATES = ("writing", "stored", "waiting", "verified", "failed", "ended")


@dataclass(frozen=True, slots=True)
class KeptState:
    """One kept state of the build. changes: {path, old, new} each; doc: the build as its own file has it."""

    seq: int = 0
    parent: int | None = None
    at: str = ""
    reason: str = ""
    changes: tuple[Any, ...] = ()
    doc: Any = None


@dataclass(frozen=True, slots=True)
class Asked:
    """What a session was planned from: trials a setup, spread and gap hoped to be seen (s or m/s), masses (kg)."""

    trials: int = 0
    spread: float = 0.0
    gap: float = 0.0
    masses: dict[str, float] = field(default_factory=dict)
    riders: tuple[str, ...] = ()
    seed: int = 0


@dataclass(frozen=True, slots=True)
class SessionDoc:
    """A test session: its setups, its plan, its runs. bound: the kept state that a setup was said to be.
    quantity: of its values, '' in a record from before it was kept."""

    protocol: str = ""
    setups: tuple[str, ...] = ()
    asked: Asked = field(default_factory=Asked)
    trials: tuple[Trial, ...] = ()
    build: str = ""
    bound: dict[str, int] = field(default_factory=dict)
    felt: str = ""
    quantity: str = ""


@dataclass(frozen=True, slots=True)
class KeptSession:
    id: str = ""
    at: str = ""
    name: str = ""
    doc: SessionDoc = field(default_factory=SessionDoc)


@dataclass(frozen=True, slots=True)
class KeptReading:
    """One full read of a controller. numbers: value by address, as 6060:00."""

    id: str = ""
    at: str = ""
    why: str = ""
    device: Identity = field(default_factory=Identity)
    profile: str = ""
    numbers: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class KeptWriting:
    """One write and how far it came. steps: [address, old, new, needs a power cycle] each."""

    id: str = ""
    reading_id: str = ""
    at: str = ""
    why: str = ""
    device: Identity = field(default_factory=Identity)
    profile: str = ""
    steps: tuple[Any, ...] = ()
    state: str = "ended"
    reached: str = ""
    ended_at: str | None = None


@dataclass(frozen=True, slots=True)
class KeptProfile:
    """Another controller's dictionary: its file in base64, where its meanings live, its fault codes."""

    name: str = ""
    eds: str = ""
    places: dict[str, tuple[float, ...]] = field(default_factory=dict)
    codes: str = ""

    @property
    def file(self) -> bytes:
        """Raises FieldError."""
        try:
            return base64.b64decode(self.eds, validate=True)
        except (NoBase64, ValueError) as error:
            raise FieldError("This dictionary is not in base64.", where=self.name[:40]) from error


@dataclass(frozen=True, slots=True)
class Record:
    """head: the state that the build stands at. left_out: what could not be read where it was written."""

    version: int = RECORD_VERSION
    head: int = 0
    states: tuple[KeptState, ...] = ()
    sessions: tuple[KeptSession, ...] = ()
    readings: tuple[KeptReading, ...] = ()
    writings: tuple[KeptWriting, ...] = ()
    profiles: tuple[KeptProfile, ...] = ()
    left_out: tuple[str, ...] = ()


def write_record(record: Record) -> bytes:
    return json.dumps(encode(record)).encode()


def read_record(data: bytes, name: str) -> Record:
    """What a zip says became of the build: whole, or refused. Raises FormatError, FieldError naming the place."""
    record = decode(Record, load_json(data, name, len(data)), name)
    if record.version != RECORD_VERSION:
        raise FieldError(
            "This record is of another version.", where=f"{name}.version", got=str(record.version),
            expected=str(RECORD_VERSION), todo="Import it with the program that wrote it, or without record.json.",
        )  # fmt: skip
    states = _states(record, name)
    for i, s in enumerate(record.sessions):
        check_session(s, states, f"{name}.sessions.{i}")
    _once([x.id for x in record.sessions], f"{name}.sessions")
    for i, r in enumerate(record.readings):
        check_reading(r, f"{name}.readings.{i}")
    read = _once([x.id for x in record.readings], f"{name}.readings")
    for i, w in enumerate(record.writings):
        check_writing(w, read, f"{name}.writings.{i}")
    _once([x.id for x in record.writings], f"{name}.writings")
    return record


def _refuse(what: str, where: str, got: object, expected: str = "") -> FieldError:
    todo = "Export the build again, or take record.json out of the zip."
    return FieldError(what, where=where, got=repr(got)[:60], expected=expected, todo=todo)


def _once(ids: list[str], where: str) -> set[str]:
    if len(set(ids)) != len(ids) or not all(ids):
        raise _refuse("Each needs an id of its own.", where, len(ids) - len(set(ids)))
    return set(ids)


def _states(record: Record, name: str) -> set[int]:
    seen: set[int] = set()
    for i, s in enumerate(record.states):
        where = f"{name}.states.{i}"
        if s.seq < 1 or s.seq in seen or not (s.parent is None or s.parent in seen):
            raise _refuse(
                "The states must stand in their order, each after the one it came from.",
                where,
                s.seq,
            )
        check_state(s, where)
        seen.add(s.seq)
    if record.head not in seen:
        raise _refuse("The build must stand at one of its states.", f"{name}.head", record.head)
    return seen


def check_state(s: KeptState, where: str) -> None:
    """Raises FieldError, FormatError for a state that is no build."""
    changes = all(isinstance(c, dict) and isinstance(c.get("path"), str) for c in s.changes)
    if not isinstance(s.doc, dict) or not changes:
        got, want = type(s.doc).__name__, "{…}, [{path, old, new}]"
        raise _refuse("A state needs its document and its changes.", where, got, want)
    build_of(s.doc, where)


def check_session(s: KeptSession, states: set[int], where: str) -> None:
    """Raises FieldError for a session that cannot be shown. states: those that the build has."""
    doc = s.doc
    if doc.protocol not in PROTOCOLS:
        raise _refuse(
            "This is no protocol.", f"{where}.protocol", doc.protocol, ", ".join(PROTOCOLS)
        )
    kinds = ("", "s", protocol(doc.protocol).quantity)
    if doc.quantity not in kinds:
        raise _refuse(
            "A protocol does not measure this.", f"{where}.quantity", doc.quantity, ", ".join(kinds)
        )
    a = doc.asked
    try:  # what no plan can be made of would take the book down
        plan(
            list(doc.setups),
            a.trials,
            a.spread,
            a.gap,
            a.masses,
            doc.protocol,
            lambda _: None,
            list(a.riders),
        )
    except InputError as error:
        raise _refuse(error.what, f"{where}.asked", error.got, error.expected or "") from error
    for i, t in enumerate(doc.trials):
        if t.setup not in doc.setups or not t.value > 0 or not (t.seq is None or t.seq in states):
            got = (t.setup, t.value, t.seq)
            raise _refuse(
                "This run is not of its session.",
                f"{where}.trials.{i}",
                got,
                "its setup, a value above 0, a state",
            )
    if not set(doc.bound.values()) <= states or not set(doc.bound) <= set(doc.setups):
        raise _refuse("A setup is bound to a state that is not there.", f"{where}.bound", doc.bound)
    if doc.felt and doc.felt not in doc.setups:
        raise _refuse("What felt better is none of the setups.", f"{where}.felt", doc.felt)


def check_reading(r: KeptReading, where: str) -> None:
    """Raises FieldError for numbers that no controller holds."""
    for at, value in r.numbers.items():
        _scalar(at, value, f"{where}.numbers")


def _scalar(at: object, value: Any, where: str) -> None:
    hexed = isinstance(value, dict) and set(value) == {"hex"} and isinstance(value["hex"], str)
    if hexed:
        try:
            bytes.fromhex(value["hex"])
        except ValueError:
            hexed = False
    plain = isinstance(value, int | float | str) and not isinstance(value, bool)
    if not isinstance(at, str) or not ADDRESS.fullmatch(at) or not (plain or hexed):
        raise _refuse("This is no value of a controller.", where, (at, value), 'as "2001:03": 72.5')


def check_writing(w: KeptWriting, read: set[str], where: str) -> None:
    """Raises FieldError for a write that cannot be followed. read: the readings that the build has."""
    if w.reading_id not in read or w.state not in WRITING_STATES:
        got = (w.reading_id, w.state)
        raise _refuse(
            "A write needs the reading before it, and its state.",
            where,
            got,
            ", ".join(WRITING_STATES),
        )
    for step in w.steps:
        if not isinstance(step, list) or len(step) != 4 or not isinstance(step[3], bool):
            raise _refuse(
                "This is no step of a write.",
                where,
                step,
                "[address, old, new, needs a power cycle]",
            )
        _scalar(step[0], step[1], where)
        _scalar(step[0], step[2], where)
