"""Builds side by side."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import build_at, print_json
from ninebolt.core.bolts.assess import assess
from ninebolt.errors import InputError
from ninebolt.formats.spoken import say, sentence
from ninebolt.services.alike import KEYS, alike
from ninebolt.services.beside import Beside, beside
from ninebolt.services.house import bundled_shelf


def act(args: argparse.Namespace) -> int:
    """Builds side by side."""
    if len(args.builds) < 2:
        raise InputError("One build alone is no comparison.", expected="two files or more")
    builds, equal = alike([build_at(path) for path in args.builds], args.equal or [])
    made = beside([(b, assess(b, None, bundled_shelf())) for b in builds], equal)
    if args.json:
        print_json(made)
    else:
        _print(made)
    return 0


def _print(made: Beside) -> None:
    width = max(len(r.label) for r in made.rows) + 2
    print(" " * width + "".join(f"{n[:24]:26}" for n in made.names))
    for r in made.rows:
        cells = []
        for c in r.cells:
            text = "unknown" if c.value is None else say(c.value, r.quantity)
            text = c.words if c.value is None and c.words else f"{text} {c.words}".strip()
            cells.append(f"{text + (' <' if c.best else ''):25} ")
        print(f"{r.label:{width}}" + "".join(cells))
    for e in made.equal:
        print(f"made equal: {e.label}" + "".join(f"; {sentence(w)}" for w in e.words))
    for run in made.runs:
        if run is not None:
            parts = [
                f"{say(p.end_m_s, 'm_s')} {'–' if p.seconds is None else f'{p.seconds:.2f} s'} ({p.held_by or '–'})"
                for p in run.parts
            ]
            print(f"{run.name}: from rest to " + ", ".join(parts))
    for x in made.crossings:
        print(f"above {say(x.speed_m_s, 'm_s')} {x.above} pulls harder, below it {x.below}")
    for u in made.unlike:
        print(f"not alike: {u.label}: " + ", ".join(say(v, u.quantity) for v in u.values))


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("builds", nargs="+")
    p.add_argument(
        "--equal", action="append", choices=KEYS, help="make this like the first build's"
    )
