"""What to change first."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import build_at, print_json
from ninebolt.compiled import compile_now
from ninebolt.formats.spoken import say
from ninebolt.services.advisor import Advice, advise
from ninebolt.services.house import bundled_shelf


def act(args: argparse.Namespace) -> int:
    """What to change first: single changes and pairs, tried on the build."""
    compile_now()
    found = advise(build_at(args.build), shelf=bundled_shelf())
    if args.json:
        print_json(found)
    else:
        _print(found)
    return 0


def _print(a: Advice) -> None:
    print(f"{a.looked_at} changes looked at; measured by {a.goal}")
    if a.stops:
        print(f"first of all clear what stops the bike: {'; '.join(a.stops)}")
    for i, p in enumerate(a.proposals, 1):
        h = p.after
        money = "price not known" if p.money is None else f"{p.money:.0f}"
        time = f"{h.opens} opens" if h.opens else say(h.to_time_s, "s")
        print(f"{i}. {p.fix.label}  ({money}, {p.mass_kg:+.1f} kg)")
        print(f"   top {say(h.top_speed_m_s, 'm_s')}, to speed {time}, range {say(h.range_m, 'm')}")
        for s in p.go:
            print(f"   clears: {s.title}")
        for s in p.come:
            print(f"   brings {s.severity}: {s.title}")
        if p.forces:
            print(f"   look at: {', '.join(p.forces)}")
    for u in a.useless:
        print(f"{u.label} {u.words}")


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build")
