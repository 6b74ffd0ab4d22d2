"""The recommended parameter set, of the build or of one of its profiles; what two sets differ in."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from ninebolt.cli.common import build_at, plain, print_json, read_file
from ninebolt.core.bolts.tune.profiles import build_for
from ninebolt.core.build import Build
from ninebolt.core.setting.ours import OURS
from ninebolt.core.setting.sets import OUR_PROFILE, differences
from ninebolt.errors import InputError
from ninebolt.formats.eds import write_eds
from ninebolt.formats.spoken import sentence
from ninebolt.services import tunes
from ninebolt.services.judged import judged, meant, of_profile
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
    if args.judge:
        return _judge(build, args.judge, args.profile, args.json)
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


def _judge(build: Build, path: str, profile: str, as_json: bool) -> int:
    """1 where a stop stands with this set in force."""
    given = file_set(read_file(path), Path(path).name)
    own = build_for(build, profile) if profile else of_profile(build, given)
    found = judged(own, meant(OUR_PROFILE, given))
    if as_json:
        print_json(plain(found))
    else:
        for r in found.remarks:
            print(f"{r.severity:8}{r.title}: {sentence(r.reason)}")
        if not found.remarks:
            print("It brings nothing into the build that was not there.")
        if found.open:
            print(f"Nothing in the build says whether these are right: {', '.join(found.open)}.")
    return 1 if found.stops else 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build", nargs="?")
    p.add_argument("--profile", default="", metavar="NAME", help="of one of its packs or purposes")
    p.add_argument("--dcf", metavar="FILE")
    p.add_argument("--anyway", action="store_true", help="although a stop stands")
    p.add_argument("--diff", nargs=2, metavar="SET", help="two sets: DCF, CSV or JSON")
    p.add_argument(
        "--judge", metavar="SET", help="a set as it would be in this build; 1 where a stop stands"
    )
    p.add_argument("--eds", metavar="FILE", help="write the dictionary of our own controller")
