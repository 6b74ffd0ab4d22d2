"""What the Tune bolt judges by."""

from __future__ import annotations

from ninebolt.core.limits import Limit

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
