"""The recommended parameter set."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from ninebolt.cli.common import build_at
from ninebolt.services import tunes


def act(args: argparse.Namespace) -> int:
    """The recommended parameter set."""
    build = build_at(args.build)
    if args.dcf:
        Path(args.dcf).write_bytes(tunes.parameter_file(build, "dcf", args.anyway)[1])
        return 0
    kind = "json" if args.json else "csv"
    sys.stdout.write(tunes.parameter_file(build, kind, args.anyway)[1].decode())
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build")
    p.add_argument("--dcf", metavar="FILE")
    p.add_argument("--anyway", action="store_true", help="although a stop stands")
