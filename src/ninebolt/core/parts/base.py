"""What every part has."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from ninebolt.core.value import Value, choice, num, text


@dataclass(frozen=True, slots=True)
class Part:
    """Name, mass, price and where the numbers come from."""

    name: str = text("Name")
    mass_kg: Value = num("Mass", lo=0, hi=500, detail=True)
    price_money: Value = num("Price", lo=0, hi=1e7, detail=True)
    source: str = text("Where the numbers come from", detail=True)
    note: str = text("Note", detail=True)


PRESENCE = ("not looked at", "fitted", "not there")


@dataclass(frozen=True, slots=True)
class Fitting(Part):
    """A part that a bike may have or lack. While nobody says, one that has its main rating is
    there."""

    TELLING: ClassVar[tuple[str, ...]] = ()

    presence: str = choice("Is it there?", PRESENCE)

    @property
    def there(self) -> bool | None:
        """True fitted, False not there, None not looked at."""
        if self.presence != PRESENCE[0]:
            return self.presence == PRESENCE[1]
        return True if any(getattr(self, name).known for name in self.TELLING) else None
