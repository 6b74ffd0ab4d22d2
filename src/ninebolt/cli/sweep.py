"""One or two values swept, a result as a curve or a map."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import build_at, count, print_json, say
from ninebolt.compiled import compile_now
from ninebolt.errors import InputError
from ninebolt.services.bands import spec_at
from ninebolt.services.sweep import RESULTS, Axis, SweepView, sweep
from ninebolt.units import parse_quantity


def act(args: argparse.Namespace) -> int:
    """One or two values swept, a result as a curve or a map."""
    compile_now()
    x, y = _axis(args.x, args.points), _axis(args.y, args.points) if args.y else None
    found = sweep(build_at(args.build), x, y, args.result)
    if args.json:
        print_json(found)
    else:
        _print(found)
    return 0


def _axis(text: list[str], points: int) -> Axis:
    path, start, stop = text
    spec = spec_at(path)
    if spec is None or spec.kind not in ("number", "count"):
        raise InputError(
            "This cannot be swept.", where=path[:80], expected="a path such as gear.rear_teeth"
        )
    key = spec.quantity(path.rsplit(".", 1)[-1]).key
    return Axis(path, parse_quantity(start, key), parse_quantity(stop, key), points)


def _print(s: SweepView) -> None:
    rows = s.y.values if s.y else [None]
    print(f"{s.label} over {s.x.label}" + (f" and {s.y.label}" if s.y else ""))
    for r, yv in enumerate(rows):
        if yv is not None and s.y is not None:
            print(f"{s.y.label} {say(yv, s.y.quantity)}")
        for c, xv in enumerate(s.x.values):
            i = r * len(s.x.values) + c
            mark = " <" if i == s.best else ""
            print(
                f"  {say(xv, s.x.quantity):12} {say(s.values[i], s.quantity):14} {s.chokes[i]}{mark}"
            )


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build")
    p.add_argument("x", nargs=3, metavar=("PATH", "FROM", "TO"))
    p.add_argument("--y", nargs=3, metavar=("PATH", "FROM", "TO"))
    p.add_argument("--points", type=count, default=21, help="of each axis")
    p.add_argument("--result", choices=sorted(RESULTS), default="top_speed")
