"""The chain of links from cell to controller: what each carries for good, and the one line-amp number
that the chain allows."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.cells import warm_share
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.path import cable_cont_a
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.finding import PRACTICE, Fix, Source, set_line_amps
from ninebolt.core.guard.fuse import stands_a
from ninebolt.core.limits import Limit

BMS_SHARE = Limit(
    0.85, "ratio", "line amps over the BMS's continuous: its sensor and the controller's stray 5 to "
    "10 % each",
)  # fmt: skip
FUSE_SHARE = Limit(0.80, "ratio", "continuous load over a fuse's rating")
BURST_S = Limit(10.0, "s", "length of a full-throttle burst, for what a link stands in one")


@dataclass(frozen=True, slots=True)
class ChainLink:
    """One link. cont_a: what it carries for good by its rating; share: of that, what line amps may
    use; peak_a: what it stands for a burst. there: False = said not to be, None = not looked at."""

    path: str
    label: str
    choke: str
    cont_a: float | None
    peak_a: float | None
    share: float
    there: bool | None

    @property
    def allows_a(self) -> float | None:
        """Line amps that this link allows for good."""
        return None if self.cont_a is None else self.cont_a * self.share


@dataclass(frozen=True, slots=True)
class Advice:
    """Line amps that the whole chain carries for good, the link that says so, and links that are not
    counted because nothing is known of them."""

    amps: float
    link: ChainLink
    blind: tuple[str, ...]

    @property
    def words(self) -> str:
        """Where the number comes from."""
        share = "" if self.link.share == 1.0 else f"{self.link.share:.0%} of the "
        blind = f"; not counted, unknown: {', '.join(self.blind)}" if self.blind else ""
        whose = f"{self.link.label}'" if self.link.label.endswith("s") else f"{self.link.label}'s"
        return f"{share}{whose} {self.link.cont_a or 0.0:.0f} A{blind}"

    @property
    def fix(self) -> Fix:
        """Set the line amps to it."""
        return set_line_amps(self.amps)

    @property
    def source(self) -> Source:
        return BMS_SHARE.source if self.link.choke == "BMS" else PRACTICE


def _known(x: float) -> float | None:
    return x if math.isfinite(x) else None


@fact
def chain(bike: Bike) -> tuple[ChainLink, ...]:
    """All links in the order of the current."""
    g, c, facts = bike.build.guard, bike.build.drive.controller, pack_facts(bike)
    share = warm_share(bike.build.pack)
    cont = _known(facts.cont_a * share) if facts else None
    through = g.bms.discharge == "through"
    fuse = g.fuse.rated_a.amount
    return (
        ChainLink(
            "pack.cell", "Cells", "cells", cont,
            _known(facts.peak_a * share) if facts else None, 1.0, True if facts else None,
        ),
        ChainLink(
            "guard.bms", "BMS" if through else "BMS bypassed", "BMS",
            g.bms.i_cont_a.amount if through and g.bms.there else None,
            g.bms.i_peak_a.amount if through and g.bms.there else None,
            float(BMS_SHARE), g.bms.there,
        ),
        ChainLink(
            "guard.fuse", "Fuse", "path", fuse if g.fuse.there else None,
            stands_a(fuse, BURST_S, g.fuse.melts) if fuse and g.fuse.there else None,
            float(FUSE_SHARE), g.fuse.there,
        ),
        ChainLink(
            "guard.isolator", g.isolator.kind.capitalize(), "path",
            g.isolator.i_cont_a.amount if g.isolator.there else None, None, 1.0, g.isolator.there,
        ),
        ChainLink(
            "guard.plug", "Main plug", "path",
            g.plug.i_cont_a.amount if g.plug.there else None,
            g.plug.i_peak_a.amount if g.plug.there else None, 1.0, g.plug.there,
        ),
        ChainLink(
            "guard.cable", "Cable", "path", _known(cable_cont_a(g.cable)), None, 1.0, g.cable.there,
        ),
        ChainLink(
            "drive.controller", "Controller line", "line", c.line_max_a.amount, None, 1.0,
            True if c.line_max_a.known else None,
        ),
    )  # fmt: skip


@fact
def advice(bike: Bike) -> Advice | None:
    """The one line-amp number; None while no link has a rating."""
    links = [x for x in chain(bike) if x.there is not False and x.label != "BMS bypassed"]
    rated = [x for x in links if x.allows_a is not None]
    if not rated:
        return None
    least = min(rated, key=lambda x: x.allows_a or 0.0)
    blind = tuple(x.label for x in links if x.allows_a is None)
    return Advice(math.floor(least.allows_a or 0.0), least, blind)


def protected_least(bike: Bike) -> ChainLink | None:
    """The weakest of what the fuse is there to protect: cable, plug and isolator."""
    kept = ("guard.cable", "guard.plug", "guard.isolator")
    rated = [x for x in chain(bike) if x.path in kept and x.cont_a is not None]
    return min(rated, key=lambda x: x.cont_a or 0.0) if rated else None
