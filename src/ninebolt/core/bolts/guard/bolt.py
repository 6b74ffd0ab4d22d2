"""Guard: what protects the pack, and what will cut out first?"""

from __future__ import annotations

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.common import Result
from ninebolt.core.bolts.guard import checks
from ninebolt.core.bolts.guard.drawing import drawing_of
from ninebolt.core.bolts.guard.figures import figures_of
from ninebolt.core.bolts.register import judge

__all__ = ["assess", "checks"]


def assess(bike: Bike) -> Result:
    """What must be known before first power is missing until it is known, or said not to be there."""
    return Result(figures_of(bike), judge("guard", bike), _missing(bike), drawing_of)


def _missing(bike: Bike) -> tuple[str, ...]:
    g, build = bike.build.guard, bike.build
    fuse, iso, plug, pre = g.fuse, g.isolator, g.plug, g.precharge
    rows = (
        ("pack.series", pack_facts(bike) is None),
        (
            "guard.bms.i_cont_a",
            g.bms.there is None or bool(g.bms.there and not g.bms.i_cont_a.known),
        ),
        ("guard.fuse.rated_a", fuse.there is None or bool(fuse.there and not fuse.rated_a.known)),
        ("guard.fuse.dc_v", bool(fuse.there and not fuse.dc_v.known)),
        ("guard.fuse.breaking_a", bool(fuse.there and not fuse.breaking_a.known)),
        ("guard.isolator.dc_v", iso.there is None or bool(iso.there and not iso.dc_v.known)),
        (
            "guard.isolator.breaking_a",
            bool(iso.there and iso.kind != "unplug" and not iso.breaking_a.known),
        ),
        ("guard.plug.dc_v", plug.there is None or bool(plug.there and not plug.dc_v.known)),
        ("guard.cable.section_m2", not g.cable.section_m2.known),
        (
            "guard.precharge.r_ohm",
            pre.there is None and not (iso.kind == "unplug" and bool(plug.pre_mates)),
        ),
        (
            "drive.controller.c_bus_farad",
            bool(pre.there and not build.drive.controller.c_bus_farad.known),
        ),
    )
    return tuple(path for path, gone in rows if gone)
