"""Cells and packs: open-circuit voltage, resistance, sag, power."""
