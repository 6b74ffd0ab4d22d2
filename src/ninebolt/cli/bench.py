"""Let the bench bike ride a build and write its logs, test cells, charge, or be a live bike on a CAN bus."""

from __future__ import annotations

import argparse
import sys
import threading
from pathlib import Path

from ninebolt.cli.common import build_at, count, quantity
from ninebolt.core.build import Build
from ninebolt.formats.cells_csv import write_cells

PORT = 8791


def act(args: argparse.Namespace) -> int:
    """Let the bench bike ride a build and write its logs, test cells, charge, or be a live bike on a CAN bus."""
    from ninebolt.bench.ride import coast_files, ride_files
    from ninebolt.bench.tester import charge_csv, salvaged_cells

    build, out = _build(args.build), Path(args.out)
    if args.live:
        return _live(build, args)
    if args.coast_from is not None:
        made = coast_files(build, out, args.seed, args.fault, args.coast_from)
    elif args.cells or args.charge:
        made = []
    else:
        made = ride_files(build, out, args.seed, args.fault)
    if args.cells:
        made.append(out / f"cells-{args.cells}-s{args.seed}.csv")
        made[-1].write_bytes(write_cells(salvaged_cells(args.cells, args.seed), 14))
    if args.charge:
        made.append(out / f"charge-s{args.seed}.csv")
        made[-1].write_bytes(charge_csv(build.pack.series or 20, args.seed))
    for path in made:
        print(path)
    return 0


def _build(path: str | None) -> Build:
    if path is not None:
        return build_at(path)
    from ninebolt.library.demo import moss

    return moss()


def _live(build: Build, args: argparse.Namespace) -> int:
    """Until the input ends or it is interrupted."""
    from ninebolt.bench.live import Bench, running
    from ninebolt.compiled import compile_now

    compile_now()
    bench = Bench(build, args.seed, tuple(args.fault))
    with running(bench, args.port) as port:
        print(
            f"The bench bike ({build.name}) is on a CAN bus at socket://127.0.0.1:{port}",
            flush=True,
        )
        print(
            f"control 127.0.0.1:{port + 1}, GPS 127.0.0.1:{port + 2}; simulated, nothing here can hurt",
            flush=True,
        )
        try:
            if args.while_input:
                sys.stdin.read()
            else:
                threading.Event().wait()
        except KeyboardInterrupt:
            pass
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build", nargs="?", help="without one: a bike of the demo garage")
    p.add_argument("--out", default=".")
    p.add_argument("--seed", type=int, default=1)
    p.add_argument("--fault", action="append", default=[])
    p.add_argument(
        "--cells", type=count, metavar="N", help="measure so many salvaged cells instead"
    )
    p.add_argument(
        "--coast-from",
        type=quantity("m_s", 3.0),
        metavar="SPEED",
        help="let it roll from a speed, there and back, instead",
    )
    p.add_argument("--charge", action="store_true", help="log a charge instead")
    p.add_argument(
        "--live", action="store_true", help="a live bike: CAN bus, GPS and control line on loopback"
    )
    p.add_argument(
        "--port", type=int, default=PORT, help="of the bus; the next two are control and GPS"
    )
    p.add_argument("--while-input", action="store_true", help="end when standard input ends")
