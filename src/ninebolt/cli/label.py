"""What a label may mean, as hypotheses."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import print_json
from ninebolt.core.drive.label import read_label
from ninebolt.errors import InputError
from ninebolt.formats.spoken import say


def act(args: argparse.Namespace) -> int:
    """What a label may mean, as hypotheses."""
    found = read_label(args.text)
    if not found:
        raise InputError(
            "Nothing on this label is understood.",
            got=args.text[:60],
            expected="numbers with V, A, W, rpm or KV, as they stand on the case",
        )
    if args.json:
        print_json(found)
        return 0
    for r in found:
        value = "" if r.value is None else say(r.value, r.quantity)
        print(f"{r.text:14} {r.label} {value}  ({r.sure:.0%}: {r.why})")
        print(f"{'':14} {r.ask}")
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("text")
