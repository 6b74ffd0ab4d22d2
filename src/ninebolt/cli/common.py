"""What the verbs share: files in, numbers for people, JSON out, arguments with units."""

from __future__ import annotations

import argparse
import dataclasses
import json
import math
from collections.abc import Callable
from pathlib import Path
from typing import Any

from ninebolt.core.build import Build
from ninebolt.errors import InputError, QuantityError
from ninebolt.formats.build_json import read_build
from ninebolt.services.house import House
from ninebolt.units import parse_quantity


def read_file(path: str) -> bytes:
    try:
        return Path(path).read_bytes()
    except OSError as error:
        raise InputError(
            "The file cannot be read.", where=path, got=error.strerror or ""
        ) from error


def plain(obj: Any) -> Any:
    if dataclasses.is_dataclass(obj) and not isinstance(obj, type):
        return {f.name: plain(getattr(obj, f.name)) for f in dataclasses.fields(obj)}
    if isinstance(obj, list | tuple):
        return [plain(x) for x in obj]
    if isinstance(obj, dict):
        return {k: plain(v) for k, v in obj.items()}
    if isinstance(obj, float) and not math.isfinite(obj):
        return None
    return obj


def print_json(obj: Any) -> None:
    print(json.dumps(plain(obj), indent=1, ensure_ascii=False))


def build_at(path: str) -> Build:
    return read_build(read_file(path), path)


def house_at(args: argparse.Namespace) -> House:
    return House.open(Path(args.data))


def quantity(key: str, least: float = -math.inf) -> Callable[[str], float]:
    """An argument that is a number, with a unit or in SI, above the least."""

    def read(text: str) -> float:
        try:
            value = parse_quantity(text, key)
        except QuantityError as error:
            raise argparse.ArgumentTypeError(error.message()) from error
        if value <= least:
            raise argparse.ArgumentTypeError(f"'{text}' is not above {least:g}.")
        return value

    return read


def from_zero(key: str) -> Callable[[str], float]:
    """An argument that is a number, with a unit or in SI, and may be 0."""
    read = quantity(key)

    def at_least_zero(text: str) -> float:
        value = read(text)
        if value < 0.0:
            raise argparse.ArgumentTypeError(f"'{text}' is below 0.")
        return value

    return at_least_zero


def count(text: str) -> int:
    if not text.isascii() or not text.isdigit() or int(text) < 1:
        raise argparse.ArgumentTypeError(f"'{text[:20]}' is no whole number from 1 on.")
    return int(text)
