"""A build out of the garage into a file; without an id, list the garage."""

from __future__ import annotations

import argparse
from pathlib import Path

from ninebolt.cli.common import house_at, print_json
from ninebolt.services import garage, rides
from ninebolt.services.registers import LOGS


def act(args: argparse.Namespace) -> int:
    """A build out of the garage into a file; without an id, list the garage."""
    house = house_at(args)
    if not args.id:
        rows = garage.cards(house)
        if args.json:
            print_json([{"id": c.id, "name": c.name, "archived": c.archived} for c in rows])
        else:
            print("\n".join(f"{c.id}  {c.name}" for c in rows))
        return 0
    if args.log:
        name, _, data = rides.log_file(house, args.id, args.log, args.form)
    else:
        name, data = garage.export(house, args.id, args.logs)
    target = Path(args.out or name)
    target.write_bytes(data)
    print(target)
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("id", nargs="?")
    p.add_argument("--out")
    p.add_argument("--logs", action="store_true", help="a zip with all that became of it")
    p.add_argument("--log", help="one of its logs, by its id")
    p.add_argument("--form", default="zip", choices=sorted(LOGS), help="of the log")
    p.add_argument("--data", default="data")
