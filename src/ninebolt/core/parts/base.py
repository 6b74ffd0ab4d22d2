"""What every part has."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.value import Value, num, text


@dataclass(frozen=True, slots=True)
class Part:
    """Name, mass, price and where the numbers come from."""

    name: str = text("Name")
    mass_kg: Value = num("Mass", lo=0, hi=500, detail=True)
    price_money: Value = num("Price", lo=0, hi=1e7, detail=True)
    source: str = text("Where the numbers come from", detail=True)
    note: str = text("Note", detail=True)
