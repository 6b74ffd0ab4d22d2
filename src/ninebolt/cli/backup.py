"""A whole copy of the garage beside it, now."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import house_at, print_json
from ninebolt.store.database import builds_in, session
from ninebolt.store.migrate import backup


def act(args: argparse.Namespace) -> int:
    """A whole copy of the garage beside it, now."""
    house = house_at(args)
    stamp = "".join(c for c in house.now()[:19] if c.isdigit())
    with session(house.path) as db:
        made = backup(db, house.path, f"asked-{stamp}")
    if args.json:
        print_json({"file": str(made), "builds": builds_in(made)})
    else:
        print(f"{made}: {builds_in(made)} builds")
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("--data", default="data")
