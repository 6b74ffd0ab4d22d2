"""What the Donor bolt judges by."""

from __future__ import annotations

from ninebolt.core.limits import Limit

SCALE_SHARE = Limit(0.003, "ratio", "scale and ledger nearer than this agree")
SCALE_CAUTION = Limit(0.02, "ratio", "scale and ledger further apart: something is missing")
CENTRE_SHARE = Limit(0.02, "ratio", "front share of runs and ledger nearer than this agree")
CENTRE_M = Limit(0.05, "m", "height of runs and ledger nearer than this agree")
LIGHT_FRONT = Limit(0.38, "ratio", "ridden front share under which steering goes light")
HEAVY_FRONT = Limit(0.60, "ratio", "ridden front share over which the rear lifts when braking")
HIGH_M = Limit(1.0, "m", "ridden centre of mass above which it tips and lifts early")
POWER_WATCH = Limit(1.1, "ratio", "pull over what chain and sprockets were made for: watch")
POWER_BEFORE = Limit(1.3, "ratio", "the same: change before riding")
WHEEL_WATCH = Limit(1.3, "ratio", "pull over what wheels and mounts held: watch")
WHEEL_BEFORE = Limit(1.8, "ratio", "the same: change before riding")
MASS_WATCH = Limit(1.02, "ratio", "ridden mass over what fork and shock were made for: watch")
MASS_BEFORE = Limit(1.08, "ratio", "the same: change before riding")
SPEED_WATCH = Limit(0.95, "ratio", "top speed over what the tyres stand: watch")
SPEED_BEFORE = Limit(1.0, "ratio", "the same: change before riding")
FRAME_WEAK = Limit(1.3, "ratio", "power over what a frame was made for: chain, mounts and wheels")
FRAME_OPEN = Limit(2.0, "ratio", "power over what a frame was made for: only with work")
FRAME_NO = Limit(4.0, "ratio", "power over what a frame was made for: no")
MOTOR_NO = Limit(8.0, "ratio", "planned power over a salvaged motor's label: no")
ODD_LABEL = (
    Limit(0.85, "ratio", "a label's volts a cell over its chemistry's nominal ones, lower end"),
    Limit(1.20, "ratio", "the same, upper end: some labels give the full pack's"),
)
UNPLACED_KG = Limit(4.0, "kg", "of ledger lines without a place from which on the centre is open")
RULES_DAYS = Limit(365.0, "ratio", "days after which rules are to be looked up again")
BAY_BEYOND_M = Limit(0.3, "m", "how far past either axle the middle of a bay may lie")
SPREAD_V = Limit(0.030, "v", "group spread of a sound pack at rest")
SAME_PART = Limit(
    0.25, "ratio", "a ledger line this near to a fitted part's mass is that part again"
)
STOCK_OFF = Limit(1.35, "ratio", "measured over computed of the stock bike, or the reverse")
STOCK_RANGE_OFF = Limit(2.0, "ratio", "the same of its range: riding decides most of it")
MADE_OFF = Limit(2.5, "ratio", "typed as made for, over what the stock bike had")
