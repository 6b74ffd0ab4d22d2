"""Warmth of the cells along the session that is planned, and along a longer one."""

from __future__ import annotations

from ninebolt.core.battery.heat import repeated
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.session import lump_j_k, session_rows
from ninebolt.core.bolts.pack.limits import MOST_RUNS
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Source, q


@check(
    "pack.session_heat",
    "the cells get too hot in the planned session",
    parts=("pack", "goal"),
    source=Source("computed", "one lump with Newton cooling"),
)
def session_heat(bike: Bike) -> Says | None:
    rows, limit = session_rows(bike), bike.build.pack.cell.temp_max_c.taken
    over = next((i for i, r in enumerate(rows) if r.pack_c > limit), None)
    if over is None:
        return None
    return Says(
        "stop",
        "The cells get too hot in the session",
        f"In run {over + 1} they pass {q(limit, 'c')}. Rest longer, fewer runs, or more cells in "
        "parallel.",
        rows[over].pack_c,
        limit,
        "c",
    )


@check(
    "pack.session_long",
    "a session until the pack is empty would overheat the cells",
    parts=("pack",),
    source=Source("computed", "one lump with Newton cooling, equal runs"),
)
def session_long(bike: Bike) -> Says | None:
    rows, pack, lump = session_rows(bike), bike.build.pack, lump_j_k(bike.build)
    limit, start = pack.cell.temp_max_c.taken, pack.temp_c.taken
    if not rows or lump is None or any(r.pack_c > limit for r in rows):
        return None
    spent = (pack.start_soc.taken - rows[-1].soc) / len(rows)
    count = int(pack.start_soc.taken / spent) if spent > 0 else len(rows)
    temps = repeated(
        start,
        start,
        [(rows[0].pack_c - start) * lump] * min(count, MOST_RUNS),
        bike.build.goal.rest_s.taken,
        lump,
        pack.air_k_w.taken,
    )
    over = next((i for i, t in enumerate(temps, 1) if t > limit), None)
    if over is None:
        return None
    return Says(
        "note",
        "A longer session would overheat the cells",
        f"{len(rows)} runs end at {q(rows[-1].pack_c, 'c')}; the charge lasts for {count}, but in run "
        f"{over} they would pass {q(limit, 'c')}.",
        temps[-1],
        limit,
        "c",
    )
