"""The usual step of a log's clock."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
ENOUGH = 20_000  # of a longer log every so-many-th is looked at for a median


def thinned(x: npt.NDArray[Any]) -> npt.NDArray[Any]:
    """About ENOUGH of them, evenly taken; an odd way between them, so that a log of twos is not halved."""
    return x[:: (len(x) // ENOUGH) | 1]


def usual_step(t: Floats) -> float:
    """Median time between samples (s)."""
    return float(np.median(thinned(np.diff(t))))
