"""Sort measured cells into matched groups."""

from __future__ import annotations

import argparse
import math
from pathlib import Path

from ninebolt.cli.common import count, print_json, quantity, read_file
from ninebolt.core.match.sort import Rules
from ninebolt.formats.cells_csv import write_assignment
from ninebolt.formats.labels import write_labels
from ninebolt.services import packs


def act(args: argparse.Namespace) -> int:
    """Sort measured cells into matched groups."""
    rules = Rules(
        args.min_capacity,
        args.max_resistance or math.inf,
        args.max_fade or math.inf,
        args.min_volts,
    )
    done = packs.sort_file(read_file(args.cells), args.cells, args.series, args.parallel, rules)
    if args.out:
        Path(args.out).write_bytes(write_assignment(done))
    if args.labels:
        title = f"{args.series}s{args.parallel}p"
        Path(args.labels).write_bytes(write_labels(done, title, args.paper))
    if args.json:
        print_json(done)
        return 0
    for g in done.groups:
        ohm = f"  {g.r_ohm * 1000:.2f} mΩ" if g.r_ohm else ""
        print(f"group {g.number:3}  {g.capacity_ah:.3f} Ah{ohm}  {' '.join(g.cells)}")
    print(
        f"weakest {done.weakest_ah:.3f} Ah, spread {done.spread:.4%}, ceiling "
        f"{done.ceiling_ah:.3f} Ah; as they come {done.as_they_come[1]:.2%}, serpentine "
        f"{done.serpentine[1]:.2%}, greedy {done.greedy[1]:.2%}"
    )
    print(f"{len(done.rejects)} rejected, {len(done.spare)} spare")
    for r in done.rejects:
        print(f"  {r.id}: {r.reason}")
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("cells")
    p.add_argument("--series", type=count, required=True)
    p.add_argument("--parallel", type=count, required=True)
    p.add_argument("--min-capacity", type=quantity("ah"), default=0.0, metavar="AH")
    p.add_argument("--max-resistance", type=quantity("ohm", 0), metavar="OHM")
    p.add_argument("--max-fade", type=quantity("v", 0), metavar="V_PER_DAY")
    p.add_argument("--min-volts", type=quantity("v"), default=0.0)
    p.add_argument("--out", metavar="CSV")
    p.add_argument("--labels", metavar="PDF", help="labels and build map to print")
    p.add_argument("--paper", choices=["a4", "letter"], default="a4")
