"""Sort measured cells into matched groups."""

from __future__ import annotations

import argparse
import math
from pathlib import Path

from ninebolt.cli.common import build_at, count, from_zero, print_json, read_file
from ninebolt.core.parts.pack import Pack
from ninebolt.errors import InputError
from ninebolt.formats.cells_csv import read_cells, write_assignment
from ninebolt.formats.labels import write_labels
from ninebolt.formats.spoken import say
from ninebolt.services import packs


def act(args: argparse.Namespace) -> int:
    """Sort measured cells into matched groups."""
    build = build_at(args.build) if args.build else None
    series, parallel = _counts(args, build.pack if build else None)
    chosen = {
        "capacity_min_ah": args.min_capacity,
        "r_max_ohm": args.max_resistance,
        "fade_max_v_day": args.max_fade,
        "rested_min_v": args.min_volts,
        "rested_max_v": args.max_volts,
    }
    lot = read_cells(read_file(args.cells), args.cells)
    done = packs.sort_lot(
        lot, series, parallel, chosen, packs.labelled_ah(build) if build else math.nan
    )
    if args.out:
        Path(args.out).write_bytes(write_assignment(done))
    if args.labels:
        title = f"{series}s{parallel}p"
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
    for caution in done.cautions:
        print(f"caution: {caution}")
    for rule in done.rules:
        shown = "off" if rule.limit is None else say(rule.limit, rule.quantity)
        print(f"rule {rule.key}: {shown} ({rule.words})")
    for r in done.rejects:
        print(f"  {r.id}: {r.reason}")
    return 0


def _counts(args: argparse.Namespace, pack: Pack | None) -> tuple[int, int]:
    """As given, else those of the build's pack."""
    series = args.series or (pack.series if pack else None)
    parallel = args.parallel or (pack.parallel if pack else None)
    if not series or not parallel:
        raise InputError(
            "Into how many groups, of how many cells?",
            where="--series, --parallel",
            expected="both numbers, or --build with a pack whose numbers are known",
        )
    return series, parallel


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("cells")
    p.add_argument("--series", type=count)
    p.add_argument("--parallel", type=count)
    p.add_argument("--build", metavar="JSON", help="whose pack they are for")
    p.add_argument("--min-capacity", type=from_zero("ah"), metavar="AH", help="0 = no such rule")
    p.add_argument("--max-resistance", type=from_zero("ohm"), metavar="OHM")
    p.add_argument("--max-fade", type=from_zero("v"), metavar="V_PER_DAY")
    p.add_argument("--min-volts", type=from_zero("v"), metavar="V")
    p.add_argument("--max-volts", type=from_zero("v"), metavar="V")
    p.add_argument("--out", metavar="CSV")
    p.add_argument("--labels", metavar="PDF", help="labels and build map to print")
    p.add_argument("--paper", choices=["a4", "letter"], default="a4")
