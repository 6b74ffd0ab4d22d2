"""A percentage with its base: what it comes to, and what the other reading would be."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import print_json
from ninebolt.core.sums import read_change, read_claim


def act(args: argparse.Namespace) -> int:
    """A percentage with its base: what it comes to, and what the other reading would be."""
    if (change := read_change(args.claim)) is not None:
        print_json(change) if args.json else print(change.words)
        return 0
    claim = read_claim(args.claim)
    if args.json:
        print_json(claim)
    else:
        print(
            f"{claim.words} is {claim.value:g}{claim.symbol}; "
            f"{claim.other_words} would be {claim.other_value:g}{claim.symbol}"
        )
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("claim", help="such as '30 % more than 40' or '9.9 s to 7.5 s'")
