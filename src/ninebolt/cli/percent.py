"""A percentage with its base: what it comes to, and what the other reading would be."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import print_json
from ninebolt.core.sums import read_claim


def act(args: argparse.Namespace) -> int:
    """A percentage with its base: what it comes to, and what the other reading would be."""
    claim = read_claim(args.claim)
    if args.json:
        print_json(claim)
    else:
        print(
            f"{claim.words} is {claim.value:g}; {claim.other_words} would be {claim.other_value:g}"
        )
    return 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("claim", help="such as '30 % more than 40'")
