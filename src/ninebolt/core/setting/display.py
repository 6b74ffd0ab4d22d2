"""What a display shows of the speed, and how far it is off: wheel, ratio and pole pairs as the controller has them
against those of the bike; or a speed that it showed against one that was measured."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.errors import InputError


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
        if wheel_m is not None:
            words += f" Right with a circumference of {1000 * wheel_m:.0f} mm."
    return DisplayError(share, wheel_m, words)
