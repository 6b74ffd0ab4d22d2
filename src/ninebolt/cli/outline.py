"""The outline of a bay in a drawing: corners in metres about its middle."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import print_json, read_file
from ninebolt.formats.spoken import say


def act(args: argparse.Namespace) -> int:
    """The outline of a bay in a drawing: corners in metres about its middle."""
    from ninebolt.formats.outline import read_outline  # its libraries take long to load

    found = read_outline(read_file(args.drawing), args.drawing)
    if args.json:
        print_json(found)
        return 0
    print(f"{len(found.corners)} corners, {say(found.length_m, 'm')} x {say(found.height_m, 'm')}")
    for x, y in found.corners:
        print(f"  {x:+.4f} {y:+.4f}")
    for issue in found.issues:
        print(f"  note: {issue}")
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("drawing", help="DXF or SVG of a bay")
