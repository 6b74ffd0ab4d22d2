"""Whole builds from a wish and a bay."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from ninebolt.cli.common import build_at, count, print_json
from ninebolt.compiled import compile_now
from ninebolt.core.codec import encode
from ninebolt.formats.build_json import build_of, write_build
from ninebolt.formats.spoken import say, sentence
from ninebolt.services.docs import with_changes
from ninebolt.services.house import bundled_shelf
from ninebolt.services.propose import LOOKED_AT, ROLLERS, Proposals, proposing_steps


def act(args: argparse.Namespace) -> int:
    """Whole builds from a wish and a bay, at two or three voltages."""
    compile_now()
    build = build_at(args.build)
    *_, last = proposing_steps(build, bundled_shelf(), args.roller, args.looks)()
    if args.out and last.builds:
        made = build_of(with_changes(encode(build), last.builds[0].changes), build.name)
        Path(args.out).write_bytes(write_build(made))
        print(f"the first one is in {args.out}", file=sys.stderr)
    if args.json:
        print_json(last)
    else:
        _print(last)
    return 0 if last.builds else 1


def _print(p: Proposals) -> None:
    assumed = f"; assumed: {', '.join(p.assumed)}" if p.assumed else ""
    print(f"{p.looked_at} combinations weighed{assumed}")
    for i, w in enumerate(p.builds, 1):
        h = w.headline
        print(f"{i}. {w.label}: {', '.join(w.school)}")
        print(
            f"   top {say(h.top_speed_m_s, 'm_s')}, to {say(h.to_speed_m_s, 'm_s')} in {say(h.to_time_s, 's')}, "
            f"range {say(h.range_m, 'm')}, {w.kg:.1f} kg, {w.money:.0f} for the priced parts"
        )
        for c in w.checks:
            if c.met != "yes":
                print(
                    f"   {c.label}: {say(c.have, c.quantity)} of {say(c.want, c.quantity)} ({c.met})"
                )
    if not p.builds:
        print("no build is left that nothing stops:")
    for words in (*(p.why or (() if p.builds else ("nothing fits together",))), *p.left):
        print(f"   {sentence(words)}")
    for s in p.schools:
        gap = (
            "nothing fits" if s.gap is None else f"misses {s.gap:.0%}, {s.money:.0f}, {s.kg:.1f} kg"
        )
        print(f"{s.name}: {gap}")


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build")
    p.add_argument("--roller", choices=sorted(ROLLERS), default="", help="what to start from")
    p.add_argument("--looks", type=count, default=LOOKED_AT, help="combinations to weigh")
    p.add_argument("--out", help="write the first one as a build")
