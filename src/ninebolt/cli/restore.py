"""A backup in the garage's place; what stood there is kept beside it. Without a file, the newest
backup that holds a build."""

from __future__ import annotations

import argparse
from pathlib import Path

from ninebolt.cli.common import print_json
from ninebolt.errors import NotFoundError
from ninebolt.services.house import DATABASE, utc_now
from ninebolt.services.lock import holding
from ninebolt.store.database import backups, builds_in
from ninebolt.store.migrate import restore


def act(args: argparse.Namespace) -> int:
    """List the backups, or put one back."""
    path = Path(args.data) / DATABASE
    rows = [{"file": str(b), "builds": builds_in(b)} for b in backups(path)]
    if args.list:
        if args.json:
            print_json(rows)
        else:
            print("\n".join(f"{r['file']}: {r['builds']} builds" for r in rows) or "no backups")
        return 0
    source = (
        Path(args.file) if args.file else next((b for b in backups(path) if builds_in(b)), None)
    )
    if source is None:
        raise NotFoundError("There is no backup that holds a build.", where=str(path.parent))
    with holding(path.parent):
        stamp = "".join(c for c in utc_now()[:19] if c.isdigit())
        aside = restore(path, source, stamp)
    made = {"from": str(source), "builds": builds_in(path), "kept": str(aside)}
    if args.json:
        print_json(made)
    else:
        print(f"{made['builds']} builds are back from {source}; what stood there is {aside}")
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("file", nargs="?", help="a backup")
    p.add_argument("--list", action="store_true", help="only say which there are")
    p.add_argument("--data", default="data")
