"""What may be wrong with a bike by what it does, and which readings each cause puts out. Weights and likelihoods are
common practice, no source."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike
from ninebolt.core.parts.base import Fitting


@dataclass(frozen=True, slots=True)
class Cause:
    """What may be wrong. symptoms: weight by symptom; wrong: chance that a reading is out, by place; one_of: exactly
    one of these readings is out."""

    key: str
    label: str
    repair: str
    symptoms: dict[str, float]
    wrong: dict[str, float]
    one_of: tuple[str, ...] = ()


SYMPTOMS = (
    "no movement", "stutters", "runs backwards", "cuts out under load", "slow or fades", "hot motor", "hot plug",
    "no throttle", "jolt on closing", "pushes on", "lag then lunge", "display wrong", "odd volts on an idle lead",
    "noise or creak",
)  # fmt: skip
CAUSES: tuple[Cause, ...] = (
    Cause("no-power", "No volts reach the controller",
          "follow them from the pack's plug: fuse, contactor or breaker, plug, key",
          {"no movement": 3, "no throttle": 1}, {"bus": 0.97}),
    Cause("pack-dead", "The pack itself gives nothing, or too little: its BMS is open, or it is flat",
          "read its groups before it is charged; one under 2 V is scrap",
          {"no movement": 2, "slow or fades": 1}, {"pack_rest": 0.97, "bus": 0.97}),
    Cause("held", "A safety input holds the drive", "free or mend it: brake switch, stand, tip-over, kill switch",
          {"no movement": 3, "no throttle": 2}, {"inputs": 0.95}),
    Cause("phase-open", "A phase lead or its joint is open, or hot",
          "open it, look for heat; make the joint anew, not just tight",
          {"stutters": 3, "no movement": 1, "slow or fades": 1, "cuts out under load": 1, "hot plug": 1},
          {"phase_ohm": 0.95}),
    Cause("heat-limit", "Motor or controller holds back, or stops, for heat",
          "let it cool; see in Drive what holds it and for how long",
          {"cuts out under load": 3, "slow or fades": 3, "hot motor": 1}, {"cool": 0.95}),
    Cause("coil-drops", "The contactor lets go: its coil is not fed as it pulls",
          "feed the coil from a converter that holds, look at key switch and joints",
          {"cuts out under load": 2}, {"coil_fed": 0.95}),
    Cause("phase-swap", "Two phase leads are swapped", "swap two phase leads back",
          {"runs backwards": 5, "stutters": 3, "no movement": 1}, {"phase_order": 0.97}),
    Cause("hall-order", "The halls stand in another order", "identify again, or move the wires",
          {"stutters": 4, "no movement": 2, "runs backwards": 2}, {"hall_sequence": 0.97}),
    Cause("hall-dead", "One hall gives nothing", "mend the hall's wire",
          {"no movement": 4, "stutters": 3}, {"hall_sequence": 0.95}, ("hall_1", "hall_2", "hall_3")),
    Cause("throttle-range", "The throttle never reaches its full reading", "measure and set its ends",
          {"slow or fades": 3, "no throttle": 2, "lag then lunge": 1}, {"throttle_full": 0.97}),
    Cause("throttle-wire", "A throttle wire is off", "mend the wire",
          {"no throttle": 5, "no movement": 2}, {"throttle_rest": 0.9, "throttle_full": 0.95}),
    Cause("weak-group", "One group has little left",
          "change the group; one that fell under its empty volts is not charged first",
          {"cuts out under load": 4, "slow or fades": 1}, {"group_spread": 0.9, "weakest_load": 0.97}),
    Cause("hot-plug", "A plug has high resistance", "replace the plug",
          {"hot plug": 6, "cuts out under load": 2, "slow or fades": 2}, {"plug_drop": 0.97}),
    Cause("bms-trip", "The BMS opens far too early", "replace the BMS",
          {"cuts out under load": 3}, {"trip": 0.97}),
    Cause("lvc-high", "The cut-off is set for another pack", "write this pack's set",
          {"cuts out under load": 2, "slow or fades": 1}, {"lvc_set": 0.97}),
    Cause("hot-motor", "The motor cannot shed its heat", "clean and refit its case",
          {"hot motor": 4, "slow or fades": 2}, {"case_rise": 0.97, "cool": 0.5}),
    Cause("dragging-brake", "The rear brake drags", "free the brake",
          {"slow or fades": 3, "hot motor": 2, "noise or creak": 2}, {"push": 0.97, "cool": 0.3}),
    Cause("slow-ramp", "The ramp when the hand shuts is slow", "set it to a tenth of a second",
          {"pushes on": 5}, {"ramp_down_set": 0.97}),
    Cause("creep", "Creep is set, or the throttle's rest is learned too low", "measure the throttle, set creep to none",
          {"pushes on": 3, "jolt on closing": 1}, {"throttle_rest": 0.3, "creep_set": 0.8}),
    Cause("hard-regen", "Motor braking comes in at once", "let it fade in, or take less",
          {"jolt on closing": 5}, {"regen_set": 0.95}),
    Cause("late-curve", "The throttle curve comes late", "a straighter curve",
          {"lag then lunge": 4}, {"curve_last": 0.95}),
    Cause("wheel-set", "Wheel, ratio or pole pairs are set wrong", "write the bike's own",
          {"display wrong": 6}, {"wheel_set": 0.95}),
    Cause("pick-up", "Nothing: an open lead beside live ones reads what it picks up", "do not use it as a supply",
          {"odd volts on an idle lead": 6}, {"loaded_lead": 0.97}),
    Cause("back-feed", "A lead is fed from somewhere", "find the feed before anything is joined to it",
          {"odd volts on an idle lead": 2}, {}),
    Cause("slack-chain", "The chain is slack, worn or out of line", "tension and line",
          {"noise or creak": 4, "jolt on closing": 1}, {"chain_slack": 0.95}),
    Cause("loose-bolt", "A mount or axle bolt has moved", "re-torque, paint the mark anew",
          {"noise or creak": 3}, {"witness": 0.95}),
)  # fmt: skip
BY_KEY = {c.key: c for c in CAUSES}


def cannot_be(bike: Bike) -> frozenset[str]:
    """Causes in parts that this bike says it has not."""
    b = bike.build
    g = b.guard

    def none(part: Fitting) -> bool:
        return part.there is False

    rows = (
        ("bms-trip", none(g.bms)),
        ("hot-plug", none(g.plug)),
        ("coil-drops", none(g.isolator) or g.isolator.kind != "contactor"),
        ("slack-chain", b.drive.motor.kind == "hub"),
    )
    return frozenset(key for key, out in rows if out)
