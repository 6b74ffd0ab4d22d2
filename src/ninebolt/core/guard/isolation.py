"""Isolation of the traction pack from the frame, by the two-reading voltmeter method.

Sources: UN Regulations 100 and 136, ISO 6469-1 and -3: at least 100 Ω per volt for direct current.
"""

from __future__ import annotations

MIN_OHM_PER_V = 100.0  # DC side alone; UN R100, R136, ISO 6469-3
JOINED_OHM_PER_V = 500.0  # with the inverter joined; the same


def isolation_ohm(pack_v: float, first_v: float, loaded_v: float, known_ohm: float) -> float:
    """Resistance of the weaker pole to the frame (ohm).

    first_v: the larger of the two pole-to-frame readings. loaded_v: the same reading with a known
    resistor between that pole and the frame. Ri = R0 (V / V1' - V / V1).
    """
    return known_ohm * (pack_v / loaded_v - pack_v / first_v)
