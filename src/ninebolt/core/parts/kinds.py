"""The kinds of part that a library may hold."""

from __future__ import annotations

from ninebolt.core.parts.base import Part
from ninebolt.core.parts.cell import Cell
from ninebolt.core.parts.chassis import Brake, Suspension
from ninebolt.core.parts.drive import Controller, Motor
from ninebolt.core.parts.guard import (
    Bms,
    Cable,
    Charger,
    Dcdc,
    Fuse,
    Isolator,
    Plug,
    Precharge,
)
from ninebolt.core.parts.rolling import Chain, Sprocket, Tyre

KINDS: dict[str, type[Part]] = {
    "cell": Cell,
    "bms": Bms,
    "fuse": Fuse,
    "isolator": Isolator,
    "plug": Plug,
    "cable": Cable,
    "precharge": Precharge,
    "dcdc": Dcdc,
    "charger": Charger,
    "controller": Controller,
    "motor": Motor,
    "sprocket": Sprocket,
    "chain": Chain,
    "tyre": Tyre,
    "brake": Brake,
    "suspension": Suspension,
}
# What the shelf calls them.
LABELS = {
    "cell": "Cells, modules, packs",
    "bms": "BMS",
    "fuse": "Fuses",
    "isolator": "Contactors and breakers",
    "plug": "Plugs",
    "cable": "Cables",
    "precharge": "Precharge resistors",
    "dcdc": "Converters",
    "charger": "Chargers",
    "controller": "Controllers",
    "motor": "Motors",
    "sprocket": "Sprockets and pulleys",
    "chain": "Chains and belts",
    "tyre": "Tyres",
    "brake": "Brakes",
    "suspension": "Forks and shocks",
}
