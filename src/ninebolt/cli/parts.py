"""Parts onto the shelf from a file, or a kind of the shelf as CSV or JSON."""

from __future__ import annotations

import argparse
import sys

from ninebolt.cli.common import house_at, read_file
from ninebolt.core.parts.kinds import KINDS
from ninebolt.services import shelf


def act(args: argparse.Namespace) -> int:
    """Parts onto the shelf from a file, or a kind of the shelf as CSV or JSON."""
    house = house_at(args)
    if args.file:
        count = shelf.import_parts(house, read_file(args.file), args.file, args.kind)
        print(f"{count} parts")
        return 0
    form = "json" if args.json else args.form
    sys.stdout.write(shelf.export_parts(house, args.kind, form)[2].decode())
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("file", nargs="?", help="a file to put on the shelf; none lists a kind")
    p.add_argument("--kind", default="cell", choices=sorted(KINDS))
    p.add_argument("--form", default="csv", choices=["csv", "json"])
    p.add_argument("--data", default="data")
