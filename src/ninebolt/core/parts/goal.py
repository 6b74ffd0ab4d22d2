"""What the bike is for."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.value import Value, choice, count, num, reading, text

USES = ("trail", "street", "supermoto", "commute", "hill_climb", "drag", "stunt")
# Taken while unknown, where the use asks for another than the usual. Common practice, no source.
USE_SPEED_M_S = {"trail": 9.7222, "hill_climb": 8.3333, "commute": 12.5, "stunt": 8.3333}
USE_CRR = {"trail": 0.030, "hill_climb": 0.035}
DUTIES = ("steady", "stop_and_go", "hill_runs", "logged")


@dataclass(frozen=True, slots=True)
class Goal:
    """The numbers are wishes, so they carry no tolerance of their own."""

    use: str = choice("Use", USES)
    rider_kg: Value = reading("Rider", lo=0, hi=250, assume=80, spread=0.1)
    gear_kg: Value = reading("Riding gear and luggage", lo=0, hi=150, assume=8, spread=0.3)
    top_speed_m_s: Value = num("Top speed wanted", above=0, hi=120, wish=True)
    to_speed_m_s: Value = num(
        "Speed of the standing start", above=0, hi=80, assume=26.8224, wish=True
    )
    to_time_s: Value = num("Time wanted to that speed", above=0, hi=120, wish=True)
    power_w: Value = num("Power wanted at the wheel", above=0, hi=1e6, wish=True)
    hill_pct: Value = num("Hill", lo=0, hi=100, wish=True)
    hill_speed_m_s: Value = num("Speed wanted on the hill", above=0, hi=80, wish=True)
    ride_m: Value = num("Ride on one charge", above=0, hi=1e6, wish=True)
    ride_s: Value = num("or ride time on one charge", above=0, hi=86400, wish=True)
    duty: str = choice("How the ride goes", DUTIES, help="logged: the run chosen on Prove")
    cruise_m_s: Value = num(
        "Speed of the ride", above=0, hi=80, assume=13.8889, wish=True, assume_by=USE_SPEED_M_S
    )
    stop_each_m: Value = num(
        "Distance between stops",
        above=0,
        hi=1e5,
        assume=400,
        detail=True,
        help="stop and go",
        wish=True,
    )
    climb_m: Value = num(
        "Height gained in a hill run",
        above=0,
        hi=3000,
        assume=60,
        detail=True,
        help="hill runs",
        wish=True,
    )
    runs: int | None = count("Full-throttle runs in a session", 1, 30, detail=True)
    rest_s: Value = num(
        "Rest between runs", lo=0, hi=7200, assume=120, spread=0.0, detail=True, wish=True
    )
    start_on: str = text("Work starts on", help="a date such as 2031-04-02")
    deadline: str = text("To be ready by", help="a date such as 2031-06-30")
    lead_days: int | None = count("Longest delivery that is still open, days", 0, 2000)
    work_hours: int | None = count("Work left, hours", 0, 5000)
    week_hours: int | None = count("Hours of work a week", 1, 100)
    budget_money: Value = num("Budget", above=0, hi=1e8, wish=True)
    mass_max_kg: Value = num("Heaviest that the bike may be", above=0, hi=1000, wish=True)


def ride_speed(goal: Goal) -> float:
    """Speed of the ride (m/s): as given, else as the use has it."""
    given = goal.cruise_m_s
    return given.or_else(USE_SPEED_M_S.get(goal.use, given.taken))


def ground_crr(given: Value, goal: Goal) -> float:
    """Rolling resistance: as given, else of the ground that the use is ridden on."""
    return given.or_else(USE_CRR.get(goal.use, given.taken))
