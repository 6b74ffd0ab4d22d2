"""Measured modules or groups in one series string."""

from __future__ import annotations

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.pack.limits import LOST, ODD_OHM
from ninebolt.core.bolts.pack.readings import string_of_modules
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Source, q

PARTS = ("pack.modules",)


@check(
    "pack.string",
    "unequal modules in series cost capacity",
    parts=PARTS,
    source=Source("computed", "the smallest ends the discharge, the fullest the charge"),
)
def string(bike: Bike) -> Says | None:
    found = string_of_modules(bike.build)
    if found is None or found.lost_share <= LOST:
        return None
    names = [m.name or f"module {i + 1}" for i, m in enumerate(bike.build.pack.modules)]
    return Says(
        "caution",
        "Unequal modules in series cost capacity",
        f"{found.lost_share:.1%} of their mean is lost: {names[found.empty_first]} is empty first, "
        f"{names[found.full_first]} is full first. Charge them level one by one, or swap the weakest.",
        found.lost_share * 100,
        LOST * 100,
        "pct",
    )


@check("pack.string_r", "one module resists more than the others", parts=PARTS)
def string_r(bike: Bike) -> Says | None:
    ohms = [m.r_ohm.amount for m in bike.build.pack.modules if m.r_ohm.amount is not None]
    if len(ohms) < 2 or max(ohms) <= ODD_OHM * sum(ohms) / len(ohms):
        return None
    mean = sum(ohms) / len(ohms)
    return Says(
        "caution",
        "One module resists more than the others",
        f"{q(max(ohms), 'ohm')} against a mean of {q(mean, 'ohm')}: it sags first and warms most. Read "
        "its joints again before blaming its cells.",
        max(ohms),
        ODD_OHM * mean,
        "ohm",
    )
