"""What the Gear bolt judges by."""

from __future__ import annotations

from ninebolt.core.finding import Source
from ninebolt.core.limits import Limit

CHAIN_MAX_M_S = Limit(35.0, "m_s", "roller chain on open drives")
MORE_PUSH = Limit(1.05, "ratio", "thrust off the line over what lifts the front, worth a word")
CHAIN_WATCH = Limit(5.0, "ratio", "tensile strength of a chain over its hardest pull: watch")
CHAIN_STOP = Limit(3.0, "ratio", "the same: it will snap")
BELT_WATCH = Limit(1.5, "ratio", "allowed pull of a belt over its hardest one: no room for shocks")
BELT_STOP = Limit(1.0, "ratio", "the same: it is pulled harder than allowed")
MESH_WATCH = Limit(6.0, "count", "teeth of the front pulley that hold a belt: under it they shear")
MESH_STOP = Limit(4.0, "count", "the same: the belt jumps")
SLOT_MOST_M = Limit(0.06, "m", "no axle slot is longer")
AXLE_STAYS_M = Limit(0.001, "m", "axle movement that needs no room")
CHAIN_LINE_M = Limit(0.002, "m", "chain line out by more wears and throws the chain")
TENSILE_SOURCE = Source("memory", "least tensile strengths of ISO 10190, from memory")
LENGTH_SOURCE = Source("standard", "chain length after ISO 606")
RADIUS_OFF = Limit(0.08, "ratio", "measured rolling radius off the one of the size on the wall")
RIM_LEAST = Limit(0.50, "ratio", "width of a rim over its tyre's section, least")
RIM_MOST = Limit(0.80, "ratio", "width of a rim over its tyre's section, most")
GAP_M = Limit(0.006, "m", "room beside a tyre on each side, for its growth and a bent rim")
OVER_M = Limit(0.008, "m", "room that is left over a tyre at speed, for stones and a bent rim")
AXLE_WATCH = Limit(0.95, "ratio", "load on an axle over what its tyre carries: watch")
SAG_SHARE = Limit(0.30, "ratio", "sag with the rider on over the travel, aimed at")
SAG_DEEP_M = Limit(0.12, "m", "sag of the longest travels there are, most")
SAG_FRONT = (Limit(0.18, "ratio", "front sag, least"), Limit(0.36, "ratio", "front sag, most"))
SAG_REAR = (Limit(0.23, "ratio", "rear sag, least"), Limit(0.40, "ratio", "rear sag, most"))
SPRUNG_MORE = Limit(1.05, "ratio", "weight on springs over the donor's, worth another spring")
TRAIL_LEAST_M = Limit(0.075, "m", "trail under which a bike shakes its head")
TRAIL_STOP_M = Limit(
    0.03, "m", "trail that no longer turns the wheel back: common practice, no source"
)
TRAIL_MOST_M = Limit(0.135, "m", "trail over which it flops into turns")
RAKE_USUAL_DEG = Limit(27.0, "deg", "rake of most off-road bikes: common practice, no source")
RAKE_MOVED_DEG = Limit(1.0, "deg", "change of the head angle that is felt")
CLEARANCE_LEAST_M = Limit(0.15, "m", "ground clearance for more than a road")
BOOT_M = Limit(0.03, "m", "soles of riding boots")
TIPTOE_M = Limit(-0.05, "m", "leg short of the ground on both sides by more: tiptoe")
NO_FOOT_M = Limit(-0.15, "m", "leg short by more: a foot does not reach without sliding off")
HUB_PLAIN_NM = Limit(40.0, "nm", "hub torque from which torque arms belong on any dropout")
HUB_STOP = Limit(2.0, "ratio", "hub torque over what flats and arms hold: the axle turns")
RATIO_OFF = Limit(0.02, "ratio", "a typed ratio against the teeth's")
ROTOR_OF_WHEEL = Limit(
    0.72, "ratio", "brake rotor over the wheel's diameter: beyond it there is the rim"
)
