"""JSON Schema of a document."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import print_json
from ninebolt.services.schemas import SCHEMAS


def act(args: argparse.Namespace) -> int:
    """JSON Schema of a document."""
    print_json(SCHEMAS[args.what]())
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("what", choices=sorted(SCHEMAS))
