"""Another pack in parallel: equalising current, sharing, what must never be mixed."""

from __future__ import annotations

from ninebolt.core.bike.cells import cell_full_v
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.pack.limits import EVEN_SHARE, JOIN_SHARE, SIZE_HIGH, SIZE_LOW
from ninebolt.core.bolts.pack.readings import joining_of
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Change, Fix, Source, q

PARTS = ("pack.other",)


@check(
    "pack.join",
    "joining two packs drives too much current",
    parts=PARTS,
    source=Source("computed", "ΔV / ΣR"),
)
def join(bike: Bike) -> Says | None:
    facts, pack = pack_facts(bike), bike.build.pack
    joined = joining_of(bike.build, facts) if facts else None
    if facts is None or joined is None:
        return None
    own, theirs = pack.rested_v.amount, pack.other.volts_v.amount
    delta = abs((own or 0.0) - (theirs or 0.0))
    # The lower pack is charged by the higher one: its charge limit counts.
    charge = pack.cell.i_charge_a.amount
    limit = charge * (pack.parallel or 1) if charge is not None else facts.capacity_ah
    if joined.peak_a <= JOIN_SHARE * limit:
        return None
    close = delta * JOIN_SHARE * limit / joined.peak_a
    level = {"amount": own, "origin": "measured", "tolerance": 0.002}
    return Says(
        "stop" if joined.peak_a > limit else "caution",
        "Do not join these packs yet",
        f"{q(delta, 'v')} apart drives {q(joined.peak_a, 'a')} at the first touch and takes about "
        f"{q(3 * joined.tau_s, 's')} to level. Bring them within {q(close, 'v')} with a charger first, "
        "or join through a resistor.",
        joined.peak_a,
        JOIN_SHARE * limit,
        "a",
        fixes=(Fix("They have been charged level", (Change("pack.other.volts_v", level),)),),
    )


@check(
    "pack.join_share",
    "packs in parallel will not share alike",
    parts=PARTS,
    source=Source("computed", "R₂ / (R₁ + R₂)"),
)
def join_share(bike: Bike) -> Says | None:
    facts = pack_facts(bike)
    joined = joining_of(bike.build, facts) if facts else None
    if joined is None or abs(joined.share - 0.5) <= EVEN_SHARE:
        return None
    return Says(
        "note",
        "The packs will not share alike",
        f"This one carries {joined.share:.0%} of the current; watch its own limit, not the sum.",
        joined.share,
        0.5,
    )


@check("pack.mix_series", "packs of different series count are to be joined", parts=PARTS)
def mix_series(bike: Bike) -> Says | None:
    pack, other = bike.build.pack, bike.build.pack.other
    if other.series is None or pack.series is None or other.series == pack.series:
        return None
    return Says(
        "stop",
        "Packs of different series count are never joined in parallel",
        f"{other.series} cells against {pack.series}: full ones differ by "
        f"{q(abs(other.series - pack.series) * cell_full_v(pack.cell), 'v')}, and one would charge the "
        "other without end.",
        other.series,
        pack.series,
    )


@check("pack.mix_chemistry", "packs of different chemistry are to be joined", parts=PARTS)
def mix_chemistry(bike: Bike) -> Says | None:
    pack, other = bike.build.pack, bike.build.pack.other
    if other.chemistry in ("unknown", pack.cell.chemistry):
        return None
    if other.series is not None and pack.series is not None and other.series != pack.series:
        return None  # said already
    return Says(
        "stop",
        "Different chemistries are never joined in parallel",
        f"{other.chemistry.replace('_', ' ')} and {pack.cell.chemistry.replace('_', ' ')} have "
        "different curves: at one voltage they stand at different charge, and current flows between "
        "them at rest.",
        1,
        0,
    )


@check("pack.mix_open", "a pack to be joined of unknown chemistry or series count", parts=PARTS)
def mix_open(bike: Bike) -> Says | None:
    other = bike.build.pack.other
    if not other.volts_v.known or (other.chemistry != "unknown" and other.series is not None):
        return None
    return Says(
        "caution",
        "What the other pack is made of is unknown",
        "The same volts do not make the same pack: chemistry and series count must be alike before "
        "they are joined.",
        0,
        1,
    )


@check("pack.mix_size", "packs in parallel differ in size", parts=PARTS)
def mix_size(bike: Bike) -> Says | None:
    ah, facts = bike.build.pack.other.capacity_ah.amount, pack_facts(bike)
    if ah is None or facts is None or SIZE_LOW <= ah / facts.capacity_ah <= SIZE_HIGH:
        return None
    return Says(
        "note",
        "The packs differ in size",
        f"{q(ah, 'ah')} beside {q(facts.capacity_ah, 'ah')}: allowed, but the current splits by "
        "resistance, not by size; compare amps per amp-hour of each.",
        ah,
        facts.capacity_ah,
        "ah",
    )
