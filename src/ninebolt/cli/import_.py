"""A build file into the garage."""

from __future__ import annotations

import argparse
from pathlib import Path

from ninebolt.cli.common import house_at, read_file
from ninebolt.formats.bundle import read_bundle
from ninebolt.services import garage


def act(args: argparse.Namespace) -> int:
    """A build file into the garage."""
    data = read_file(args.file)
    read_bundle(data, args.file)
    print(garage.import_build(house_at(args), data, Path(args.file).name))
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("file")
    p.add_argument("--data", default="data")
