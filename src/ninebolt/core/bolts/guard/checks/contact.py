"""Contacts and switches that resist more than sound ones."""

from __future__ import annotations

from collections.abc import Iterator

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import load_a
from ninebolt.core.bolts.guard.limits import CONTACT_V, CONTACT_WORN
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import q


@check("guard.contact", "a contact, fuse or switch resists far more than a sound one of its size")
def contact(bike: Bike) -> Iterator[Says]:
    g, load = bike.build.guard, load_a(bike)
    rows = (
        ("plug", "main plug", g.plug, g.plug.i_cont_a),
        ("isolator", g.isolator.kind, g.isolator, g.isolator.i_cont_a),
        ("fuse", "fuse", g.fuse, g.fuse.rated_a),
        ("bms", "BMS's switch", g.bms, g.bms.i_cont_a),
    )
    for name, words, part, rated in rows:
        if not part.there or not part.r_ohm.known or not rated.known or load is None:
            continue
        if name == "bms" and g.bms.discharge != "through":
            continue
        drop = part.r_ohm.taken * rated.taken
        if drop <= CONTACT_WORN * CONTACT_V:
            continue
        yield Says(
            "caution",
            f"The {words} resists far more than a sound one",
            f"{q(part.r_ohm.taken, 'ohm')} at its {q(rated.taken, 'a')} drop {q(drop, 'v')}; a sound one "
            f"drops {q(CONTACT_V, 'v')} or less. At {q(load, 'a')} {q(part.r_ohm.taken * load * load, 'w')} are "
            "made in its contacts: burnt, loose, dirty, or a reading with the meter's leads in it. Measure "
            "again with a known current; replace it if it stays.",
            drop,
            CONTACT_WORN * CONTACT_V,
            "v",
            parts=(f"guard.{name}",),
            at=name,
        )
