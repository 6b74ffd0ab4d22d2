"""Cells of unknown past: not to be built with before they are tested."""

from __future__ import annotations

from ninebolt.core.bike.cells import sorted_in
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bike.shape import per_group, steps_of
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Change, Fix

USED = ("salvaged_cells", "vehicle_modules")


@check("pack.untested", "salvaged cells or modules that nobody has tested", parts=("pack",))
def untested(bike: Bike) -> Says | None:
    pack = bike.build.pack
    if pack.source not in USED or pack_facts(bike) is None:
        return None
    bodies = steps_of(pack) * per_group(pack)
    if pack.source == "salvaged_cells":
        tested = sum(len(g.cells) for g in pack.sorted_groups)
    else:
        tested = sum(m.capacity_ah.known for m in pack.modules)
        bodies = steps_of(pack)
    if tested >= bodies:
        return None
    return Says(
        "caution",
        "Salvaged cells are not tested" if not tested else "Not all salvaged cells are tested",
        f"{tested} of {bodies} have a measured capacity in this build. One leaking or weak cell pulls "
        "its group down and can burn: measure capacity, resistance and two weeks of self-discharge, "
        "throw out what is dented, wet, swollen or under 80 % of new, then sort them here.",
        tested,
        bodies,
    )


@check(
    "pack.sorted_other", "the groups as sorted are for another pack than this one", parts=("pack",)
)
def sorted_other(bike: Bike) -> Says | None:
    pack = bike.build.pack
    groups = pack.sorted_groups
    if not groups or sorted_in(pack):
        return None
    sizes = sorted({len(g.cells) for g in groups})
    return Says(
        "caution",
        "The sorted groups do not make this pack",
        f"{len(groups)} groups of {' or '.join(map(str, sizes))} cells are kept, the pack is "
        f"{pack.series or '?'}s{pack.parallel or '?'}p: it is computed with the cell as written, not "
        "with the groups. Sort the lot again for this pack, or take the groups out.",
        len(groups),
        pack.series or 0,
        fixes=(Fix("Take the sorted groups out", (Change("pack.sorted_groups", []),)),),
    )
