"""Builds changed at paths, as the interface changes them."""

from __future__ import annotations

from typing import Any

from ninebolt.core.build import Build
from ninebolt.core.codec import decode, encode, set_path


def changed(build: Build, changes: dict[str, Any]) -> Build:
    """The build with a value put at each path."""
    doc = encode(build)
    for path, value in changes.items():
        doc = set_path(doc, path, value)
    return decode(Build, doc)
