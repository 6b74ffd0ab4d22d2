"""The shell: the same use cases, on files.

Exit status: 0 fine, 1 a stop finding or a failed comparison, 2 bad input, 3 a fault of the program.
"""

from __future__ import annotations

import argparse
import logging
import os
import sys
from collections.abc import Sequence
from types import ModuleType

from ninebolt.cli import (
    advise,
    backup,
    bench,
    beside,
    charge,
    check,
    compare,
    export,
    import_,
    label,
    layout,
    outline,
    params,
    parts,
    percent,
    propose,
    restore,
    run,
    schema,
    serve,
    sort,
    splits,
    sweep,
    voice,
)
from ninebolt.errors import InputError, NineBoltError

FAULT = 3
VERBS: dict[str, ModuleType] = {
    "check": check,
    "advise": advise,
    "propose": propose,
    "run": run,
    "splits": splits,
    "compare": compare,
    "sweep": sweep,
    "params": params,
    "layout": layout,
    "sort": sort,
    "charge": charge,
    "outline": outline,
    "percent": percent,
    "label": label,
    "beside": beside,
    "parts": parts,
    "schema": schema,
    "export": export,
    "import": import_,
    "bench": bench,
    "serve": serve,
    "backup": backup,
    "restore": restore,
}


def parser() -> argparse.ArgumentParser:
    """All verbs with their options."""
    made = argparse.ArgumentParser(prog="ninebolt", description=__doc__)
    subs = made.add_subparsers(dest="command", required=True)
    for name, verb in VERBS.items():
        p = subs.add_parser(name, help=verb.__doc__, description=verb.__doc__)
        p.set_defaults(act=verb.act)
        p.add_argument("--json", action="store_true", help="JSON in SI units")
        verb.options(p)
    return made


def main(argv: Sequence[str] | None = None) -> int:
    """Entry point; returns the exit status."""
    voice.fit_all()
    made = parser()
    args, more = made.parse_known_args(argv)
    if more:  # an axis that stands behind an option; else a word too many
        if args.command != "sweep" or any(w.startswith("-") and not w[1:2].isdigit() for w in more):
            made.error(f"unrecognized arguments: {' '.join(more)}")
        args.x = [*args.x, *more]
    try:
        status = int(args.act(args))
        sys.stdout.flush()
        return status
    except BrokenPipeError:  # the reader of a pipe has gone, as `| head` does
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except NineBoltError as error:
        print(f"ninebolt: {error.message()}", file=sys.stderr)
    except OSError as error:
        refused = InputError(
            "The file cannot be written.", where=str(error.filename or ""), got=str(error.strerror)
        )
        print(f"ninebolt: {refused.message()}", file=sys.stderr)
    except KeyboardInterrupt:
        return 130
    except Exception as error:  # a crash is never taken for a stop
        logging.getLogger("ninebolt").exception("unexpected error")
        print(
            f"ninebolt: The program met an error it did not expect ({type(error).__name__}).",
            file=sys.stderr,
        )
        return FAULT
    return 2
