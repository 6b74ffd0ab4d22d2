"""What the Tune bolt judges by."""

from __future__ import annotations

from ninebolt.core.limits import Limit
from ninebolt.units import KM_H_PER_M_S

ROLLBACK_V_PER_CELL = Limit(0.15, "v", "roll-back begins this much above the cut-off, per cell")
OVER_FULL = Limit(1.02, "ratio", "over-voltage cut-off over full")
RAMP_S = Limit(0.15, "s", "least ramp for a drive that lunges")
CAP_SHARE = Limit(1.05, "ratio", "speed limit over the top speed computed")
FULL_SHARE = Limit(0.999, "ratio", "share of torque that counts as all of it")
EARLY_TWIST = Limit(0.9, "ratio", "twist before which all torque is too early")
PUSH_SHARE = Limit(0.02, "ratio", "torque at closed throttle that pushes on")
OVC_MOST = Limit(1.05, "ratio", "over-voltage cut-off over full, most")
RAMP_MOST_S = Limit(1.0, "s", "longest throttle ramp that still follows a hand")
MOTOR_BELOW_K = Limit(10.0, "k", "roll-back of the motor below its winding limit, least")
REGEN_USUAL = Limit(0.30, "ratio", "of the phase amps for braking with the throttle shut")
GENTLE_LINE = Limit(0.8, "ratio", "line amps of the gentle set over the chain's")
GENTLE_PHASE = Limit(0.75, "ratio", "phase amps of the gentle set over what they may be")
GENTLE_RAMP_S = Limit(0.3, "s", "throttle ramp of the gentle set, least")
TRIP_OVER = Limit(1.25, "ratio", "over-current trip over the peak phase amps")
STALL_S = Limit(1.0, "s", "full amps with the wheel held: one phase carries them all")
STALL_MOST_S = Limit(3.0, "s", "longest stall that a winding and its switches are asked to stand")
CONTROLLER_BELOW_K = Limit(10.0, "k", "roll-back of the controller below its own limit")
MOTOR_STOP_K = Limit(5.0, "k", "cut-out of the motor below its winding limit")
RAMP_DOWN_S = Limit(0.1, "s", "ramp when the hand shuts")
RAMP_DOWN_MOST_S = Limit(0.25, "s", "longest ramp-down that does not push the rider on")
FADE_M_S = Limit(1.4, "m_s", "walking pace, below which motor braking lets go")
FULL_TAPER_V = Limit(0.05, "v", "motor braking fades from this much under full, per cell")
HEADROOM_V = Limit(0.05, "v", "of the throttle's reading, inside what was measured at each end")
HALL_MOST_V = Limit(5.5, "v", "supply that most hall throttles stand")
FAULT_V = Limit(0.25, "v", "beyond the measured ends a reading is a fault: wire off, or short")
THROTTLE_SPAN_V = Limit(1.5, "v", "least travel of a throttle's reading that is still fine enough")
FIRST_PCT = Limit(30.0, "pct", "of the power in the mode for a first ride")
FIRST_M_S = Limit(25.0 / KM_H_PER_M_S, "m_s", "speed in the mode for a first ride")
ROAD_PCT = Limit(70.0, "pct", "of the power in the mode for the road")
FIRST_RAMP_S = Limit(0.6, "s", "throttle ramp in the mode for a first ride")
BYPASS_V = Limit(0.1, "v", "per cell, on the cut-off of a pack whose BMS is bypassed")
LATE_SHARE = Limit(
    0.4, "ratio", "of all torque that comes in the last fifth of the twist: a late lunge"
)
STEEP_TWIST = Limit(
    0.3, "ratio", "twist before which the ground ends the thrust: too steep to start with"
)
STOP_LEAST_C = Limit(70.0, "c", "motor temperature under which a stop comes on a warm day")
BOX_LEAST_C = Limit(50.0, "c", "the same of the controller, for its roll-back")
BROKEN_V = Limit(0.2, "v", "throttle reading under which a wire is off")
TRIP_LEAST = Limit(1.05, "ratio", "over-current trip over the phase amps set, least")
EDGE_LEAST_DEG = Limit(
    20.0, "deg", "least gap of two hall edges, which lie 60° apart on a good ring"
)
DEAD_MOST_PCT = Limit(10.0, "pct", "of the twist that may do nothing at rest")
STALL_LEAST_S = Limit(0.2, "s", "a stall that ends sooner than a hard start begins")
CRAWL_M_S = Limit(1.4, "m_s", "walking pace: a cap under it is a bike that does not ride")
HARDLY_A = Limit(5.0, "a", "line or phase amps that move no bike")
NO_AMPS_A = Limit(0.1, "a", "what no amps at all are reckoned as: a share of them stays a number")
CRAWL_PCT = Limit(5.0, "pct", "of the power: under it no mode moves a bike")
SAME_SPEED = Limit(
    0.05, "ratio", "circumference or ratio in a controller against the bike's, for the display"
)
SAME_MOTOR = Limit(0.25, "ratio", "resistance or inductance in a controller against the motor's")
SAME_KV = Limit(0.05, "ratio", "KV in a controller against the motor's")
SAME_AH = Limit(0.15, "ratio", "capacity in a controller against the pack's, for the charge scale")
FACT_OFF = {
    "wheel_m": SAME_SPEED, "ratio": SAME_SPEED, "r_phase_ohm": SAME_MOTOR, "l_phase_henry": SAME_MOTOR,
    "kv_rpm_v": SAME_KV, "capacity_ah": SAME_AH,
}  # fmt: skip
