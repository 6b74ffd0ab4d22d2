"""Setups against each other: trials of a CSV, told apart or not, and what spoils it."""

from __future__ import annotations

import argparse
from pathlib import Path

from ninebolt.cli.common import build_at, house_at, plain, print_json, read_file
from ninebolt.core.logs.protocols import PROTOCOLS
from ninebolt.core.logs.session import SessionVerdict
from ninebolt.errors import InputError
from ninebolt.formats.spoken import say
from ninebolt.formats.spoken import sentence as spoken
from ninebolt.formats.trials_csv import read_trials
from ninebolt.services.sessions import compared, of_name


def act(args: argparse.Namespace) -> int:
    """Setups against each other: trials of a CSV, told apart or not, and what spoils it."""
    v = _verdict(args)
    if args.json:
        print_json(plain(v))
    else:
        for s in v.summaries:
            half = f" ± {say(s.half95, v.quantity)} (95 %)" if s.half95 is not None else ""
            mean, best = say(s.mean, v.quantity), say(s.best, v.quantity)
            print(f"{s.name}: {s.n} trials, mean {mean}{half}, best {best}")
        for x in v.spoilers:
            print(f"  {x.weight}: {spoken(x.sentence)}")
        for t in v.discarded:
            print(f"  discarded: {t}")
        print(spoken(v.sentence))
    told = all(d.told for d in v.corrected or v.differences)
    return 0 if told and not any(s.weight == "stop" for s in v.spoilers) else 1


def _verdict(args: argparse.Namespace) -> SessionVerdict:
    """Of a file, or of a session in a garage. Raises InputError."""
    if args.session:
        if args.trials or not args.id:
            raise InputError(
                "A session is one of a build in a garage.",
                where="--session",
                expected="--session NAME --id BUILD --data DIR, and no file",
            )
        view = of_name(house_at(args), args.id, args.session)
        if view.verdict is None:
            raise InputError("This session shows nothing yet.", where=view.name, got=view.problem)
        return view.verdict
    if not args.trials:
        raise InputError("What is compared?", expected="TRIALS.csv, or --session NAME --id BUILD")
    read = read_trials(read_file(args.trials), Path(args.trials).name)
    build = build_at(args.build) if args.build else None
    return compared(read, args.protocol, build)


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("trials", metavar="TRIALS.csv", nargs="?")
    p.add_argument("--session", help="a session of a build in a garage, by its name, instead")
    p.add_argument("--id", help="that build")
    p.add_argument("--data", default="data", help="that garage")
    p.add_argument("--build", help="takes masses off by its model")
    p.add_argument("--protocol", default="", choices=PROTOCOLS)
