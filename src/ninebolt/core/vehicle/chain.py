"""Roller chain or toothed belt between two sprockets: length in links, where the axle goes, slack, pull, wear."""

from __future__ import annotations

import math
from dataclasses import dataclass

# Pitch (m). ISO 606: 08B is 1/2 in, 10B is 5/8 in; which motorcycle size has which, from memory.
PITCH_M = {"415": 0.0127, "420": 0.0127, "428": 0.0127, "520": 0.015875, "530": 0.015875}
# Pitch (m) of curvilinear toothed belts: 8 and 14 mm of ISO 13050, 11 mm from memory.
BELT_PITCH_M = {"belt 8 mm": 0.008, "belt 11 mm": 0.011, "belt 14 mm": 0.014}
PITCH_M.update(BELT_PITCH_M)
# Least tensile strength (N) of the plain chain of a size. ISO 10190, from memory.
TENSILE_N = {"415": 11_800.0, "420": 15_600.0, "428": 16_700.0, "520": 26_500.0, "530": 26_500.0}
# Teeth that are made for a size: fewest and most in front, fewest and most behind. Common practice.
TEETH = {
    "415": (9, 17, 32, 60),
    "420": (10, 18, 28, 60),
    "428": (11, 18, 32, 60),
    "520": (11, 18, 34, 60),
    "530": (14, 19, 34, 52),
    "belt 8 mm": (22, 48, 60, 180),
    "belt 11 mm": (20, 44, 56, 160),
    "belt 14 mm": (20, 40, 52, 130),
}


@dataclass(frozen=True, slots=True)
class ChainFit:
    """links: of the chain, even. centre_m: from shaft to axle with it. move_m: that the axle goes back
    (minus: forward), on both sides alike."""

    links: int
    centre_m: float
    move_m: float


def pitch_radius(pitch_m: float, teeth: int) -> float:
    """Radius on which the rollers lie (m): p / (2 sin(π / N)). ISO 606."""
    return pitch_m / (2.0 * math.sin(math.pi / teeth))


def exact_links(pitch_m: float, front: int, rear: int, centre_m: float) -> float:
    """Links, not rounded: 2 C/p + (N1 + N2)/2 + ((N2 - N1)/2π)² p/C. ISO 606, annex."""
    turns = (rear - front) / (2.0 * math.pi)
    return 2.0 * centre_m / pitch_m + 0.5 * (front + rear) + turns**2 * pitch_m / centre_m


def centre_for(pitch_m: float, front: int, rear: int, links: float) -> float:
    """From shaft to axle with a chain of so many links (m); nan where it does not reach round.

    The same formula solved for C.
    """
    free, turns = links - 0.5 * (front + rear), (rear - front) / (2.0 * math.pi)
    inside = free**2 - 8.0 * turns**2
    return pitch_m * (free + math.sqrt(inside)) / 4.0 if free > 0 and inside >= 0 else math.nan


def kept_chain(pitch_m: float, front: int, rear: int, centre_m: float, links: int) -> ChainFit:
    """The chain that is there on another pair: where the axle goes."""
    to = centre_for(pitch_m, front, rear, links)
    return ChainFit(links, to, to - centre_m)


def new_chain(
    pitch_m: float, front: int, rear: int, centre_m: float, room: tuple[float, float], step: int = 2
) -> ChainFit | None:
    """The chain that lets the axle stand in its slot, nearest to where it stands; None where none does. room: that it
    may go back and forward (m). step: 2, for an odd chain needs a cranked link; 1 for a belt."""
    near, (back_m, forward_m) = exact_links(pitch_m, front, rear, centre_m), room
    made = [step * round(near / step) + k * step for k in (-1, 0, 1)]
    fits = [kept_chain(pitch_m, front, rear, centre_m, n) for n in made]
    inside = [f for f in fits if -forward_m <= f.move_m <= back_m]
    return min(inside, key=lambda f: abs(f.move_m), default=None)


def teeth_in_mesh(pitch_m: float, front: int, rear: int, centre_m: float) -> float:
    """Teeth of the front one that hold the belt: N (1/2 - asin((R2 - R1) / C) / π), plane geometry; nan where the two
    do not go beside one another."""
    off = (rear - front) * pitch_m / (2.0 * math.pi * centre_m)
    return front * (0.5 - math.asin(off) / math.pi) if abs(off) < 1.0 else math.nan


def pull_n(wheel_nm: float, pitch_m: float, rear: int) -> float:
    """Force in the tight run (N) at a torque of the wheel."""
    return wheel_nm / pitch_radius(pitch_m, rear)


def slack_m(centre_m: float) -> tuple[float, float]:
    """Up and down in the middle of the lower run (m), least and most, rider off: 2 to 3 % of the way
    from shaft to axle, and more for long travel. Common practice, no source."""
    return 0.04 * centre_m, 0.07 * centre_m


def meets_again(front: int, rear: int, links: int | None) -> int:
    """Turns of the front sprocket until the same tooth meets the same link: many wear evenly."""
    if not links:
        return rear // math.gcd(front, rear)
    return links // math.gcd(front, links)
