"""Builds changed at paths, as the interface changes them."""

from __future__ import annotations

import dataclasses
from typing import Any

from ninebolt.core.bike.facts import EMPTY_SHELF, Memory
from ninebolt.core.bolts import assess as whole
from ninebolt.core.build import Build
from ninebolt.core.codec import decode_field, encode, set_path


def changed(build: Build, changes: dict[str, Any]) -> Build:
    """The build with a value put at each path; what no path goes into stays the very same object."""
    tops = {path.partition(".")[0] for path in changes}
    doc = {top: encode(getattr(build, top)) for top in tops}
    for path, value in changes.items():
        doc = set_path(doc, path, value)
    return dataclasses.replace(build, **{t: decode_field(Build, t, doc[t]) for t in tops})


TODAY = "2031-05-04"
KNOWN = Memory()  # facts carry the inputs they were made of, so all tests may share them


def assess(build: Build, ride: Any = None, shelf: Any = EMPTY_SHELF) -> whole.Assessment:
    """The assessment as the program makes it: what earlier looks found and nothing moved since is kept."""
    return whole.assess(build, ride, shelf, KNOWN, TODAY)
