"""The same motor with another number of turns: what changes, by closed laws, and what the bike then does."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ninebolt.core.build import Build
from ninebolt.core.value import Value
from ninebolt.errors import InputError
from ninebolt.services import workshop
from ninebolt.services.house import House
from ninebolt.services.workshop import Preview

MOST_TURNS = 200.0
FRAME = "drive.motor."
# Field -> power of the turns. KV N, R/N², L/N² and amp-turns stay as they are in the same slots with the same copper.
LAWS = {
    "kv_rpm_v": -1.0, "r_phase_ohm": 2.0, "l_phase_henry": 2.0, "lq_henry": 2.0,
    "phase_max_a": -1.0, "phase_cont_a": -1.0, "knee_a": -1.0,
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Rewound:
    """One value of the motor, before and after."""

    path: str
    label: str
    quantity: str
    before: float
    after: float


@dataclass(frozen=True, slots=True)
class Rewinding:
    """rows: what moves; missing: what moves too and is not known; changes: to try it; then: what the bike does."""

    rows: tuple[Rewound, ...]
    missing: tuple[str, ...]
    changes: tuple[dict[str, Any], ...]
    then: Preview
    words: tuple[str, ...]


LABELS = {
    "kv_rpm_v": ("Motor constant KV", "rpm_v"), "r_phase_ohm": ("Phase resistance", "ohm"),
    "l_phase_henry": ("Phase inductance", "henry"),
    "lq_henry": ("Inductance, q axis", "henry"), "phase_max_a": ("Peak phase current it may see", "a"),
    "phase_cont_a": ("Continuous phase current", "a"), "knee_a": ("Saturation knee", "a"),
}  # fmt: skip
OPTIONAL = ("lq_henry", "knee_a")


def rewinding(house: House, build_id: str, turns: float, to_turns: float) -> Rewinding:
    """Raises InputError for no turns, or the same ones, or a motor without KV."""
    for where, n in (("turns", turns), ("to_turns", to_turns)):
        if not 0 < n <= MOST_TURNS:
            raise InputError(
                "A winding has turns.",
                where=where,
                got=f"{n:g}",
                expected=f"above 0, at most {MOST_TURNS:g}",
            )
    if turns == to_turns:
        raise InputError("These are the same turns.", got=f"{turns:g}")
    build = workshop.shown_build(house, build_id)
    if build.drive.motor.kv_rpm_v.amount is None:
        raise InputError(
            "The motor's KV is not known, so what a rewind changes is not either.",
            where="drive.motor.kv_rpm_v",
            todo="Spin it at a known voltage, or drive it with a drill: Measure the motor.",
        )
    rows, missing, changes = [], [], []
    for field, power in LAWS.items():
        value: Value = getattr(build.drive.motor, field)
        label, quantity = LABELS[field]
        if value.amount is None:
            missing += [] if field in OPTIONAL else [label]
            continue
        after = value.amount * (to_turns / turns) ** power
        rows.append(Rewound(FRAME + field, label, quantity, value.amount, after))
        new = {"amount": float(f"{after:.6g}"), "origin": "guess", "tolerance": value.spread}
        changes.append({"path": FRAME + field, "value": new})
    changes += _setting(build, turns / to_turns)
    then = workshop.preview(house, build_id, [changes])[0]
    return Rewinding(tuple(rows), tuple(missing), tuple(changes), then, WORDS)


def _setting(build: Build, share: float) -> list[dict[str, Any]]:
    """The phase amps set, brought down with what the winding stands; never raised by itself."""
    own = build.drive.controller.phase_a
    if own.amount is None or share >= 1.0:
        return []
    doc = {"amount": float(f"{own.amount * share:.5g}"), "origin": "guess", "tolerance": 0.0}
    return [{"path": "drive.controller.phase_a", "value": doc}]


WORDS = (
    "Same slots, same copper in them: thrust per watt of heat stays, volts and amps change places.",
    "Fewer turns spin faster and ask for more phase amps for the same torque: the controller and the leads must stand "
    "them, and the back-EMF at top speed must stay under the controller's ceiling.",
    "Measured after the rewind, these guesses are replaced: hand-wound slots hold less copper.",
)
