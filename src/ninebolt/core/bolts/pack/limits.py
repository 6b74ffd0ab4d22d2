"""What the Pack bolt judges by."""

from __future__ import annotations

from ninebolt.core.limits import Limit

LINKS_SHARE = Limit(0.5, "ratio", "what joins the groups over the cells' own resistance")
SAG_SHARE = Limit(0.2, "ratio", "of nominal volts lost to ohmic sag at the line amps")
CLAIM_SLACK = Limit(0.08, "ratio", "how far a label's energy may stand off: labels round")
CELL_READING_V = Limit(0.010, "v", "what a meter and a short rest leave open, per cell")
JOIN_SPREAD_V = Limit(0.010, "v", "cells this near at rest may be joined")
LEVEL_V = Limit(0.1, "v", "packs this near may be joined hard")
DEAD_LFP_V = Limit(1.5, "v", "an iron-phosphate group under this is scrap")
CELL_OVER_V = Limit(
    0.06, "v", "full volts written for a cell over those of its chemistry: it is overcharged"
)
CELL_UNDER_V = Limit(
    0.3, "v", "full or empty volts of a cell under those of its chemistry: another one, or wrong"
)
OVER_V = Limit(0.02, "v", "past full from where on charging stops")
OVERFULL = Limit(1.005, "ratio", "rested pack over full volts")
JOIN_SHARE = Limit(0.2, "ratio", "of the charge limit that may flow when packs are joined")
EVEN_SHARE = Limit(0.1, "ratio", "how far from half a pack's share of the load may lie")
LOST = Limit(0.02, "ratio", "of the modules' mean capacity lost to the weakest")
ODD_OHM = Limit(1.5, "ratio", "a module's resistance over the mean")
SIZE_LOW, SIZE_HIGH = (
    Limit(0.8, "ratio", "sizes of packs in parallel, lower end"),
    Limit(1.25, "ratio", "the same, upper end"),
)
NEAR_SOC = 0.05
TAP_LOW_V = Limit(0.3, "v", "room below empty for a balance lead's step")
TAP_HIGH_V = Limit(0.05, "v", "room above full for a balance lead's step")
TAP_ZERO_V = Limit(0.1, "v", "how near to nothing the first balance lead reads")
SIDES_V = Limit(25.0, "v", "neighbours further apart get a sheet of their own")
CELL_LIFE_SHARE = Limit(0.8, "ratio", "of the peak current: run there often, cells age fast")
STRIP_STOP_K = Limit(120.0, "k", "steady rise of a strip over which wraps melt and cells vent")
STRIP_PARTS_K = Limit(
    600.0, "k", "rise of a strip from which on it glows; more is not worth a number"
)
STRIP_BURST = Limit(1.5, "ratio", "line amps over what strips carry for good: bursts only")
HOLD_G = Limit(5.0, "ratio", "times its weight that straps and tray hold while riding")
CRASH_G = (
    ("forward", Limit(20.0, "ratio", "times its weight in a crash, forward")),
    ("sideways", Limit(15.0, "ratio", "times its weight in a crash, sideways")),
    ("up or down", Limit(10.0, "ratio", "times its weight in a crash, up or down")),
)
CELL_DENSE = Limit(6000.0, "kg_m3", "no cell is as dense as iron; a mass in another unit is")
CELL_LIGHT = Limit(500.0, "kg_m3", "nor floats like cork")
STAND_IN_C = Limit(3.0, "ratio", "C-rate that a borrowed pack of unknown rating may be asked for")
MOST_RUNS = 500
QUARTER = 1.4  # line amps over what a strip is made for, when its thickness is chosen
SAG_READ_MORE = Limit(
    1.5, "ratio", "pack resistance that is read over what cells and joints come to: watch"
)
SAG_READ_STOP = Limit(3.0, "ratio", "the same: something gets hot that must not")
SAG_READ_LESS = Limit(0.5, "ratio", "the same, under what cells can have: not believed")
SAG_READ_V = Limit(0.010, "v", "what two readings of a pack leave open, per cell")
STAND_IN_MOST_C = Limit(40.0, "ratio", "C-rate for good that no pack of any make stands")
STAND_IN_CELL_V = (
    Limit(1.8, "v", "full volts a cell of any pack, lower end: lead"),
    Limit(4.45, "v", "the same, upper end: high-voltage lithium"),
)
OUTLINE_SLACK = Limit(1.02, "ratio", "extent of an outline over the length and height of its bay")
