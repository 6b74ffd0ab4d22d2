"""What the Drive bolt judges by."""

from __future__ import annotations

from ninebolt.core.limits import Limit

CEILING_SHARE = Limit(0.93, "ratio", "full pack over the controller's ceiling: regen adds to it")
PHASE_SLACK = Limit(1.001, "ratio", "phase amps over the motor's, rounding allowed")
PHASE_STOP = Limit(1.3, "ratio", "phase amps over the motor's from where on it is a stop")
LINE_STOP = Limit(1.5, "ratio", "line amps set over the controller's rating: stop")
LVC_LOW_V = Limit(2.7, "v", "cut-off per nickel-rich cell under which cells are ruined")
LVC_SHARE = Limit(0.98, "ratio", "cut-off over an empty pack, other chemistries")
LABEL_SHARE = Limit(0.75, "ratio", "power on the road over the motor's label worth a word")
FULL_SOC = Limit(0.98, "ratio", "charge from which on a pack takes no regeneration worth the name")
BRIDGE_SHARE = Limit(0.15, "ratio", "reading of one leg off the middle of its side: it is hurt")
BRIDGE_SHORT = Limit(0.05, "ratio", "ohms or diode volts of a leg that is short")
IDLE_A = Limit(0.5, "a", "line amps of a sound controller at rest, most")
LEAD_A_MM2 = Limit(14.0, "ratio", "A per mm² of a short phase lead held for good")
WALK_M_S = Limit(1.4, "m_s", "walking pace: a bike that does not reach it does not move")
TOP_HELD_S = Limit(600.0, "s", "top speed held from cold: less is worth a word")
