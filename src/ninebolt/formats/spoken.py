"""Numbers and sentences for people, in metric units: where no screen of the application shows them."""

from __future__ import annotations

import re

from ninebolt.units import QUANTITIES, to_unit

SHOWN_IN = {"m_s": "km/h", "n_m": "N/mm", "farad": "µF", "henry": "µH"}
# By size: the first unit whose least is reached. The screens part them at the same sizes.
BY_SIZE = {
    "m": ((1500.0, "km"), (2.5, "m"), (0.0, "mm")),
    "ohm": ((1e6, "MΩ"), (1e4, "kΩ"), (1.0, "Ω"), (0.0, "mΩ")),
    "w": ((1000.0, "kW"), (0.0, "W")),
    "wh": ((1000.0, "kWh"), (0.1, "Wh"), (0.0, "J")),
    "j": ((1000.0, "kJ"), (0.0, "J")),
    "s": ((7200.0, "h"), (300.0, "min"), (0.0, "s")),
    "m2": ((0.01, "m²"), (0.0, "mm²")),
}
_TOKEN = re.compile(r"\{\{([^|}]+)\|(\w+)\}\}")


def say(value: float | None, quantity: str) -> str:
    """A number for people, in metric units."""
    if value is None:
        return "–"
    usual = SHOWN_IN.get(quantity, QUANTITIES[quantity].units[0].symbol)
    sizes = BY_SIZE.get(quantity, ()) if value else ()
    symbol = next((unit for least, unit in sizes if abs(value) >= least), usual)
    return f"{to_unit(value, quantity, symbol):.4g} {symbol}".strip()


def sentence(text: str) -> str:
    """A finding's sentence with its number tokens spelt out."""
    return _TOKEN.sub(lambda m: say(float(m.group(1)), m.group(2)), text)
