"""Profiles: a set for each pack or purpose, made from the build as if it had that pack; which one a connected pack
belongs to; what has to change when packs are swapped."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ninebolt.core.bike.cells import cell_empty_v, cell_full_v
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.tune.rows import rows_of
from ninebolt.core.bolts.tune.worn import in_build
from ninebolt.core.build import Build, TuneProfile
from ninebolt.core.codec import replaced_all
from ninebolt.core.setting.ours import BY_NAME
from ninebolt.core.value import UNKNOWN
from ninebolt.errors import NotFoundError

# What is set by hand for the bike itself goes with it into every profile.
OF_THE_BIKE = ("hall_", "direction", "sensor", "temp_sensor", "units", "throttle_")
GENTLE = ("guest", "first ride")


@dataclass(frozen=True, slots=True)
class Window:
    """Volts that a pack can have at rest: empty to full, with what the meter may be off."""

    name: str
    low_v: float
    high_v: float
    cells: int

    def holds(self, volts: float) -> bool:
        return self.low_v * 0.995 <= volts <= self.high_v * 1.005


@dataclass(frozen=True, slots=True)
class Swap:
    """One parameter that two profiles differ in."""

    name: str
    label: str
    quantity: str
    before: float
    after: float
    power: bool
    why: str


@dataclass(frozen=True, slots=True)
class PackVerdict:
    """Whether a pack that reads `volts` may be ridden with a profile. others: the profiles it could belong to."""

    fits: bool
    sentence: str
    others: tuple[str, ...]


def build_for(build: Build, name: str) -> Build:
    """The build as a profile sees it; '' is the build itself. Raises NotFoundError."""
    return shaped(build, _named(build, name)) if name else build


def _named(build: Build, name: str) -> TuneProfile:
    for p in build.tune.profiles:
        if p.name == name:
            return p
    known = ", ".join(p.name for p in build.tune.profiles) or "none"
    raise NotFoundError(f"This build has no profile '{name[:60]}'.", expected=known)


def shaped(build: Build, p: TuneProfile) -> Build:
    """The build with the profile's pack and purpose in place of its own."""
    pack, bms = build.pack, build.guard.bms
    if p.series or p.parallel:  # another pack: what was measured on the build's own is not its
        pack = replace(
            pack, series=p.series or pack.series, parallel=p.parallel or pack.parallel, sorted_groups=(),
            rested_v=UNKNOWN, loaded_v=UNKNOWN, group_v=(), tap_v=(), modules=(),
        )  # fmt: skip
        bms = replace(bms, series=pack.series)
    if p.bms_a.known:
        bms = replace(bms, i_cont_a=p.bms_a, i_peak_a=p.bms_a)
    charger = build.guard.charger
    if p.charger_v.known:
        charger = replace(charger, out_v=p.charger_v, stacked=1)
    if p.purpose == "bypass":
        bms = replace(bms, discharge="bypassed")
    margin = (
        "gentle"
        if p.purpose in GENTLE
        else "everything"
        if p.purpose == "strip"
        else build.tune.margin
    )
    kept = tuple(c for c in build.tune.chosen if c.name.startswith(OF_THE_BIKE))
    cap = p.speed_m_s if p.speed_m_s.known else build.tune.cap_m_s
    tune = replace(build.tune, margin=margin, profiles=(), chosen=kept, cap_m_s=cap)
    return replace(
        build, pack=pack, guard=replace(build.guard, bms=bms, charger=charger), tune=tune
    )


def in_force(build: Build) -> Build:
    """The build as it rides once its recommended set is written: to judge a set before it is."""
    return replaced_all(build, in_build(build, {r.name: r.value for r in rows_of(Bike(build))}))


def window(build: Build, name: str) -> Window | None:
    """None while the pack's cells or their number are unknown."""
    pack = build_for(build, name).pack
    if not pack.series or cell_full_v(pack.cell) != cell_full_v(pack.cell):
        return None
    return Window(
        name or "the build",
        pack.series * cell_empty_v(pack.cell),
        pack.series * cell_full_v(pack.cell),
        pack.series,
    )


def windows_of(build: Build) -> list[Window]:
    """Of the build's own pack and of every profile."""
    names = ["", *(p.name for p in build.tune.profiles)]
    return [w for w in (window(build, n) for n in names) if w is not None]


def belongs(build: Build, name: str, volts: float) -> PackVerdict:
    """Judge a measured pack against the profile that is to be ridden. Volts alone cannot tell packs apart whose
    windows overlap, and the sentence says so."""
    mine = window(build, name)
    if mine is None:
        return PackVerdict(
            False,
            "Which volts this profile's pack can have is not known: give its cells in series.",
            (),
        )
    if volts < 0.0:
        return PackVerdict(
            False,
            f"{volts:.1f} V: the meter's leads are swapped, or the plug's poles are. Nothing is connected before it is "
            "known which.",
            (),
        )
    fits = [w for w in windows_of(build) if w.holds(volts)]
    others = tuple(w.name for w in fits if w.name != mine.name)
    if not mine.holds(volts):
        side = "are empty at" if volts < mine.low_v else "end at"
        limit = mine.low_v if volts < mine.low_v else mine.high_v
        to = (
            f" It could be the pack of {', '.join(others)}."
            if others
            else " It is the pack of no profile here."
        )
        own = (
            "Or it is this pack, run far below empty, or its BMS is open: read every group, and do not charge it first."
            if volts < mine.low_v
            else "Or it is this pack, over-charged: charger off, nothing connected, outdoors."
        )
        return PackVerdict(
            False,
            f"{volts:.1f} V cannot be the pack of {mine.name}: {mine.cells} cells in series {side} {limit:.1f} V.{to} "
            f"{own} Nothing is written.",
            others,
        )
    per_cell = volts / mine.cells
    doubt = (
        f" {', '.join(others)} would read the same: check the label on the pack." if others else ""
    )
    return PackVerdict(
        True,
        f"{volts:.1f} V is {per_cell:.2f} V a cell of {mine.cells}: it fits {mine.name}.{doubt}",
        others,
    )


def swap(build: Build, before: str, after: str) -> list[Swap]:
    """What is written when the pack or purpose changes, in the order of the dictionary."""
    first = {r.name: r for r in rows_of(Bike(build_for(build, before)))}
    out = []
    for r in rows_of(Bike(build_for(build, after))):
        was = first.get(r.name)
        spec = BY_NAME[r.name]
        if was is None or abs(was.recommended - r.recommended) < 0.5 * spec.scale:
            continue
        out.append(
            Swap(
                r.name,
                r.label,
                r.quantity,
                was.recommended,
                r.recommended,
                spec.power,
                r.constraint,
            )
        )
    return out
