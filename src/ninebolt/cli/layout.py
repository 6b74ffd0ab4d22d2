"""The pack in its bays: how many go in, what limits it, and templates at 1:1."""

from __future__ import annotations

import argparse
from pathlib import Path

from ninebolt.cli.common import build_at, print_json
from ninebolt.formats.spoken import say
from ninebolt.services import packs


def act(args: argparse.Namespace) -> int:
    """The pack in its bays: how many go in, what limits it, and templates at 1:1."""
    build = build_at(args.build)
    fit = packs.fitted_of(build)
    for kind in ("svg", "dxf", "pdf"):
        path = getattr(args, kind)
        if path:
            Path(path).write_bytes(packs.template_file(build, kind, args.paper)[1])
    hit = [h for b in fit.bays for h in b.hand if h.hits]
    fits = fit.short <= 0 and not hit
    if args.json:
        print_json({"fits": fits, "layout": fit})
        return 0 if fits else 1
    print(
        f"{build.pack.series}s{build.pack.parallel}p needs {fit.needed} of {fit.capacity} places"
        + (" put down by hand" if fit.by_hand else "")
        + (f"; {len(fit.split)} groups split between bays" if fit.split else "")
    )
    for b in fit.bays:
        grown = b.growth[0] if b.growth else None
        more = f"; 10 mm more {grown.size} brings {grown.more}" if grown and grown.more else ""
        print(
            f"  {b.name}: {b.taken} of {b.capacity}, {b.layers} layers, {b.pattern}, {b.axis}{more}"
            + (", BMS inside" if b.guest else "")
        )
    for h in hit:
        print(f"  {h.kind} {h.index + 1} stands in {', '.join(x.what for x in h.hits)}")
    for o in fit.options:
        print(
            f"  {o.series}s: at most {o.parallel}p, {say(o.full_v, 'v')} full, "
            f"{say(o.energy_wh, 'wh')}"
        )
    return 0 if fits else 1


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build")
    for kind in ("svg", "dxf", "pdf"):
        p.add_argument(f"--{kind}", metavar="FILE")
    p.add_argument("--paper", choices=["a4", "letter"], default="a4")
