"""What a display shows of the speed, and how far it is off: wheel, ratio and pole pairs as the controller has them
against those of the bike; or a speed that it showed against one that was measured."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.words import q
from ninebolt.errors import InputError
from ninebolt.units import MILE_M

# Common practice, no source: around a motorcycle's wheel (m), and how near an error lies to that of another unit.
WHEEL_M = (0.8, 2.6)
UNIT_NEAR = 0.03
KM_PER_MILE = MILE_M / 1000.0


@dataclass(frozen=True, slots=True)
class DisplayError:
    """share: (shown - true) / true. wheel_m: circumference that makes it right, all else as it is."""

    share: float
    wheel_m: float | None
    sentence: str


def by_settings(
    wheel_m: float,
    ratio: float,
    pole_pairs: float,
    true_wheel_m: float,
    true_ratio: float,
    true_pole_pairs: float,
) -> DisplayError:
    """The controller counts electrical turns: shown speed = turns / pole pairs / ratio x wheel. Raises InputError for a
    number that is none."""
    for name, x in (("wheel_m", wheel_m), ("ratio", ratio), ("pole_pairs", pole_pairs)):
        if not x > 0:
            raise InputError(
                "This cannot be a setting of a display.",
                where=name,
                got=f"{x:g}",
                expected="above 0",
            )
    shown = wheel_m / ratio / pole_pairs
    true = true_wheel_m / true_ratio / true_pole_pairs
    right = true * ratio * pole_pairs
    return _said(shown / true - 1.0, right)


def by_measure(shown_m_s: float, true_m_s: float, wheel_m: float | None) -> DisplayError:
    """A speed that it showed while another was measured. Raises InputError for speeds too low to tell."""
    if not (shown_m_s > 2.0 and true_m_s > 2.0):
        raise InputError(
            "Too slow to tell.",
            got=f"{shown_m_s:g} and {true_m_s:g} m/s",
            expected="above 2 m/s, held steady",
        )
    return _said(shown_m_s / true_m_s - 1.0, wheel_m * true_m_s / shown_m_s if wheel_m else None)


def _said(share: float, wheel_m: float | None) -> DisplayError:
    if abs(share) < 0.005:
        words = "It shows the true speed within half a percent."
    else:
        words = f"It shows {100 * abs(share):.1f} % {'more' if share > 0 else 'less'} than the true speed."
        words += (
            " The rider is slower than the display says."
            if share > 0
            else " The rider is faster than it says."
        )
        if abs((1.0 + share) / KM_PER_MILE - 1.0) < UNIT_NEAR:
            words += " That is km against miles: look at its unit."
        elif abs((1.0 + share) * KM_PER_MILE - 1.0) < UNIT_NEAR:
            words += " That is miles against km: look at its unit."
        elif wheel_m is not None and not WHEEL_M[0] <= wheel_m <= WHEEL_M[1]:
            words += f" No tyre makes that good ({q(wheel_m, 'm')} around): look at ratio, pole pairs and unit."
        elif wheel_m is not None:
            words += f" Right with a circumference of {q(wheel_m, 'm')}."
    return DisplayError(share, wheel_m, words)
