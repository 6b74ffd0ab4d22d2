"""Pack's findings, one function each; importing this fills the register."""

from ninebolt.core.bolts.pack.checks import (
    assembly,
    charge,
    electric,
    fit,
    heat,
    joining,
    loaded,
    modules,
    numbers,
    salvage,
    stand_in,
)

__all__ = [
    "assembly", "charge", "electric", "fit", "heat", "joining", "loaded", "modules", "numbers", "salvage", "stand_in",
]  # fmt: skip
