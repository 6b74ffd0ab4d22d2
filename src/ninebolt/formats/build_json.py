"""Builds as JSON, with a version and a published schema."""

from __future__ import annotations

import json
from collections import OrderedDict
from functools import lru_cache
from threading import Lock
from typing import Any

from ninebolt.core.build import FORMAT_VERSION, Build
from ninebolt.core.codec import decode, decode_field, encode, fields_of
from ninebolt.errors import FieldError, FormatError, TooLargeError

MAX_BYTES = 8_000_000


def _no_constant(text: str) -> float:
    raise ValueError(f"{text} is not a number in JSON")


def load_json(data: bytes, name: str, max_bytes: int = MAX_BYTES) -> Any:
    """Bytes as JSON. Raises FormatError with line and column, TooLargeError."""
    if len(data) > max_bytes:
        raise TooLargeError(
            "The file is too large.",
            where=name,
            got=f"{len(data) / 1e6:.0f} MB",
            expected=f"at most {max_bytes / 1e6:.0f} MB",
        )
    if not data.strip():
        raise FormatError("The file is empty.", where=name, expected="JSON")
    try:
        return json.loads(data.decode("utf-8"), parse_constant=_no_constant)
    except UnicodeDecodeError as error:
        raise FormatError(
            "This is not a text file.",
            where=name,
            got=f"byte {error.start} is not UTF-8",
            expected="JSON in UTF-8",
        ) from error
    except json.JSONDecodeError as error:
        raise FormatError(
            f"The JSON breaks off: {error.msg}.",
            where=f"{name}, line {error.lineno}, column {error.colno}",
        ) from error
    except (ValueError, RecursionError) as error:
        raise FormatError(f"This JSON cannot be read: {str(error)[:120]}.", where=name) from error


def read_build(data: bytes, name: str = "build") -> Build:
    """A build from a file's bytes. Raises FormatError, FieldError, TooLargeError."""
    doc = load_json(data, name)
    return build_of(doc, name)


def build_of(doc: Any, name: str = "build") -> Build:
    """A build from its document; field errors name the file and the path."""
    if not isinstance(doc, dict):
        raise FormatError("This is not a build.", where=name, expected="a JSON object")
    version = doc.get("format_version")
    if not isinstance(version, int) or isinstance(version, bool):
        raise FormatError(
            "The file does not say which version it is.",
            where=f"{name}: format_version",
            got=repr(version)[:40],
            expected=f"a whole number, at most {FORMAT_VERSION}",
        )
    if version > FORMAT_VERSION:
        raise FormatError(
            "The file was written by a newer program.",
            where=f"{name}: format_version",
            got=str(version),
            expected=f"at most {FORMAT_VERSION}",
            todo="Update this program, or export again from the newer one in an older version.",
        )
    try:
        return decode_in_pieces({**brought_up(doc, version), "format_version": FORMAT_VERSION})
    except FieldError as error:
        raise FieldError(
            error.what,
            where=f"{name}: {error.where}",
            got=error.got,
            expected=error.expected,
            todo=error.todo,
        ) from error


def decode_in_pieces(doc: dict[str, Any]) -> Build:
    """As decode(Build, doc), with each part of the bike that reads as it did lately taken from
    there: the same object, so that what was made of it is known to be unmoved. Raises FieldError."""
    known = fields_of(Build)
    if not doc.keys() <= known.keys():
        return decode(Build, doc)
    try:
        return Build(**{k: _piece_of(k, v) for k, v in doc.items()})
    except (ValueError, TypeError, RecursionError):  # decode says what is wrong with it
        return decode(Build, doc)


def _piece_of(key: str, doc: Any) -> Any:
    with _lock:
        kept = _made_here.get(id(doc))
    if kept is not None and kept[0] is doc:
        return kept[1]
    return _piece(key, json.dumps(doc))


@lru_cache(maxsize=256)
def _piece(key: str, text: str) -> Any:
    return decode_field(Build, key, json.loads(text))


KEPT = 256
_documents: OrderedDict[int, tuple[Any, Any, str]] = OrderedDict()  # by piece: it, document, JSON
_made_here: dict[int, tuple[Any, Any, str]] = {}  # by document: it, piece, JSON
_texts: OrderedDict[str, dict[str, Any]] = OrderedDict()  # whole documents by their JSON
_lock = Lock()


def document(build: Build) -> dict[str, Any]:
    """As encode(build). The document of a piece that was not changed is the same object as before:
    nobody writes into documents."""
    return {key: _document(getattr(build, key)) for key in fields_of(Build)}


def _document(piece: Any) -> Any:
    with _lock:
        kept = _documents.get(id(piece))
        if kept is not None and kept[0] is piece:
            _documents.move_to_end(id(piece))
            return kept[1]
    made = encode(piece)
    if not isinstance(made, dict | list):
        return made
    text = json.dumps(made)
    with _lock:
        _documents[id(piece)] = (piece, made, text)
        _made_here[id(made)] = (made, piece, text)
        if len(_documents) > KEPT:
            _, old = _documents.popitem(last=False)
            _made_here.pop(id(old[1]), None)
    return made


def dumped(doc: dict[str, Any]) -> str:
    """As json.dumps(doc); the text of a piece that document() made is not made again, and loaded() of
    it gives the same pieces."""
    out = []
    for key, value in doc.items():
        with _lock:
            kept = _made_here.get(id(value))
        text = kept[2] if kept is not None and kept[0] is value else json.dumps(value)
        out.append(f"{json.dumps(key)}: {text}")
    whole = "{" + ", ".join(out) + "}"
    with _lock:
        _texts[whole] = doc
        if len(_texts) > KEPT // 8:
            _texts.popitem(last=False)
    return whole


def loaded(text: str) -> Any:
    """As json.loads(text), for a text that dumped() made: the document that it was made of."""
    with _lock:
        kept = _texts.get(text)
        if kept is not None:
            _texts.move_to_end(text)
            return dict(kept)
    return json.loads(text)


# Ticks of version 2 that are measured values since version 3: a tick proves nothing.
TICKS = ("load_tested", "trip_tested", "over_tested")


def brought_up(doc: dict[str, Any], version: int) -> dict[str, Any]:
    """An older document without the fields that are gone."""
    if version >= 3:
        return doc
    guard, donor = doc.get("guard"), doc.get("donor")
    out = dict(doc)
    if isinstance(guard, dict):
        out["guard"] = _without_ticks(guard)
    if isinstance(donor, dict) and isinstance(donor.get("stock"), dict):
        out["donor"] = {**donor, "stock": _without_ticks(donor["stock"])}
    return out


def _without_ticks(home: dict[str, Any]) -> dict[str, Any]:
    bms = home.get("bms")
    if not isinstance(bms, dict):
        return home
    return {**home, "bms": {k: v for k, v in bms.items() if k not in TICKS}}


def write_build(build: Build) -> bytes:
    """The build as indented JSON; reading it again gives an equal build."""
    return json.dumps(encode(build), indent=1, ensure_ascii=False).encode() + b"\n"
