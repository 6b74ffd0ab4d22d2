"""Findings and headline figures of all bolts."""

from __future__ import annotations

import argparse

from ninebolt.cli.common import build_at, print_json
from ninebolt.core.bolts.assess import Assessment, assess
from ninebolt.formats.spoken import say, sentence
from ninebolt.services.house import bundled_shelf, utc_now


def act(args: argparse.Namespace) -> int:
    """Findings and headline figures of all bolts."""
    a = assess(build_at(args.build), None, bundled_shelf(), today=utc_now()[:10])
    if args.json:
        print_json({"headline": a.headline, "bolts": a.bolts})
    else:
        _print_check(a)
    return 1 if a.stops else 0


def _print_check(a: Assessment) -> None:
    h = a.headline
    print(
        f"peak wheel power {say(h.peak_wheel_w, 'w')}   top speed {say(h.top_speed_m_s, 'm_s')}   "
        f"0–{say(h.to_speed_m_s, 'm_s')} {say(h.to_time_s, 's')}   range "
        f"{say(h.range_m and h.range_m / 1000, 'ratio')} km at {say(h.cruise_m_s, 'm_s')}   mass "
        f"{say(h.mass_kg, 'kg')}   choke {h.choke or '–'}"
    )
    for b in a.bolts:
        print(
            f"\n{b.bolt:6} {b.state}" + (f"   missing: {', '.join(b.missing)}" if b.missing else "")
        )
        for f in b.findings:
            print(f"  {f.severity.upper():8} {f.title}: {sentence(f.reason)} [{f.source.text}]")
            for fix in f.fixes:
                print(f"           fix: {fix.label}")


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("build")
