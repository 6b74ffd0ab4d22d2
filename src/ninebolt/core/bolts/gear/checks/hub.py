"""Findings on a hub motor's axle: does it turn in its dropouts?"""

from __future__ import annotations

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.gear.chassis import hub_hold
from ninebolt.core.bolts.gear.limits import HUB_PLAIN_NM, HUB_STOP
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Change, Fix, Source, q

FLATS = Source("computed", "pressure on the flats, half of what the metal stands; nut not counted")


@check("gear.hub", "a hub turns harder than its dropouts hold", parts=("gear.hub",), source=FLATS)
def held(bike: Bike) -> Says | None:
    found, hub = hub_hold(bike), bike.build.gear.hub
    if found is None or found.holds_nm is None or found.torque_nm <= found.holds_nm:
        return None
    each = (found.holds_nm - (found.alone_nm or 0.0)) / hub.arms if hub.arms else 0.0
    arms = next(
        (n for n in (1, 2, 3, 4) if each and (found.alone_nm or 0) + n * each >= found.torque_nm), 0
    )
    more = Fix(f"{arms} torque arms", (Change("gear.hub.arms", arms),)) if arms else None
    first = Fix("Two torque arms", (Change("gear.hub.arms", 2),))
    turns = found.torque_nm > HUB_STOP * found.holds_nm
    return Says(
        "stop" if turns else "caution",
        "The axle turns out of its dropouts"
        if turns
        else "The axle is near turning in its dropouts",
        f"The hub pulls {q(found.torque_nm, 'nm')}; {hub.metal} dropouts hold {q(found.alone_nm or 0.0, 'nm')}, with "
        f"{hub.arms or 'no'} torque arms {q(found.holds_nm, 'nm')}. When it turns it tears its leads off and drops "
        "the wheel. Regeneration works them both ways: one arm a side, without play.",
        found.torque_nm,
        found.holds_nm,
        "nm",
        fixes=((more,) if more else (first,) if not hub.arms else ()),
    )


@check("gear.hub_open", "nobody has measured a hub's dropouts", parts=("gear.hub",))
def dropouts_open(bike: Bike) -> Says | None:
    found, hub = hub_hold(bike), bike.build.gear.hub
    if found is None or found.holds_nm is not None:
        return None
    none = hub.arms == 0 or hub.arms is None
    weighty = found.torque_nm > HUB_PLAIN_NM and none
    said = hub.arms == 0
    return Says(
        "stop" if weighty and said else "caution" if found.torque_nm > HUB_PLAIN_NM else "note",
        "Do the dropouts hold the hub?",
        f"It pulls {q(found.torque_nm, 'nm')} against its dropouts, "
        + (
            "and there is no torque arm"
            if said
            else f"torque arms: {hub.arms if hub.arms else 'not said'}"
        )
        + f". Above {q(HUB_PLAIN_NM, 'nm')} arms belong on any. Measure flats and dropouts to see what they hold.",
        found.torque_nm,
        HUB_PLAIN_NM,
        "nm",
        fixes=(Fix("Two torque arms", (Change("gear.hub.arms", 2),)),) if said else (),
    )
