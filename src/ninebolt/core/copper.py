"""Copper: resistivity and how it grows with temperature. IEC 60028, annealed copper at 20 °C."""

from __future__ import annotations

COPPER_OHM_M = 1.7241e-8
COPPER_PER_K = 0.00393


def copper_factor(temp_c: float) -> float:
    """Resistance at a temperature over resistance at 20 °C."""
    return 1.0 + COPPER_PER_K * (temp_c - 20.0)
