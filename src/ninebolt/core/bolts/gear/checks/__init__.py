"""Gear's findings."""

from ninebolt.core.bolts.gear.checks import brakes, chain, hub, numbers, ratio, stance, tyres

__all__ = ["brakes", "chain", "hub", "numbers", "ratio", "stance", "tyres"]
