"""Volts of the pack under load: what they say of its resistance, and when they cannot be believed."""

from __future__ import annotations

import math

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.pack.limits import SAG_READ_LESS, SAG_READ_MORE, SAG_READ_STOP, SAG_READ_V
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Source, q


@check("pack.loaded_up", "the pack's volts under load are not below those at rest", parts=("pack",))
def loaded_up(bike: Bike) -> Says | None:
    pack = bike.build.pack
    rest, loaded, amps = pack.rested_v.amount, pack.loaded_v.amount, pack.loaded_a.amount
    if rest is None or loaded is None or not (amps or 0.0) > 0.0 or loaded < rest:
        return None
    return Says(
        "caution",
        "The volts rise under load",
        f"{q(loaded, 'v')} with {q(amps or 0.0, 'a')} drawn, {q(rest, 'v')} at rest: the readings are swapped, or "
        "not of one moment. Neither is believed; read both again.",
        loaded,
        rest,
        "v",
    )


@check("pack.loaded_open", "volts under load without the current that loads it", parts=("pack",))
def loaded_open(bike: Bike) -> Says | None:
    pack = bike.build.pack
    loaded, amps = pack.loaded_v, pack.loaded_a
    if loaded.known == amps.known:
        return None
    has, lacks = ("volts", "amps") if loaded.known else ("amps", "volts")
    return Says(
        "caution",
        f"The {has} under load say nothing without the {lacks}",
        f"Read both at the same moment: {lacks} beside {has} give the pack's resistance, and its charge.",
        0.0,
        1.0,
    )


@check(
    "pack.sag_read",
    "the pack sags by more, or less, under load than its cells and joints do",
    parts=("pack",),
    source=Source(
        "computed",
        "ohms = volts at rest less volts under load, over amps; against the cells' sheet",
    ),
)
def sag_read(bike: Bike) -> Says | None:
    pack, facts = bike.build.pack, pack_facts(bike)
    rest, loaded, amps = pack.rested_v.amount, pack.loaded_v.amount, pack.loaded_a.amount
    if facts is None or rest is None or loaded is None or not amps or math.isnan(facts.r_ohm):
        return None
    read, open_ohm = (rest - loaded) / amps, SAG_READ_V * (pack.series or 1) / amps
    spread = pack.cell.r0_ohm.spread
    most, least = (facts.r_ohm + facts.slow_ohm) * (1.0 + spread), facts.r_ohm * (1.0 - spread)
    if read < 0.0 or SAG_READ_LESS * least - open_ohm <= read <= SAG_READ_MORE * most + open_ohm:
        return None
    more = read > most
    watts = (read - facts.r_ohm) * amps**2
    return Says(
        "stop" if more and read > SAG_READ_STOP * most + open_ohm else "caution",
        "The pack sags more than its cells do" if more else "The pack sags less than its cells can",
        f"{q(rest, 'v')} at rest, {q(loaded, 'v')} with {q(amps, 'a')}: {q(read, 'ohm')}, where cells and joints "
        + (
            f"come to {q(most, 'ohm')} at most. {q(watts, 'w')} go somewhere else: feel the joints, read "
            "every group under load, measure cold cells warm."
            if more
            else f"come to {q(least, 'ohm')} at least. The readings are not of one moment, or the amps "
            "are not the pack's."
        ),
        read,
        most if more else least,
        "ohm",
    )
