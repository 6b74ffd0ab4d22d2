"""Splits and top speed of logged rides."""

from __future__ import annotations

import argparse
import math

from ninebolt.cli.common import plain, print_json, read_file
from ninebolt.core.logs.ride import analyse
from ninebolt.core.logs.shown import stretch
from ninebolt.core.logs.trust import with_wheel
from ninebolt.formats.build_json import read_build
from ninebolt.formats.ride_log import read_log
from ninebolt.formats.spoken import say
from ninebolt.services.house import wheel_of


def act(args: argparse.Namespace) -> int:
    """Splits and top speed of logged rides."""
    wheel = wheel_of(read_build(read_file(args.build), args.build)) if args.build else None
    rides = [with_wheel(read_log(read_file(p), p), wheel) for p in args.log]
    reports = [analyse(ride, args.rollout, None, args.launch) for ride in rides]
    shown = [stretch(ride, -math.inf, math.inf, wheel) for ride in rides]
    if args.json:
        print_json(
            [
                {k: v for k, v in plain(r).items() if k not in ("t_s", "speed_m_s", "distance_m")}
                | {"whole": plain(s)}
                for r, s in zip(reports, shown, strict=True)
            ]
        )
        return 0
    for r, whole in zip(reports, shown, strict=True):
        print(
            f"{r.name}: {r.rate_hz:.1f} Hz, noise {r.noise_m_s:.3f} m/s, "
            + (f"{len(r.launches)} launches, number {r.chosen + 1} shown, " if r.launches else "")
            + f"quality {r.quality}, "
            f"top {say(r.top_speed_m_s, 'm_s')} ±{say(r.top_u95_m_s, 'm_s')}"
        )
        for m in r.splits:
            if m.split.time_s is not None:
                print(f"  {m.split.name:22} {m.split.time_s:8.3f} s ±{m.u95_s or 0:.3f}")
        if args.figures:
            for x in whole.figures:
                half = f" ±{say(x.u95, x.quantity)}" if x.u95 is not None else ""
                print(
                    f"  {x.label}: {say(x.value, x.quantity)}{half}{f' ({x.note})' if x.note else ''}"
                )
            for b in whole.by_speed:
                print(
                    f"  {say(b.from_m_s, 'm_s')} to {say(b.to_m_s, 'm_s')}: {say(b.wh_km, 'wh_km')}"
                )
        for issue in (*r.quality_why, *r.issues):
            print(f"  note: {issue}")
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("log", nargs="+")
    p.add_argument("--rollout", action="store_true")
    p.add_argument(
        "--launch", type=int, help="which standing start, from 1; the fastest if not said"
    )
    p.add_argument(
        "--figures",
        action="store_true",
        help="way, power, energy, sag, temperatures of the whole log too",
    )
    p.add_argument("--build", help="whose wheel turned, for a log of rpm alone")
