"""Setups against each other: trials of a CSV, told apart or not, and what spoils it."""

from __future__ import annotations

import argparse
from pathlib import Path

from ninebolt.cli.common import build_at, plain, print_json, read_file
from ninebolt.core.logs.session import PROTOCOLS
from ninebolt.formats.trials_csv import read_trials
from ninebolt.services.sessions import compared


def act(args: argparse.Namespace) -> int:
    """Setups against each other: trials of a CSV, told apart or not, and what spoils it."""
    build = build_at(args.build) if args.build else None
    v = compared(
        read_trials(read_file(args.trials), Path(args.trials).name), [args.protocol], build
    )
    if args.json:
        print_json(plain(v))
    else:
        for s in v.summaries:
            half = f" ± {s.half95:.3g} (95 %)" if s.half95 is not None else ""
            print(f"{s.name}: {s.n} trials, mean {s.mean:.4g}{half}, best {s.best:.4g}")
        for x in v.spoilers:
            print(f"  {x.weight}: {x.sentence}")
        for t in v.discarded:
            print(f"  discarded: {t}")
        print(v.sentence)
    told = all(d.told for d in v.corrected or v.differences)
    return 0 if told and not any(s.weight == "stop" for s in v.spoilers) else 1


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("trials", metavar="TRIALS.csv")
    p.add_argument("--build", help="takes masses off by its model")
    p.add_argument("--protocol", default=PROTOCOLS[0], choices=PROTOCOLS)
