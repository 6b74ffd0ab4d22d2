"""Every reading that the fault finder asks for, with what it must be on this bike."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.battery.ocv import interpolator
from ninebolt.core.bike.cells import cell_curve, cell_r0_ohm
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.mass import total_kg
from ninebolt.core.limits import Limit
from ninebolt.core.parts.goal import ground_crr
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
    wants: str = ""  # what the build must say, so that there is a bound

    @property
    def unknown(self) -> bool:
        """Nobody knows what it must be."""
        return self.low is None and self.high is None

    def wrong(self, value: float) -> bool:
        return (self.low is not None and value < self.low) or (
            self.high is not None and value > self.high
        )


def _yes(key: str, label: str, how: str, *, effort: float = 1, word: str = "yes") -> Place:
    """A reading that is a yes or a no."""
    return Place(key, f"{label}, 1 = {word}", "ratio", 0.5, None, effort, how)


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
                "the pack's cells in series and their kind",
            ),
            Place(
                "bus",
                "Volts at the controller",
                "v",
                low,
                None,
                1,
                "at its own terminals, key on, insulated probes, hands off",
                "the pack's cells in series and their kind",
            ),
            _yes(
                "inputs",
                "No safety input holds the drive",
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
                "the pack's cells in series and their kind",
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
            *(
                Place(
                    f"hall_{i}",
                    f"Hall {i}, wheel turned by hand, mean",
                    "v",
                    float(HALL_LOW_V),
                    float(HALL_HIGH_V),
                    1,
                    "each hall wire against ground, wheel free",
                )
                for i in (1, 2, 3)
            ),
            _yes(
                "hall_sequence",
                "Halls step in the order that the controller holds",
                "an identification, or three lamps on the halls",
            ),
            _yes(
                "phase_order",
                "Back-EMF follows the halls",
                "an identification, or two probes on a drill",
                effort=2,
            ),
            Place(
                "phase_ohm",
                "Two phases, ohms",
                "ohm",
                None if ohm is None else 2 * ohm * (1 - OHM_SHARE),
                None if ohm is None else 2 * ohm * (1 + OHM_SHARE),
                2,
                "leads off, by a known current, each pair",
                "the motor's phase resistance",
            ),
            _yes(
                "cool",
                "Motor and controller cooler than where their roll-back starts, as it happens",
                "live view or log, a fault code; Tune says where it starts",
            ),
            _yes(
                "coil_fed",
                "The coil keeps its volts while it pulls",
                "a meter on the coil, held on a hill or brake, a second person reads",
                effort=2,
            ),
            Place(
                "push",
                "Wheel by hand, bike off: newtons at the tyre",
                "n",
                None,
                push,
                1,
                "a luggage scale at the rim, wheel free; on the road: push the bike",
                "the mass of bike and rider",
            ),
            Place(
                "trip",
                "Amps at which the BMS opened, on a load bank",
                "a",
                None if amps is None else TRIP_SHARE * amps,
                None,
                3,
                "pack on a bench, a load bank, a clamp; nobody near the plug",
                "the BMS's continuous amps",
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
            _yes(
                "lvc_set",
                "Cut-off in the controller over this pack's",
                "Tune: compare with the controller",
                word="right",
            ),
            _yes(
                "ramp_down_set",
                "Ramp on closing at most a quarter second",
                "Tune: compare with the controller",
            ),
            _yes("creep_set", "No creep set", "Tune: compare with the controller"),
            _yes(
                "regen_set",
                "Motor braking within what Tune gives",
                "Tune: compare with the controller",
            ),
            _yes("curve_last", "Curve without a late step", "Tune: the curve"),
            _yes(
                "wheel_set",
                "Wheel, ratio and pole pairs as the bike's",
                "Tune: compare with the controller",
            ),
            _yes(
                "loaded_lead",
                "The lead keeps its volts with a lamp across it",
                "a 12 V lamp between lead and ground",
            ),
            _yes(
                "chain_slack",
                "Chain slack and line within limits",
                "Gear: chain; a straight edge on the sprockets",
            ),
            _yes("witness", "Every painted mark is whole", "a lamp and a minute"),
        )
    }
