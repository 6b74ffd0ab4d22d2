"""Guard's findings, one function each; importing this fills the register."""

from ninebolt.core.bolts.guard.checks import (
    bms,
    cable,
    charger,
    contact,
    converter,
    fuse,
    isolation,
    isolator,
    numbers,
    order,
    plug,
    precharge,
)

__all__ = [
    "bms",
    "cable",
    "charger",
    "contact",
    "converter",
    "fuse",
    "isolation",
    "isolator",
    "numbers",
    "order",
    "plug",
    "precharge",
]
