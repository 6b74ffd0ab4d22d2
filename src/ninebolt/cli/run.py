"""One straight-line run."""

from __future__ import annotations

import argparse
import math
import sys

from ninebolt.cli.common import build_at, print_json, quantity
from ninebolt.core.simulate.run import BOOKS_CLOSE, Stop
from ninebolt.formats.spoken import say
from ninebolt.services.runs import LONGEST_S, RunResult, straight_run


def act(args: argparse.Namespace) -> int:
    """One straight-line run."""
    stop = None
    if any((args.distance, args.to_speed, args.seconds)):
        stop = Stop(args.distance or math.inf, args.to_speed or math.inf, args.seconds or LONGEST_S)
    done = straight_run(build_at(args.build), stop, args.grade, args.series)
    if args.json:
        print_json(done)
    else:
        _print(done)
    if not done.books_close:
        print(
            f"ninebolt: the energy of this run does not add up: {done.imbalance:.1%} is missing, "
            f"at most {BOOKS_CLOSE:.1%} is allowed; do not build on it.",
            file=sys.stderr,
        )
    return 0 if done.books_close and not done.opens else 1


def _print(r: RunResult) -> None:
    held = f"with the {r.opens} held closed, " if r.opens else ""
    print(
        f"{held}ended by {r.ended}: {say(r.distance_m, 'm')} in {say(r.time_s, 's')}, "
        f"{say(r.speed_m_s, 'm_s')}; steady top speed {say(r.top_speed_m_s, 'm_s')}, "
        f"held by {r.top_speed_choke}" + ("; one-foot rollout" if r.rollout else "")
    )
    if r.opens:
        print(f"  {r.opens} opens after {say(r.opens_s, 's')}: nothing behind that is reached")
    for x in r.splits:
        if x.time_s is not None:
            trap = f"   {say(x.trap_line_m_s, 'm_s')}" if x.trap_line_m_s else ""
            print(f"  {x.name:22} {x.time_s:8.3f} s{trap}")


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build")
    p.add_argument("--distance", type=quantity("m", 0), metavar="M")
    p.add_argument("--to-speed", type=quantity("m_s", 0), metavar="M_S")
    p.add_argument("--seconds", type=quantity("s", 0))
    p.add_argument("--grade", type=quantity("pct", -100), metavar="PCT")
    p.add_argument("--series", action="store_true")
