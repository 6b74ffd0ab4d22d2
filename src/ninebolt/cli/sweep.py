"""One or two values swept, a result as a curve or a map."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import build_at, count, print_json
from ninebolt.compiled import compile_now
from ninebolt.core.bolts.assess import assess
from ninebolt.errors import InputError
from ninebolt.formats.spoken import say
from ninebolt.services.moved import spec_at
from ninebolt.services.sweep import RESULTS, Axis, SweepView, sweep
from ninebolt.units import parse_quantity


def act(args: argparse.Namespace) -> int:
    """One or two values swept, a result as a curve or a map."""
    compile_now()
    axes = [_listed(v) for v in args.vary]
    if args.x:
        axes.insert(0, _axis(args.x, args.points))
    if args.y:
        axes.append(_axis(args.y, args.points))
    if not 1 <= len(axes) <= 2:
        raise InputError(
            "One or two values are swept.",
            where="sweep",
            got=str(len(axes)),
            expected="PATH FROM TO, or --vary PATH=V1,V2,…",
        )
    x, y = axes[0], axes[1] if len(axes) > 1 else None
    found = sweep(build_at(args.build), x, y, args.result, lambda b: assess(b).stops)
    if args.json:
        print_json(found)
    else:
        _print(found)
    return 0


def _key(path: str) -> str:
    """The quantity of what is swept."""
    spec = spec_at(path)
    if spec is None or spec.kind not in ("number", "count"):
        raise InputError(
            "This cannot be swept.", where=path[:80], expected="a path such as gear.rear_teeth"
        )
    return spec.quantity(path.rsplit(".", 1)[-1]).key


def _axis(text: list[str], points: int) -> Axis:
    path, start, stop = _three(text)
    key = _key(path)
    return Axis(path, parse_quantity(start, key), parse_quantity(stop, key), points)


def _three(text: list[str]) -> tuple[str, str, str]:
    if len(text) != 3:
        raise InputError(
            "An axis is a path and its two ends.",
            where="sweep",
            got=" ".join(text)[:80],
            expected="such as gear.rear_teeth 44 60",
        )
    return text[0], text[1], text[2]


def _listed(text: str) -> Axis:
    """PATH=V1,V2,…: just these values, decimals with a point."""
    path, _, rest = text.partition("=")
    words = [w for w in rest.split(",") if w.strip()]
    if len(words) < 2:
        raise InputError(
            "A sweep needs two values or more.",
            where=path[:80] or "--vary",
            got=rest[:80],
            expected="such as gear.rear_teeth=48,52,56",
        )
    key = _key(path)
    values = tuple(dict.fromkeys(parse_quantity(w, key) for w in words))
    return Axis(path, min(values), max(values), len(values), values)


def _print(s: SweepView) -> None:
    rows = s.y.values if s.y else [None]
    print(f"{s.label} over {s.x.label}" + (f" and {s.y.label}" if s.y else ""))
    for r, yv in enumerate(rows):
        if yv is not None and s.y is not None:
            print(f"{s.y.label} {say(yv, s.y.quantity)}")
        for c, xv in enumerate(s.x.values):
            i = r * len(s.x.values) + c
            mark = " <" if i == s.best else ""
            mark += " < the best without a stop" if i == s.clear != s.best else ""
            print(
                f"  {say(xv, s.x.quantity):12} {say(s.values[i], s.quantity):14} {s.chokes[i]}{mark}"
            )

    if s.stops:
        print(f"A stop comes with the best: {'; '.join(s.stops)}.")


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build")
    p.add_argument("x", nargs="*", metavar="PATH FROM TO", help="such as gear.rear_teeth 44 60")
    p.add_argument("--y", nargs=3, metavar=("PATH", "FROM", "TO"))
    p.add_argument(
        "--vary",
        action="append",
        default=[],
        metavar="PATH=V1,V2",
        help="just these values; twice for a map",
    )
    p.add_argument("--points", type=count, default=21, help="of each axis")
    p.add_argument("--result", choices=sorted(RESULTS), default="top_speed")
