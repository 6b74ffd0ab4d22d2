"""Exact conversion factors, and numbers with units as people write them.

The core works in SI (temperatures in °C, battery charge in Ah and energy in Wh, as CONVENTIONS.md
says). Nothing else converts: interface, files and shell all come through here.
Factors: international yard and pound agreement of 1959 (0.3048 m, 0.453 592 37 kg); standard
gravity 9.806 65 m/s² (ISO 80000-3); all exact.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from ninebolt.errors import QuantityError

GRAVITY_M_S2 = 9.80665
KELVIN_AT_0_C = 273.15
FOOT_M = 0.3048
INCH_M = 0.0254
MILE_M = 1609.344
POUND_KG = 0.45359237
KNOT_M_S = 1852.0 / 3600.0  # a nautical mile an hour, by definition
RPM_PER_RAD_S = 60.0 / (2.0 * math.pi)
KM_H_PER_M_S = 3.6
S_PER_H = 3600.0


@dataclass(frozen=True, slots=True)
class Unit:
    """si = given * factor + offset."""

    symbol: str
    factor: float
    offset: float = 0.0
    aliases: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Quantity:
    """A kind of number: the first unit is the one that the core stores."""

    key: str
    label: str
    units: tuple[Unit, ...]


def _q(key: str, label: str, *units: Unit) -> Quantity:
    return Quantity(key, label, units)


QUANTITIES: dict[str, Quantity] = {
    q.key: q
    for q in (
        _q("v", "voltage", Unit("V", 1, 0, ("volt", "volts")), Unit("mV", 1e-3), Unit("kV", 1e3)),
        _q("a", "current", Unit("A", 1, 0, ("amp", "amps")), Unit("mA", 1e-3), Unit("kA", 1e3)),
        _q(
            "w",
            "power",
            Unit("W", 1, 0, ("watt", "watts")),
            Unit("kW", 1e3),
            Unit("hp", 745.6998715822702, 0, ("bhp",)),
            Unit("PS", 735.49875),
        ),
        _q(
            "wh",
            "energy",
            Unit("Wh", 1),
            Unit("kWh", 1e3),
            Unit("kJ", 1e3 / S_PER_H),
            Unit("J", 1 / S_PER_H),
        ),
        _q("j", "work", Unit("J", 1), Unit("kJ", 1e3)),
        _q("wh_kg", "energy per mass", Unit("Wh/kg", 1)),
        _q("wh_km", "energy per way", Unit("Wh/km", 1)),
        _q("ah", "charge", Unit("Ah", 1), Unit("mAh", 1e-3)),
        _q(
            "ohm",
            "resistance",
            Unit("Ω", 1, 0, ("ohm", "ohms", "Ohm")),
            Unit("mΩ", 1e-3, 0, ("mohm", "mOhm", "milliohm")),
            Unit("µΩ", 1e-6, 0, ("uohm", "uΩ", "μΩ")),
            Unit("kΩ", 1e3, 0, ("kohm", "kOhm")),
            Unit("MΩ", 1e6, 0, ("Mohm", "MOhm")),
        ),
        _q(
            "henry",
            "inductance",
            Unit("H", 1),
            Unit("mH", 1e-3),
            Unit("µH", 1e-6, 0, ("uH", "μH")),
        ),
        _q(
            "farad",
            "capacitance",
            Unit("F", 1),
            Unit("mF", 1e-3),
            Unit("µF", 1e-6, 0, ("uF", "μF")),
        ),
        _q(
            "m",
            "length",
            Unit("m", 1),
            Unit("mm", 1e-3),
            Unit("cm", 1e-2),
            Unit("km", 1e3),
            Unit("in", INCH_M, 0, ("inch", "inches", '"', "″")),
            Unit("ft", FOOT_M, 0, ("foot", "feet")),
            Unit("mi", MILE_M, 0, ("mile", "miles")),
        ),
        _q("m2", "area", Unit("m²", 1, 0, ("m2",)), Unit("mm²", 1e-6, 0, ("mm2",))),
        _q("m3", "volume", Unit("m³", 1, 0, ("m3",)), Unit("L", 1e-3, 0, ("l", "litre"))),
        _q(
            "kg",
            "mass",
            Unit("kg", 1),
            Unit("g", 1e-3),
            Unit("lb", POUND_KG, 0, ("lbs", "pound", "pounds")),
        ),
        _q(
            "n_m",
            "spring rate",
            Unit("N/m", 1),
            Unit("N/mm", 1e3),
            Unit("lbf/in", POUND_KG * GRAVITY_M_S2 / INCH_M),
        ),
        _q("n", "force", Unit("N", 1), Unit("kN", 1e3), Unit("lbf", POUND_KG * GRAVITY_M_S2)),
        _q(
            "nm",
            "torque",
            Unit("N·m", 1, 0, ("Nm", "N m")),
            Unit("lbf·ft", POUND_KG * GRAVITY_M_S2 * FOOT_M, 0, ("lbft", "lb-ft", "ft-lb")),
        ),
        _q("nm_s_rad", "drag per speed", Unit("N·m·s/rad", 1, 0, ("Nms", "Nms/rad", "N·m·s"))),
        _q(
            "m_s",
            "speed",
            Unit("m/s", 1, 0, ("m/sec", "mps", "meters/second", "metres/second")),
            Unit("km/h", 1 / KM_H_PER_M_S, 0, ("kmh", "kph", "km/hr", "kmph")),
            Unit("mph", MILE_M / S_PER_H, 0, ("mi/h", "miles/hour")),
            Unit("kn", KNOT_M_S, 0, ("knot", "knots", "kt", "kts")),
        ),
        _q("m_s2", "acceleration", Unit("m/s²", 1, 0, ("m/s2",)), Unit("g", GRAVITY_M_S2)),
        _q("rad_s", "angular speed", Unit("rad/s", 1), Unit("rpm", 1 / RPM_PER_RAD_S)),
        _q("rpm", "rotation", Unit("rpm", 1, 0, ("1/min", "r/min"))),
        _q("rpm_v", "rpm per volt", Unit("rpm/V", 1, 0, ("KV", "kv", "rpm/v"))),
        _q(
            "s",
            "time",
            Unit("s", 1, 0, ("sec", "seconds")),
            Unit("ms", 1e-3, 0, ("millis", "milliseconds")),
            Unit("µs", 1e-6, 0, ("us", "μs", "micros", "microseconds")),
            Unit("ns", 1e-9, 0, ("nanoseconds",)),
            Unit("min", 60, 0, ("minutes",)),
            Unit("h", S_PER_H, 0, ("hours",)),
        ),
        _q(
            "c",
            "temperature",
            Unit("°C", 1, 0, ("C", "degC")),
            Unit("°F", 5 / 9, -160 / 9, ("F", "degF")),
            Unit("K", 1, -KELVIN_AT_0_C),
        ),
        _q("k", "temperature difference", Unit("K", 1), Unit("°F", 5 / 9)),
        _q("k_w", "thermal resistance", Unit("K/W", 1, 0, ("°C/W", "C/W"))),
        _q("j_k", "heat capacity", Unit("J/K", 1, 0, ("J/°C",)), Unit("kJ/K", 1e3)),
        _q("kg_m", "mass moment", Unit("kg·m", 1, 0, ("kgm", "kg m"))),
        _q("kg_m2", "inertia", Unit("kg·m²", 1, 0, ("kgm2", "kg m2", "kg·m2"))),
        _q("kg_m3", "density", Unit("kg/m³", 1, 0, ("kg/m3",))),
        _q("pct", "percent", Unit("%", 1)),
        _q("deg", "angle", Unit("°", 1, 0, ("deg",))),
        _q("ratio", "ratio", Unit("", 1, 0, (":1", "x")), Unit("%", 1e-2)),
        _q("money", "price", Unit("", 1)),
    )
}


def awg_section_m2(gauge: int) -> float:
    """Section of a solid wire of a gauge (m²); 0 = 1/0, -1 = 2/0 and so on.

    Diameter 0.127 mm x 92^((36 - n)/39). Source: ASTM B258.
    """
    return math.pi / 4.0 * (0.127e-3 * math.pow(92.0, (36 - gauge) / 39.0)) ** 2


_AWG = re.compile(r"^\s*(?:awg\s*#?\s*(\d+(?:/0)?)|#?\s*(\d+(?:/0)?)\s*awg)\s*$", re.IGNORECASE)


def parse_awg(text: str) -> float | None:
    """Section (m²) of 'AWG 2', '2/0 AWG', 'awg 0000'; None if the text is no gauge."""
    match = _AWG.match(text)
    if not match:
        return None
    size = match.group(1) or match.group(2)
    if "/" in size:
        gauge = 1 - int(size.split("/")[0])
    else:
        gauge = 1 - len(size) if set(size) == {"0"} else int(size)
    if not -3 <= gauge <= 40:
        raise QuantityError("There is no such gauge.", got=repr(text[:20]), expected="4/0 to 40")
    return awg_section_m2(gauge)


MAX_TEXT = 80
_AMBIGUOUS = re.compile(r"^[+-]?[1-9][0-9]{0,2},[0-9]{3}$")
_FRACTION = re.compile(
    r"^([+-]?)(?:([0-9]+)\s+)?([0-9]+)\s*[/⁄]\s*([0-9]+)\s*(|[^0-9].*)$", re.DOTALL
)
_SPACES = " \u00a0\u202f"  # also those that part thousands in print
_NUMBER = re.compile(
    rf"^([+-]?(?:[0-9](?:[0-9.,{_SPACES}]*[0-9.,])?|[.,][0-9]+)(?:[eE][+-]?[0-9]+)?)(.*)$",
    re.DOTALL,
)


def quantity_of(field_name: str) -> Quantity:
    """The kind of number that a field's name says; the longest suffix wins (kv_rpm_v: rpm_v)."""
    parts = field_name.split("_")
    for start in range(len(parts)):
        key = "_".join(parts[start:])
        if key in QUANTITIES and (start > 0 or len(parts) == 1):
            return QUANTITIES[key]
    return QUANTITIES["ratio"]


def parse_number(text: str) -> float:
    """A number as people write it: comma or point, thousands separated by the other mark."""
    t = "".join(c for c in text if c not in _SPACES)
    comma, point = t.rfind(","), t.rfind(".")
    if comma >= 0 and point >= 0:
        thousands = "," if point > comma else "."
        t = t.replace(thousands, "").replace(",", ".")
    elif t.count(",") > 1:
        t = t.replace(",", "")
    else:
        t = t.replace(",", ".")
    number = float(t)
    if not math.isfinite(number):
        raise ValueError(text)
    return number


def parse_quantity(text: str, key: str, default_symbol: str | None = None) -> float:
    """Read '72 V', '3,5 mΩ' or '12 lb' as SI.

    key: kind of number (a key of QUANTITIES). default_symbol: unit meant where none is written.
    Raises QuantityError for anything that is no number, or has a unit of another kind.
    """
    quantity = QUANTITIES[key]
    text = text.strip()
    if len(text) > MAX_TEXT:
        raise QuantityError(
            "This is too long for a number.",
            got=f"{len(text)} characters",
            expected=f"at most {MAX_TEXT}",
        )
    if key == "m2" and (section := parse_awg(text)) is not None:
        return section
    text = _plain_fraction(text)
    names = ", ".join(u.symbol for u in quantity.units if u.symbol) or "no unit"
    match = _NUMBER.match(text)
    try:
        number = parse_number(match.group(1)) if match else None
    except ValueError:
        number = None
    if match is None or number is None:
        raise QuantityError(
            "This is not a number.",
            got=repr(text[:40]),
            expected=f"a {quantity.label} such as '12' or '12 {quantity.units[0].symbol}'",
        )
    two = two_readings(match.group(1))
    if two:
        raise QuantityError("This can be read in two ways.", got=repr(text[:40]), expected=two)
    unit = _find_unit(quantity, match.group(2).strip() or default_symbol or "")
    if unit is None:
        raise QuantityError(
            f"'{match.group(2).strip()[:20]}' is not a unit of {quantity.label}.",
            got=repr(text[:40]),
            expected=f"one of {names}",
        )
    return number * unit.factor + unit.offset


def two_readings(number: str) -> str:
    """What to write instead of '4,000', which is four thousand here and four there; '' where there is
    no doubt."""
    t = number.strip()
    if not _AMBIGUOUS.match(t):
        return ""
    return f"'{t.replace(',', '')}' for thousands, '{t.replace(',', '.')}' for a decimal"


def _plain_fraction(text: str) -> str:
    """'1 7/8 in' as '1.875 in'; anything else as it is."""
    match = _FRACTION.match(text)
    if match is None or int(match.group(4)) == 0:
        return text
    sign, whole, over, under, rest = match.groups()
    return f"{sign}{int(whole or 0) + int(over) / int(under)!r} {rest}"


def _find_unit(quantity: Quantity, symbol: str) -> Unit | None:
    if not symbol:
        return quantity.units[0]
    for unit in quantity.units:
        if symbol == unit.symbol or symbol in unit.aliases:
            return unit
    lowered = [u for u in quantity.units if u.symbol.lower() == symbol.lower()]
    return lowered[0] if len(lowered) == 1 else None


def to_unit(si: float, key: str, symbol: str) -> float:
    """The SI number in another unit of the same kind."""
    unit = _find_unit(QUANTITIES[key], symbol)
    if unit is None:
        raise QuantityError(f"'{symbol}' is not a unit of {QUANTITIES[key].label}.")
    return (si - unit.offset) / unit.factor
