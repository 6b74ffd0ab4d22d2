"""One straight-line run."""

from __future__ import annotations

import argparse
import dataclasses
import math

from ninebolt.cli.common import build_at, print_json, quantity, say
from ninebolt.core.bike.case import assemble
from ninebolt.core.simulate.run import Stop, run
from ninebolt.core.simulate.steady import top_speed
from ninebolt.core.vehicle.splits import splits_of
from ninebolt.errors import InputError


def act(args: argparse.Namespace) -> int:
    """One straight-line run."""
    build = build_at(args.build)
    made = assemble(build)
    if made.case is None:
        raise InputError(
            "The run cannot be computed yet.",
            where=args.build,
            got="missing " + ", ".join(made.missing),
        )
    case = made.case
    if args.grade is not None:
        case = dataclasses.replace(case, body=dataclasses.replace(case.body, grade_pct=args.grade))
    given = [args.distance, args.to_speed, args.seconds]
    stop = Stop(args.distance or math.inf, args.to_speed or math.inf, args.seconds or 120.0)
    if not any(given):
        stop = Stop(distance_m=402.336, seconds=120.0)
    done = run(case, stop)
    s = done.series
    rollout = bool(build.prove.rollout)
    splits = splits_of(s.t_s, s.distance_m, s.speed_m_s, s.accel_m_s2, rollout)
    top = top_speed(case)
    result = {
        "ended": done.ended,
        "time_s": s.t_s[-1],
        "distance_m": s.distance_m[-1],
        "speed_m_s": s.speed_m_s[-1],
        "max_speed_m_s": done.top_speed_m_s,
        "top_speed_m_s": top.speed_m_s,
        "top_speed_choke": top.choke,
        "rollout": rollout,
        "splits": splits,
        "energy": done.energy,
        "imbalance": done.energy.imbalance,
        "peak_line_a": max(s.line_a),
        "lowest_bus_v": min(s.bus_v),
    }
    if args.series:
        result["series"] = s
    if args.json:
        print_json(result)
        return 0
    print(
        f"ended by {done.ended}: {say(s.distance_m[-1], 'm')} in {say(s.t_s[-1], 's')}, "
        f"{say(s.speed_m_s[-1], 'm_s')}; steady top speed {say(top.speed_m_s, 'm_s')}, "
        f"held by {top.choke}" + ("; one-foot rollout" if rollout else "")
    )
    _print_splits([(x.name, x.time_s, x.trap_line_m_s) for x in splits])
    return 0


def _print_splits(rows: list[tuple[str, float | None, float | None]]) -> None:
    for name, time, trap in rows:
        if time is not None:
            print(f"  {name:22} {time:8.3f} s" + (f"   {say(trap, 'm_s')}" if trap else ""))


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build")
    p.add_argument("--distance", type=quantity("m", 0), metavar="M")
    p.add_argument("--to-speed", type=quantity("m_s", 0), metavar="M_S")
    p.add_argument("--seconds", type=quantity("s", 0))
    p.add_argument("--grade", type=quantity("pct", -100), metavar="PCT")
    p.add_argument("--series", action="store_true")
