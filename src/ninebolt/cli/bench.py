"""Let the bench bike ride a build and write its logs, or test cells, or charge."""

from __future__ import annotations

import argparse
from pathlib import Path

from ninebolt.cli.common import build_at, count
from ninebolt.formats.cells_csv import write_cells


def act(args: argparse.Namespace) -> int:
    """Let the bench bike ride a build and write its logs, or test cells, or charge."""
    from ninebolt.bench.ride import ride_files
    from ninebolt.bench.tester import charge_csv, salvaged_cells

    build, out = build_at(args.build), Path(args.out)
    made = [] if args.cells or args.charge else ride_files(build, out, args.seed, args.fault)
    if args.cells:
        made.append(out / f"cells-{args.cells}-s{args.seed}.csv")
        made[-1].write_bytes(write_cells(salvaged_cells(args.cells, args.seed), 14))
    if args.charge:
        made.append(out / f"charge-s{args.seed}.csv")
        made[-1].write_bytes(charge_csv(build.pack.series or 20, args.seed))
    for path in made:
        print(path)
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build")
    p.add_argument("--out", default=".")
    p.add_argument("--seed", type=int, default=1)
    p.add_argument("--fault", action="append", default=[])
    p.add_argument(
        "--cells", type=count, metavar="N", help="measure so many salvaged cells instead"
    )
    p.add_argument("--charge", action="store_true", help="log a charge instead")
