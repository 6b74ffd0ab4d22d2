"""Group voltages of a charge log: spread, outliers, when to stop."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import print_json, quantity, read_file
from ninebolt.core.logs.charging import watch
from ninebolt.formats.charge_csv import read_charge


def act(args: argparse.Namespace) -> int:
    """Group voltages of a charge log: spread, outliers, when to stop."""
    report = watch(read_charge(read_file(args.log), args.log), args.full)
    if args.json:
        print_json(report)
    else:
        print(
            f"{report.name}: {len(report.groups)} groups, {report.spread_v * 1000:.0f} mV apart at "
            f"the end, at most {report.worst_v * 1000:.0f} mV"
            + (f"; {report.skipped} rows with a group not read left out" if report.skipped else "")
        )
        for o in report.outliers:
            print(f"  group {o.group}: {o.off_v * 1000:+.0f} mV, {o.words}")
        if report.stop_s is not None:
            print(f"  stop at {report.stop_s:.0f} s: {report.stop_words}")
    return 1 if report.stop_s is not None else 0


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("log")
    p.add_argument(
        "--full", type=quantity("v", 0), default=4.2, metavar="V", help="full volts of a cell"
    )
