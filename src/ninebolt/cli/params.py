"""The recommended parameter set, of the build or of one of its profiles; what two sets differ in."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from ninebolt.cli.common import build_at, plain, print_json, read_file
from ninebolt.core.setting.ours import OURS
from ninebolt.core.setting.sets import OUR_PROFILE, differences
from ninebolt.errors import InputError
from ninebolt.formats.eds import write_eds
from ninebolt.services import tunes
from ninebolt.services.settings import file_set


def act(args: argparse.Namespace) -> int:
    """The recommended parameter set, of the build or of one of its profiles; what two sets differ in."""
    if args.eds:
        Path(args.eds).write_bytes(write_eds(OURS))
        return 0
    if args.diff:
        return _diff(args.diff[0], args.diff[1], args.json)
    if args.build is None:
        raise InputError(
            "No build was named.", where="params", todo="Name a build, or two sets with --diff."
        )
    build = build_at(args.build)
    if args.dcf:
        made = tunes.parameter_file(build, "dcf", args.anyway, args.profile)
        Path(args.dcf).write_bytes(made[1])
        return 0
    kind = "json" if args.json else "csv"
    sys.stdout.write(tunes.parameter_file(build, kind, args.anyway, args.profile)[1].decode())
    return 0


def _diff(first: str, second: str, as_json: bool) -> int:
    """1 where they differ."""
    a, b = (file_set(read_file(p), Path(p).name) for p in (first, second))
    rows = differences(OUR_PROFILE, a, b)
    if as_json:
        print_json([{**plain(d), "sentence": d.sentence} for d in rows])
    else:
        for d in rows:
            print(d.sentence)
        if not rows:
            print("Nothing differs.")
    return 1 if rows else 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build", nargs="?")
    p.add_argument("--profile", default="", metavar="NAME", help="of one of its packs or purposes")
    p.add_argument("--dcf", metavar="FILE")
    p.add_argument("--anyway", action="store_true", help="although a stop stands")
    p.add_argument("--diff", nargs=2, metavar="SET", help="two sets: DCF, CSV or JSON")
    p.add_argument("--eds", metavar="FILE", help="write the dictionary of our own controller")
