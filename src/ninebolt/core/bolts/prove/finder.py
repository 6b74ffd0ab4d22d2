"""The fault finder: from a symptom and a few readings to the cause, asking for the reading that tells most.

Each cause makes some readings wrong; a reading that stays right speaks against it. Weights and likelihoods are common
practice, no source. What a reading must be comes from the build.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ninebolt.core.battery.ocv import interpolator
from ninebolt.core.bike.cells import cell_curve, cell_r0_ohm
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.mass import total_kg
from ninebolt.core.limits import Limit
from ninebolt.core.parts.goal import ground_crr
from ninebolt.errors import InputError
from ninebolt.units import GRAVITY_M_S2

GRIP_V = Limit(0.15, "v", "that the throttle's ends may be off what was measured before")
REST_LOW_V, REST_HIGH_V, FULL_LOW_V, FULL_HIGH_V = (
    0.6,
    1.1,
    3.5,
    4.5,
)  # a hall grip on 5 V; common practice
PLUG_V = Limit(0.15, "v", "across a plug at 30 A: 5 mΩ, more is a joint that heats")
SPREAD_V = Limit(0.1, "v", "between groups at rest")
LOAD_A = Limit(30.0, "a", "at which groups and plug are looked at")
HALL_LOW_V = Limit(0.8, "v", "mean of a hall's square wave, least")
HALL_HIGH_V = Limit(4.2, "v", "mean of a hall's square wave, most")
OHM_SHARE = Limit(0.2, "ratio", "that two phases may be off what the motor has")
PUSH_SHARE = Limit(2.0, "ratio", "of the rolling resistance, before something drags")
TRIP_SHARE = Limit(0.9, "ratio", "of its continuous amps, under which a BMS opens too early")
RISE_K = Limit(5.0, "k", "of the case after ten seconds at 50 A")
SURE = Limit(0.75, "ratio", "share of one cause at which it is named")
WRONG_ANYWAY = 0.03  # chance that a reading misleads
CERTAIN = 0.97
PROVES = 0.25
LITTLE = 0.01  # bits; below that a reading tells nothing


@dataclass(frozen=True, slots=True)
class Place:
    """A reading: where, what it must be, how much work it is (1: a look; 3: parts come off). low, high: None where
    there is no bound."""

    key: str
    label: str
    quantity: str
    low: float | None
    high: float | None
    effort: float
    how: str

    def wrong(self, value: float) -> bool:
        return (self.low is not None and value < self.low) or (
            self.high is not None and value > self.high
        )


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


@dataclass(frozen=True, slots=True)
class Suspect:
    """A cause with its share of what is likely."""

    key: str
    label: str
    repair: str
    share: float


@dataclass(frozen=True, slots=True)
class Hunt:
    """Where the search stands: suspects, likeliest first; the reading to take next, None when one is sure or nothing
    tells more; what each reading so far said."""

    suspects: tuple[Suspect, ...]
    next: Place | None
    found: bool
    said: tuple[str, ...]


SYMPTOMS = (
    "no movement", "stutters", "runs backwards", "cuts out under load", "slow or fades", "hot motor", "hot plug",
    "no throttle", "jolt on closing", "pushes on", "lag then lunge", "display wrong", "odd volts on an idle lead",
    "noise or creak",
)  # fmt: skip
CAUSES: tuple[Cause, ...] = (
    Cause("no-power", "No volts reach the controller", "follow them from the pack: BMS, fuse, contactor, plug, key",
          {"no movement": 3, "no throttle": 1}, {"bus": 0.97}),
    Cause("held", "A safety input holds the drive", "free or mend it: brake switch, stand, tip-over, kill switch",
          {"no movement": 3, "no throttle": 2}, {"inputs": 0.95}),
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
    Cause("weak-group", "One group has little left", "change the group",
          {"cuts out under load": 4, "slow or fades": 1}, {"group_spread": 0.9, "weakest_load": 0.97}),
    Cause("hot-plug", "A plug has high resistance", "replace the plug",
          {"hot plug": 6, "cuts out under load": 2, "slow or fades": 2}, {"plug_drop": 0.97}),
    Cause("bms-trip", "The BMS opens far too early", "replace the BMS",
          {"cuts out under load": 3}, {"trip": 0.97}),
    Cause("lvc-high", "The cut-off is set for another pack", "write this pack's set",
          {"cuts out under load": 2, "slow or fades": 1}, {"lvc_set": 0.97}),
    Cause("hot-motor", "The motor cannot shed its heat", "clean and refit its case",
          {"hot motor": 4, "slow or fades": 2}, {"case_rise": 0.97}),
    Cause("dragging-brake", "The rear brake drags", "free the brake",
          {"slow or fades": 3, "hot motor": 2, "noise or creak": 2}, {"push": 0.97}),
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


def places(bike: Bike) -> dict[str, Place]:
    """Every reading with what it must be on this bike."""
    b = bike.build
    t, m, pack = b.tune, b.drive.motor, b.pack
    rest, full = t.throttle_rest_v.amount, t.throttle_full_v.amount
    low = high = sag = None
    if pack.series and cell_curve(pack.cell):
        volts = interpolator(cell_curve(pack.cell))
        low, high = pack.series * volts(0.0), pack.series * volts(1.0)
        each = LOAD_A * cell_r0_ohm(pack) / (pack.parallel or 1)
        sag = volts(0.2) - (0.0 if math.isnan(each) else each) - SPREAD_V
    ohm = m.r_phase_ohm.amount
    kg = total_kg(b)
    push = (
        None if math.isnan(kg) else kg * GRAVITY_M_S2 * ground_crr(b.road.crr, b.goal) * PUSH_SHARE
    )
    amps = b.guard.bms.i_cont_a.amount
    return {
        p.key: p
        for p in (
            Place(
                "pack_rest",
                "Pack volts, nothing drawn",
                "v",
                low,
                high,
                1,
                "at the pack's plug, key off",
            ),
            Place(
                "bus",
                "Volts at the controller",
                "v",
                low,
                None,
                1,
                "at its own terminals, key on, insulated probes, hands off",
            ),
            Place(
                "inputs",
                "No safety input holds the drive, 1 = yes",
                "ratio",
                0.5,
                None,
                1,
                "lever let go, stand up, kill switch on: live view, or a meter at each input",
            ),
            Place(
                "group_spread",
                "Greatest minus least group, nothing drawn",
                "v",
                None,
                float(SPREAD_V),
                1,
                "by the BMS or at the balance plug, an hour after a ride",
            ),
            Place(
                "weakest_load",
                "Weakest group at 30 A",
                "v",
                sag,
                None,
                2,
                "held on the brake of a dynamometer or a hill, a second person reads",
            ),
            Place(
                "plug_drop",
                "Volts across the plug at 30 A",
                "v",
                None,
                float(PLUG_V),
                2,
                "one probe on each side of the joint",
            ),
            Place(
                "throttle_rest",
                "Throttle signal, hand off",
                "v",
                REST_LOW_V if rest is None else rest - GRIP_V,
                REST_HIGH_V if rest is None else rest + GRIP_V,
                1,
                "signal wire against its ground, wheel free",
            ),
            Place(
                "throttle_full",
                "Throttle signal, full twist",
                "v",
                FULL_LOW_V if full is None else full - GRIP_V,
                FULL_HIGH_V if full is None else full + GRIP_V,
                1,
                "the same, twisted to its stop, wheel free",
            ),
            Place(
                "hall_1",
                "Hall 1, wheel turned by hand, mean",
                "v",
                float(HALL_LOW_V),
                float(HALL_HIGH_V),
                1,
                "each hall wire against ground, wheel free",
            ),
            Place(
                "hall_2",
                "Hall 2, wheel turned by hand, mean",
                "v",
                float(HALL_LOW_V),
                float(HALL_HIGH_V),
                1,
                "each hall wire against ground, wheel free",
            ),
            Place(
                "hall_3",
                "Hall 3, wheel turned by hand, mean",
                "v",
                float(HALL_LOW_V),
                float(HALL_HIGH_V),
                1,
                "each hall wire against ground, wheel free",
            ),
            Place(
                "hall_sequence",
                "Halls step in the order that the controller holds, 1 = yes",
                "ratio",
                0.5,
                None,
                1,
                "an identification, or three lamps on the halls",
            ),
            Place(
                "phase_order",
                "Back-EMF follows the halls, 1 = yes",
                "ratio",
                0.5,
                None,
                2,
                "an identification, or two probes on a drill",
            ),
            Place(
                "phase_ohm",
                "Two phases, ohms",
                "ohm",
                None if ohm is None else 2 * ohm * (1 - OHM_SHARE),
                None if ohm is None else 2 * ohm * (1 + OHM_SHARE),
                2,
                "leads off, by a known current",
            ),
            Place(
                "push",
                "Wheel by hand, bike off: newtons at the tyre",
                "n",
                None,
                push,
                1,
                "a luggage scale at the rim, wheel free; on the road: push the bike",
            ),
            Place(
                "trip",
                "Amps at which the BMS opened, on a load bank",
                "a",
                None if amps is None else TRIP_SHARE * amps,
                None,
                3,
                "pack on a bench, a load bank, a clamp; nobody near the plug",
            ),
            Place(
                "case_rise",
                "Case of the motor after 10 s at 50 A, rise",
                "k",
                None,
                float(RISE_K),
                2,
                "a contact thermometer on its case",
            ),
            Place(
                "lvc_set",
                "Cut-off in the controller over this pack's, 1 = right",
                "ratio",
                0.5,
                None,
                1,
                "Tune: compare with the controller",
            ),
            Place(
                "ramp_down_set",
                "Ramp on closing at most a quarter second, 1 = yes",
                "ratio",
                0.5,
                None,
                1,
                "Tune: compare with the controller",
            ),
            Place(
                "creep_set",
                "No creep set, 1 = yes",
                "ratio",
                0.5,
                None,
                1,
                "Tune: compare with the controller",
            ),
            Place(
                "regen_set",
                "Motor braking within what Tune gives, 1 = yes",
                "ratio",
                0.5,
                None,
                1,
                "Tune: compare with the controller",
            ),
            Place(
                "curve_last",
                "Curve without a late step, 1 = yes",
                "ratio",
                0.5,
                None,
                1,
                "Tune: the curve",
            ),
            Place(
                "wheel_set",
                "Wheel, ratio and pole pairs as the bike's, 1 = yes",
                "ratio",
                0.5,
                None,
                1,
                "Tune: compare with the controller",
            ),
            Place(
                "loaded_lead",
                "The lead keeps its volts with a lamp across it, 1 = yes",
                "ratio",
                0.5,
                None,
                1,
                "a 12 V lamp between lead and ground",
            ),
            Place(
                "chain_slack",
                "Chain slack and line within limits, 1 = yes",
                "ratio",
                0.5,
                None,
                1,
                "Gear: chain; a straight edge on the sprockets",
            ),
            Place(
                "witness",
                "Every painted mark is whole, 1 = yes",
                "ratio",
                0.5,
                None,
                1,
                "a lamp and a minute",
            ),
        )
    }


def hunt(bike: Bike, symptom: str, readings: Sequence[tuple[str, float]]) -> Hunt:
    """Suspects after the readings (place, value), and what to read next. Raises InputError for a symptom or place that
    is none."""
    if symptom not in SYMPTOMS:
        raise InputError(
            "This is no symptom.", where="symptom", got=symptom[:40], expected=", ".join(SYMPTOMS)
        )
    at = places(bike)
    shares = {c.key: c.symptoms[symptom] for c in CAUSES if symptom in c.symptoms}
    shares = _whole(shares)
    said: list[str] = []
    right: frozenset[str] = frozenset()
    for key, value in readings:
        if key not in at:
            raise InputError(
                "There is no such reading.", where="readings", got=key[:40], expected=", ".join(at)
            )
        if not math.isfinite(value):
            raise InputError("A reading is a number.", where=key, got=repr(value))
        out = at[key].wrong(value)
        shares = _after(shares, key, out, right)
        right = right if out else right | {key}
        said.append(f"{at[key].label}: {'not as it must be' if out else 'as it must be'}")
    ranked = sorted(shares.items(), key=lambda s: -s[1])
    suspects = tuple(
        Suspect(k, BY_KEY[k].label, BY_KEY[k].repair, s) for k, s in ranked if s > 0.01
    )
    done = {k for k, _ in readings}
    left = [p for k, p in at.items() if k not in done]
    if not suspects:
        return Hunt(suspects, None, False, tuple(said))
    if suspects[0].share < SURE:
        ask = _best(shares, left, right) or _proof(suspects[0].key, left, right)
        return Hunt(suspects, ask, False, tuple(said))
    proof = _proof(suspects[0].key, left, right)
    seen = any(k not in right and _chance(suspects[0].key, k, right) > PROVES for k in done)
    bare = (
        not BY_KEY[suspects[0].key].wrong and not BY_KEY[suspects[0].key].one_of
    )  # nothing could show it
    return Hunt(suspects, None if seen else proof, seen or bare, tuple(said))


def _proof(cause: str, left: list[Place], right: frozenset[str]) -> Place | None:
    """The reading that would show this cause itself: what is only left over is not yet found."""
    rows = [p for p in left if _chance(cause, p.key, right) > PROVES]
    return max(rows, key=lambda p: _chance(cause, p.key, right) / p.effort, default=None)


BY_KEY = {c.key: c for c in CAUSES}


def _chance(cause: str, place: str, right: frozenset[str]) -> float:
    """Chance that a reading is out, given a cause and the readings that were as they must be."""
    c = BY_KEY[cause]
    if place in c.one_of:
        left = [p for p in c.one_of if p not in right]
        return CERTAIN / len(left) if left else WRONG_ANYWAY
    return c.wrong.get(place, WRONG_ANYWAY)


def _after(
    shares: dict[str, float], place: str, out: bool, right: frozenset[str]
) -> dict[str, float]:
    """Bayes: what each share is after a reading."""
    chances = {k: _chance(k, place, right) for k in shares}
    return _whole({k: s * (chances[k] if out else 1.0 - chances[k]) for k, s in shares.items()})


def _whole(shares: dict[str, float]) -> dict[str, float]:
    total = sum(shares.values())
    return {k: s / total for k, s in shares.items()} if total > 0 else shares


def _doubt(shares: dict[str, float]) -> float:
    """Shannon's entropy, bits."""
    return -sum(s * math.log2(s) for s in shares.values() if s > 0)


def _best(shares: dict[str, float], left: list[Place], right: frozenset[str]) -> Place | None:
    """The reading that is expected to take away most doubt for its effort."""
    now = _doubt(shares)
    rows = [(_gain(shares, p.key, now, right) / p.effort, -i, p) for i, p in enumerate(left)]
    most = max(rows, key=lambda r: r[:2], default=None)
    return most[2] if most and most[0] > LITTLE else None


def _gain(shares: dict[str, float], place: str, now: float, right: frozenset[str]) -> float:
    out = sum(s * _chance(k, place, right) for k, s in shares.items())
    if not 0.0 < out < 1.0:
        return 0.0
    after = out * _doubt(_after(shares, place, True, right)) + (1 - out) * _doubt(
        _after(shares, place, False, right)
    )
    return now - after
