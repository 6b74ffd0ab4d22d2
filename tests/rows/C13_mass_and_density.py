"""Mass of the pack and energy per mass; a cell that was never weighed gives no mass."""

from __future__ import annotations

import pytest

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    """Closed form: 207 cells of 69 g and a case of 2.4 kg."""
    mass = bike.figure("pack", "mass")
    assert mass == pytest.approx(207 * 0.069 + 2.4)
    energy = bike.figure("pack", "energy")
    assert energy is not None and bike.figure("pack", "density") == pytest.approx(energy / mass)


def test_unknown_mass_is_no_zero(bike: Outside) -> None:
    assert bike.put(("pack.cell.mass_kg", None)).figure("pack", "mass") in (None,)


def test_dangerous_grams_typed_as_kilograms(bike: Outside) -> None:
    assert bike.put(("pack.cell.mass_kg", 69)).says("pack.cell_mass") == "stop"


def test_not_there_no_counts_no_mass(bike: Outside) -> None:
    bike.put(("pack.parallel", None))
    assert bike.figure("pack", "mass") is None
