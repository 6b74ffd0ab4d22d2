"""Splits and top speed of logged rides."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import plain, print_json, read_file, say
from ninebolt.core.logs.ride import analyse
from ninebolt.formats.ride_log import read_log


def act(args: argparse.Namespace) -> int:
    """Splits and top speed of logged rides."""
    reports = [analyse(read_log(read_file(p), p), args.rollout) for p in args.log]
    if args.json:
        print_json(
            [
                {k: v for k, v in plain(r).items() if k not in ("t_s", "speed_m_s", "distance_m")}
                for r in reports
            ]
        )
        return 0
    for r in reports:
        print(
            f"{r.name}: {r.rate_hz:.1f} Hz, noise {r.noise_m_s:.3f} m/s, "
            f"{len(r.launches)} launches, top {say(r.top_speed_m_s, 'm_s')} "
            f"±{say(r.top_u95_m_s, 'm_s')}"
        )
        for m in r.splits:
            if m.split.time_s is not None:
                print(f"  {m.split.name:22} {m.split.time_s:8.3f} s ±{m.u95_s or 0:.3f}")
        for issue in r.issues:
            print(f"  note: {issue}")
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("log", nargs="+")
    p.add_argument("--rollout", action="store_true")
