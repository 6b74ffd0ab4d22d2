"""A write into a controller that did not come to its end: what may be done before it is settled, and how it may be."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping

from ninebolt.core.bolts.tune.profiles import windows_of
from ninebolt.core.build import Build
from ninebolt.core.finding import listed
from ninebolt.core.setting.objects import Address, Scalar
from ninebolt.core.setting.sets import ParamSet, Profile
from ninebolt.errors import ConflictError
from ninebolt.link.guarded import Standing
from ninebolt.services.judged import judged, meant
from ninebolt.store.controllers import left_open

ANYWAY = "To do it all the same, say so."
READ_OVER = (
    1.02  # a full pack reads as far above the cut-off that lies over it. Common practice, no source
)
UNREAD = "whether this pack belongs to the set: its volts were not read"


def not_half(stands: Standing) -> None:
    """Before a new write. Raises ConflictError over one that stands half: its backup would be of a half set."""
    if not stands.whole:
        raise ConflictError(
            "A write into this controller stands half.",
            got=f"{stands.new} new, {stands.old} old, {len(stands.neither)} neither",
            todo="Finish it or put the old values back, then write.",
        )


def may_be_deleted(db: sqlite3.Connection, build_id: str) -> None:
    """Raises ConflictError for a build with an open write: its journal and the backup would go with it."""
    left = left_open(db, build_id)
    if left:
        raise ConflictError(
            "A write into a controller is not finished, and its backup is kept with this build.",
            got=listed(left, 3, "; "),
            todo=f"Connect it, finish the write or put the old values back. {ANYWAY}",
        )


def suits_the_pack(
    build: Build, kind: Profile, values: Mapping[Address, Scalar], volts: float | None
) -> tuple[str, ...]:
    """The pack that is connected must be able to be one of the build's, and lie within the cut-offs that would be in
    force. values: of the controller, with what is to be written. Says what nobody could look at. Raises
    ConflictError."""
    if volts is None or not volts > 1.0:
        return (UNREAD,)
    known = windows_of(build)
    if known and not any(w.holds(volts) for w in known):
        raise ConflictError(
            "The pack that is connected belongs to nothing in this build.", got=f"{volts:.1f} V",
            expected=" or ".join(f"{w.low_v:.1f} to {w.high_v:.1f} V ({w.name})" for w in known),
            todo=f"Connect the right pack. {ANYWAY}",
        )  # fmt: skip
    cuts = meant(kind, ParamSet("", dict(values)))
    low, high = cuts.get("lvc_v", 0.0), cuts.get("ovc_v") or float("inf")
    if not low <= volts <= high * READ_OVER:
        raise ConflictError(
            "With these values the pack that is connected lies outside the controller's cut-offs.",
            got=f"{volts:.1f} V", expected=f"{low:.1f} to {high:.1f} V",
            todo=f"It is another pack than these values are for, or it is empty. {ANYWAY}",
        )  # fmt: skip
    return ()


def stops_of(build: Build, kind: Profile, want: ParamSet) -> tuple[str, ...]:
    """Stops that these values bring into the build as it is now, parts taken out since included."""
    values = meant(kind, want)
    return judged(build, values).stops if values else ()


def must_be_fit(stops: tuple[str, ...]) -> None:
    """Raises ConflictError where finishing would bring stops into the build."""
    if stops:
        raise ConflictError(
            "What was to be written is not fit for the build as it is now.", got=listed(stops, 3, "; "),
            todo=f"Put the old values back, then write the build's own set. {ANYWAY}",
        )  # fmt: skip
