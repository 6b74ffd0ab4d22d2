"""What can be wrong with a bench bike while it is live, and which of it a person can mend.

repair: what a person does at the bench. written: parameters that cure it as well. What a fault changes stands in
motion.py (the ride), nodes.py (the link) and meter.py (what a meter reads).
"""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.errors import InputError


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing that is wrong, how it shows, and what mends it."""

    key: str
    label: str
    shows: str
    repair: str


LIVE_FAULTS: dict[str, Fault] = {
    f.key: f
    for f in (
        Fault("phase-swap", "Two phase leads swapped", "stutters, or runs backwards", "swap two phase leads back"),
        Fault("hall-order", "Halls in another order", "stutters with high amps and no push",
              "identify again, or move the wires"),
        Fault("hall-dead", "One hall gives nothing", "fault as soon as it turns", "mend the hall's wire"),
        Fault("throttle-range", "The throttle never reaches its full reading", "full twist is not all of it",
              "measure and set its ends"),
        Fault("weak-group", "One group with little left", "cuts out on a pull, comes back", "change the group"),
        Fault("hot-plug", "A plug of high resistance", "sags far more than computed, the plug is hot",
              "replace the plug"),
        Fault("bms-trip", "The BMS opens far too early", "dead in the middle of a pull", "replace the BMS"),
        Fault("hot-motor", "The motor cannot shed its heat", "fades after a few seconds", "clean and refit its case"),
        Fault("dragging-brake", "The rear brake drags", "slow, and rolls out short", "free the brake"),
        Fault("lost-frames", "The bus loses frames", "reads take long or fail", "terminate the bus at both ends"),
        Fault("reset-in-write", "The controller resets in the middle of a write", "the write breaks off",
              "give it a steady supply"),
        Fault("wrong-identity", "Another controller than the set was made for", "another product answers",
              "fit the right one"),
        Fault("foreign-firmware", "Another firmware than the set was made for", "another revision answers",
              "load the right firmware"),
        Fault("bare-identity", "A controller that tells only its maker", "no product, no serial number",
              "take another one, or make sure by its label"),
    )
}  # fmt: skip
LINK_ONLY = ("lost-frames", "reset-in-write", "wrong-identity", "foreign-firmware", "bare-identity")
HIDDEN = tuple(k for k in LIVE_FAULTS if k not in LINK_ONLY)  # what practice may hide


def known_fault(key: str) -> str:
    """Raises InputError for another one."""
    if key not in LIVE_FAULTS:
        raise InputError(
            "The bench bike does not know this fault.",
            where="fault",
            got=key[:40],
            expected=", ".join(LIVE_FAULTS),
        )
    return key
