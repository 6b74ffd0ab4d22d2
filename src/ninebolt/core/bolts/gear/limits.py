"""What the Gear bolt judges by."""

from __future__ import annotations

from ninebolt.core.finding import Source
from ninebolt.core.limits import Limit

CHAIN_MAX_M_S = Limit(35.0, "m_s", "roller chain on open drives")
MORE_PUSH = Limit(1.05, "ratio", "thrust off the line over what lifts the front, worth a word")
# Pitch in metres.
PITCH_SOURCE = Source(
    "standard", "ISO 606: 08B is 1/2 in, 10B is 5/8 in; motorcycle sizes from memory"
)
PITCH_M = {"415": 0.0127, "420": 0.0127, "428": 0.0127, "520": 0.015875, "530": 0.015875}
