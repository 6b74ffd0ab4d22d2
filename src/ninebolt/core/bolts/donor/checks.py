"""Judgements of the Donor bolt: ledger, scale, frame, running gear, rules."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from ninebolt.core.bolts.common import Notes
from ninebolt.core.bolts.donor.compare import BEFORE, MustChange, legal_open, questions
from ninebolt.core.build import Build
from ninebolt.core.finding import PRACTICE, Fix, Source, q, setting
from ninebolt.core.simulate.headline import Performance

Centre = tuple[float, float, float]  # kg, x, y
SCALE_SHARE = 0.003  # nearer than this the scale's own error rules. Common practice, no source.
FRAME_WORDS = {
    "hole": "A hole weakens a tube most where it bends: no load-bearing tube without a sleeve",
    "cut": "A cut frame is another frame: ask whether it stays registrable before the saw",
    "weld": "A weld is judged by inspection and proof load by someone licensed to, not by its look",
}


@dataclass(frozen=True, slots=True)
class Weighed:
    """The bike and the ridden bike as (kg, x, y), and the wheelbase."""

    bike: Centre | None
    ridden: Centre | None
    base: float


class _Row(Protocol):
    @property
    def kg(self) -> float: ...


def scale_of(build: Build) -> tuple[float, float] | None:
    """Both axles on the scale (front, rear); None until both are read."""
    front, rear = build.donor.front_scale_kg.amount, build.donor.rear_scale_kg.amount
    return (front, rear) if front is not None and rear is not None else None


def judge_donor(
    build: Build,
    notes: Notes,
    weighed: Weighed,
    rows: Sequence[_Row],
    changes: Sequence[MustChange],
    perf: Performance | None,
) -> None:
    """All checks of the bolt."""
    _ledger(build, notes, rows)
    if weighed.bike is not None:
        _scale(build, notes, weighed.bike, weighed.base)
        _heavy(build, notes, weighed.bike)
    if weighed.ridden is not None:
        _centre_used(build, notes, weighed.ridden, weighed.base)
    _frame(build, notes)
    _running_gear(notes, changes)
    _rules(build, notes, perf)


def _ledger(build: Build, notes: Notes, rows: Sequence[_Row]) -> None:
    donor = build.donor
    blank = [i.name or "item" for i in donor.items if not i.mass_kg.known]
    if blank:
        notes.add(
            "caution",
            "unweighed",
            f"{len(blank)} ledger lines have no mass",
            f"{', '.join(blank[:4])}: not weighed, so counted as nothing. Put each on a scale.",
            PRACTICE,
            measured=len(blank),
            limit=0,
            parts=("donor",),
        )
    off, kg = -sum(r.kg for r in rows if r.kg < 0), donor.mass_kg.amount
    if kg is not None and off >= kg:
        notes.add(
            "stop",
            "sums",
            "More came off than there was",
            f"{q(off, 'kg')} came off a donor of {q(kg, 'kg')}: a mass is wrong, or in another "
            "unit.",
            Source("computed", "sum of the ledger"),
            measured=off,
            limit=kg,
            quantity="kg",
            parts=("donor",),
        )
    if not donor.bays:
        notes.add(
            "caution",
            "no_bay",
            "The bay is not measured",
            "Without the inside length, height and width nobody can say whether a pack goes in. "
            "Measure before money is spent.",
            PRACTICE,
            parts=("donor",),
            measured=0,
            limit=1,
        )


def _scale(build: Build, notes: Notes, bike: Centre, base: float) -> None:
    scale = scale_of(build)
    if scale is None:
        return
    front, rear = scale
    total, donor = front + rear, build.donor
    off, shift = total - bike[0], front * base - bike[0] * bike[1]
    if abs(off) <= SCALE_SHARE * bike[0] and abs(shift) <= SCALE_SHARE * bike[0] * base:
        return
    fix = Fix(
        "Take the scale's word into the ledger",
        (
            setting("donor.correction_kg", donor.correction_kg.or_else(0.0) + off, "measured"),
            setting(
                "donor.correction_kg_m",
                donor.correction_kg_m.or_else(donor.correction_kg.or_else(0.0) * donor.cg_x_m.taken)
                + shift,
                "measured",
            ),
        ),
    )
    notes.add(
        "caution" if abs(off) > 0.02 * bike[0] else "note",
        "scale",
        "Scale and ledger disagree",
        f"The axles weigh {q(total, 'kg')}, the ledger says {q(bike[0], 'kg')} "
        f"({off / bike[0]:+.1%}); the front carries {front / total:.1%}, by the ledger "
        f"{bike[1] / base:.1%}. A line is missing or wrong, or something changed since.",
        PRACTICE,
        measured=total,
        limit=bike[0],
        quantity="kg",
        parts=("donor",),
        fixes=(fix,),
    )


def _heavy(build: Build, notes: Notes, bike: Centre) -> None:
    top = build.goal.mass_max_kg.amount
    if top is not None and bike[0] > top:
        notes.add(
            "caution",
            "heavy",
            "Heavier than wanted",
            f"The bike comes to {q(bike[0], 'kg')}, {q(bike[0] - top, 'kg')} over the wish.",
            Source("build", "the goal of this build"),
            measured=bike[0],
            limit=top,
            quantity="kg",
        )


def _centre_used(build: Build, notes: Notes, ridden: Centre, base: float) -> None:
    share, height = build.road.front_share.taken, build.road.cg_height_m.taken
    if abs(ridden[1] / base - share) <= 0.02 and abs(ridden[2] - height) <= 0.05:
        return
    notes.add(
        "note",
        "use_ledger",
        "The runs use another centre of mass than the ledger",
        f"Ledger and rider put {ridden[1] / base:.0%} on the front at {q(ridden[2], 'm')} height; "
        f"the runs take {share:.0%} at {q(height, 'm')}.",
        PRACTICE,
        measured=ridden[1] / base,
        limit=share,
        parts=("road",),
        fixes=(
            Fix(
                "Use the ledger's centre of mass",
                (
                    setting("road.front_share", round(ridden[1] / base, 3), "measured", 0.05),
                    setting("road.cg_height_m", round(ridden[2], 3), "measured", 0.08),
                ),
            ),
        ),
    )


def _frame(build: Build, notes: Notes) -> None:
    cuts = [c for c in build.donor.frame_changes if c.kind != "bolt_on"]
    if not cuts:
        return
    first = cuts[0]
    notes.add(
        "caution",
        "frame",
        f"{len(cuts)} changes to the frame are not bolt-on",
        f"{', '.join(c.name or c.kind for c in cuts[:3])}. {FRAME_WORDS[first.kind]}. Any of them "
        "can end the right to register the bike: ask the local authority.",
        PRACTICE,
        measured=len(cuts),
        limit=0,
        parts=("donor",),
    )
    loose = [c for c in cuts if c.bears_load and not c.inspected]
    if loose:
        notes.add(
            "stop",
            "frame_load",
            "A load-bearing change is not inspected",
            f"{', '.join(c.name or c.kind for c in loose[:3])}"
            f"{' at ' + loose[0].place if loose[0].place else ''}: not to be ridden until someone "
            "licensed to has inspected it (by eye, dye, proof load). Dropping the bike proves "
            "nothing.",
            PRACTICE,
            measured=len(loose),
            limit=0,
            parts=("donor",),
        )


def _running_gear(notes: Notes, changes: Sequence[MustChange]) -> None:
    first = [c for c in changes if c.verdict == BEFORE]
    if not first:
        return
    words = "; ".join(
        f"{c.what} {c.ratio:.2f} times ({c.reason})" if c.ratio else f"{c.what}: {c.reason}"
        for c in first[:4]
    )
    notes.add(
        "caution",
        "must_change",
        f"{len(first)} parts of the running gear come first",
        f"{words}. More power on stock running gear is the classic trap: do these before riding.",
        PRACTICE,
        measured=len(first),
        limit=0,
        parts=("donor.ratings",),
    )


def _rules(build: Build, notes: Notes, perf: Performance | None) -> None:
    if legal_open(build):
        notes.add(
            "note",
            "rules_open",
            "The rules where it will be ridden are not looked up",
            "Vehicle class, power, speed and frame rules differ by place and change: look them up "
            "with a date before money is spent. The authority decides, not this program.",
            PRACTICE,
            measured=0,
            limit=1,
            parts=("donor.legal",),
        )
    asked = [x for x in questions(build, perf) if x.open]
    if asked and build.donor.legal.region:
        law = build.donor.legal
        when = f", looked up {law.checked_on}" if law.checked_on else ", without a date"
        words = "; ".join(f"{x.about}: rule {x.rule}, build {x.build}" for x in asked[:4])
        notes.add(
            "caution",
            "rules",
            f"{len(asked)} points to put to the authority",
            f"{law.region}{when}: {words}. Only the authority can say what is allowed.",
            Source("build", "rules as written down in this build"),
            measured=len(asked),
            limit=0,
            parts=("donor.legal",),
        )
