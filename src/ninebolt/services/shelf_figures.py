"""What one chooses a part by: of a whole cell, module or pack its own volts and watt-hours; of a motor its
torque; and the two of them that make the picture of a kind."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from ninebolt.core.bike.cells import cell_nominal_v
from ninebolt.core.drive.constants import amps_peak, kv_dc_bus, saturation, torque_nm
from ninebolt.core.parts.cell import Cell
from ninebolt.core.parts.drive import Controller, Motor
from ninebolt.core.parts.rolling import Chain, Sprocket


@dataclass(frozen=True, slots=True)
class ShelfFigure:
    """One figure; value None: not known."""

    key: str
    label: str
    quantity: str
    value: float | None


# Across and up, of the picture that a kind is chosen by; kinds without one are chosen from the table.
PICTURES = {
    "cell": ("wh_kg", "w_kg"),
    "motor": ("mass", "torque"),
    "controller": ("mass", "power"),
}


def figures_of(part: Any) -> list[ShelfFigure]:
    """The figures of a part; empty for kinds whose own fields say it all."""
    make = MAKERS.get(type(part))
    if make is None:
        return []
    return [
        ShelfFigure(key, label, quantity, None if value is None or math.isnan(value) else value)
        for key, label, quantity, value in make(part)
    ]


Row = tuple[str, str, str, float | None]


def _cell(c: Cell) -> Iterator[Row]:
    """Of the whole body: what is in series adds volts, what is in parallel adds amps."""
    series, parallel = c.body_series, c.body_parallel
    volts = series * cell_nominal_v(c)
    ah = _times(c.capacity_ah.amount, parallel)
    cont, peak = _times(c.i_cont_a.amount, parallel), _times(c.i_peak_a.amount, parallel)
    wh, kg, money = _times(ah, volts), c.mass_kg.amount, c.price_money.amount
    yield "volts", "Volts", "v", volts
    yield "charge", "Charge", "ah", ah
    yield "energy", "Energy", "wh", wh
    yield "cont", "For good", "a", cont
    yield "peak", "Peak", "a", peak
    yield "ohm", "Resistance", "ohm", _times(c.r0_ohm.amount, series / parallel)
    yield "mass", "Mass", "kg", kg
    yield "wh_kg", "Wh per kg", "ratio", _over(wh, kg)
    yield "w_kg", "W per kg, peak", "ratio", _over(_times(peak, volts), kg)
    yield "money_kwh", "Price per kWh", "money", _over(_times(money, 1000.0), wh)


def _motor(m: Motor) -> Iterator[Row]:
    kv, amps = m.kv_rpm_v.amount, m.phase_max_a.amount
    torque = None
    if kv is not None and amps is not None:
        peak = amps_peak(amps, m.amp_basis)
        kept = saturation(peak, m.knee_a.or_else(math.inf))
        torque = torque_nm(kv_dc_bus(kv, m.kv_convention), peak) * kept
    yield "label", "On the label", "w", m.label_w.amount
    yield "kv", "KV", "rpm_v", kv
    yield "torque", "Torque at peak amps", "nm", torque
    yield "cont", "Phase amps for good", "a", m.phase_cont_a.amount
    yield "mass", "Mass", "kg", m.mass_kg.amount
    yield "nm_kg", "N·m per kg", "ratio", _over(torque, m.mass_kg.amount)
    yield "money", "Price", "money", m.price_money.amount


def _controller(c: Controller) -> Iterator[Row]:
    line, ceiling = c.line_max_a.amount, c.v_max_v.amount
    yield "ceiling", "Voltage ceiling", "v", ceiling
    yield "line", "Line amps", "a", line
    yield "phase", "Phase amps", "a", c.phase_max_a.amount
    yield "power", "Power at its ceiling", "w", _times(line, ceiling)
    yield "mass", "Mass", "kg", c.mass_kg.amount
    yield "money", "Price", "money", c.price_money.amount


def _sprocket(x: Sprocket) -> Iterator[Row]:
    yield "teeth", "Teeth", "ratio", x.teeth
    yield "mass", "Mass", "kg", x.mass_kg.amount
    yield "money", "Price", "money", x.price_money.amount


def _chain(x: Chain) -> Iterator[Row]:
    yield "links", "Links", "ratio", x.links
    yield "stands", "Pull it stands", "n", x.stands_n.amount
    yield "mass", "Mass", "kg", x.mass_kg.amount
    yield "money", "Price", "money", x.price_money.amount


def _times(a: float | None, b: float | None) -> float | None:
    return None if a is None or b is None else a * b


def _over(a: float | None, b: float | None) -> float | None:
    return None if a is None or not b else a / b


MAKERS: dict[type, Callable[[Any], Iterator[Row]]] = {
    Cell: _cell,
    Motor: _motor,
    Controller: _controller,
    Sprocket: _sprocket,
    Chain: _chain,
}
