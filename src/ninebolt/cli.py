"""The shell: the same use cases, on files.

Exit status: 0 fine, 1 a stop finding or a failed comparison, 2 bad input.
"""

from __future__ import annotations

import argparse
import dataclasses
import json
import math
import os
import re
import sys
import threading
import webbrowser
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from ninebolt.core.bike.case import assemble
from ninebolt.core.bolts.assess import Assessment, assess
from ninebolt.core.build import Build
from ninebolt.core.logs.charging import watch
from ninebolt.core.logs.ride import analyse
from ninebolt.core.match.sort import Rules
from ninebolt.core.parts.kinds import KINDS
from ninebolt.core.simulate.run import Stop, run
from ninebolt.core.simulate.steady import top_speed
from ninebolt.core.sums import read_claim
from ninebolt.core.vehicle.splits import splits_of
from ninebolt.errors import InputError, NineBoltError, QuantityError
from ninebolt.formats.build_json import read_build
from ninebolt.formats.bundle import read_bundle
from ninebolt.formats.cells_csv import write_assignment, write_cells
from ninebolt.formats.charge_csv import read_charge
from ninebolt.formats.labels import write_labels
from ninebolt.formats.outline import read_outline
from ninebolt.formats.ride_log import read_log
from ninebolt.formats.schema import SCHEMAS
from ninebolt.services import garage, packs, shelf, tunes
from ninebolt.services.demo import fill_demo
from ninebolt.services.house import House, bundled_shelf
from ninebolt.units import QUANTITIES, parse_quantity, to_unit

SHOWN_IN = {"m_s": "km/h", "w": "kW", "m": "m", "wh": "kWh", "ohm": "mΩ", "farad": "µF"}
_TOKEN = re.compile(r"\{\{([^|}]+)\|(\w+)\}\}")


def say(value: float | None, quantity: str) -> str:
    """A number for people, in metric units."""
    if value is None:
        return "–"
    symbol = SHOWN_IN.get(quantity, QUANTITIES[quantity].units[0].symbol)
    return f"{to_unit(value, quantity, symbol):.4g} {symbol}".strip()


def sentence(text: str) -> str:
    """A finding's sentence with its number tokens spelt out."""
    return _TOKEN.sub(lambda m: say(float(m.group(1)), m.group(2)), text)


def _read(path: str) -> bytes:
    try:
        return Path(path).read_bytes()
    except OSError as error:
        raise InputError(
            "The file cannot be read.", where=path, got=error.strerror or ""
        ) from error


def _plain(obj: Any) -> Any:
    if dataclasses.is_dataclass(obj) and not isinstance(obj, type):
        return {f.name: _plain(getattr(obj, f.name)) for f in dataclasses.fields(obj)}
    if isinstance(obj, list | tuple):
        return [_plain(x) for x in obj]
    if isinstance(obj, dict):
        return {k: _plain(v) for k, v in obj.items()}
    if isinstance(obj, float) and not math.isfinite(obj):
        return None
    return obj


def _json(obj: Any) -> None:
    print(json.dumps(_plain(obj), indent=1, ensure_ascii=False))


def _build(path: str) -> Build:
    return read_build(_read(path), path)


def check(args: argparse.Namespace) -> int:
    """Findings and headline figures of all bolts."""
    a = assess(_build(args.build), None, bundled_shelf())
    if args.json:
        _json({"headline": a.headline, "bolts": a.bolts})
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


def do_run(args: argparse.Namespace) -> int:
    """One straight-line run."""
    build = _build(args.build)
    made = assemble(build)
    if made.case is None:
        raise InputError(
            "The run cannot be computed yet.",
            where=args.build,
            got="missing " + ", ".join(made.missing),
        )
    case = made.case
    if args.grade is not None:
        case = dataclasses.replace(case, body=dataclasses.replace(case.body, grade_pct=args.grade))
    given = [args.distance, args.to_speed, args.seconds]
    stop = Stop(args.distance or math.inf, args.to_speed or math.inf, args.seconds or 120.0)
    if not any(given):
        stop = Stop(distance_m=402.336, seconds=120.0)
    done = run(case, stop)
    s = done.series
    rollout = bool(build.prove.rollout)
    splits = splits_of(s.t_s, s.distance_m, s.speed_m_s, s.accel_m_s2, rollout)
    top = top_speed(case)
    result = {
        "ended": done.ended,
        "time_s": s.t_s[-1],
        "distance_m": s.distance_m[-1],
        "speed_m_s": s.speed_m_s[-1],
        "max_speed_m_s": done.top_speed_m_s,
        "top_speed_m_s": top.speed_m_s,
        "top_speed_choke": top.choke,
        "rollout": rollout,
        "splits": splits,
        "energy": done.energy,
        "imbalance": done.energy.imbalance,
        "peak_line_a": max(s.line_a),
        "lowest_bus_v": min(s.bus_v),
    }
    if args.series:
        result["series"] = s
    if args.json:
        _json(result)
        return 0
    print(
        f"ended by {done.ended}: {say(s.distance_m[-1], 'm')} in {say(s.t_s[-1], 's')}, "
        f"{say(s.speed_m_s[-1], 'm_s')}; steady top speed {say(top.speed_m_s, 'm_s')}, "
        f"held by {top.choke}" + ("; one-foot rollout" if rollout else "")
    )
    _print_splits([(x.name, x.time_s, x.trap_line_m_s) for x in splits])
    return 0


def _print_splits(rows: list[tuple[str, float | None, float | None]]) -> None:
    for name, time, trap in rows:
        if time is not None:
            print(f"  {name:22} {time:8.3f} s" + (f"   {say(trap, 'm_s')}" if trap else ""))


def splits(args: argparse.Namespace) -> int:
    """Splits and top speed of logged rides."""
    reports = [analyse(read_log(_read(p), p), args.rollout) for p in args.log]
    if args.json:
        _json(
            [
                {k: v for k, v in _plain(r).items() if k not in ("t_s", "speed_m_s", "distance_m")}
                for r in reports
            ]
        )
        return 0
    for r in reports:
        print(
            f"{r.name}: {r.rate_hz:.1f} Hz, noise {r.noise_m_s:.3f} m/s, "
            f"{len(r.launches)} launches, top {say(r.top_speed_m_s, 'm_s')} "
            f"±{say(r.top_u95_m_s, 'm_s')}"
        )
        for m in r.splits:
            if m.split.time_s is not None:
                print(f"  {m.split.name:22} {m.split.time_s:8.3f} s ±{m.u95_s or 0:.3f}")
        for issue in r.issues:
            print(f"  note: {issue}")
    return 0


def schema(args: argparse.Namespace) -> int:
    """JSON Schema of a document."""
    _json(SCHEMAS[args.what]())
    return 0


def params(args: argparse.Namespace) -> int:
    """The recommended parameter set."""
    build = _build(args.build)
    if args.dcf:
        Path(args.dcf).write_bytes(tunes.parameter_file(build, "dcf")[1])
        return 0
    kind = "json" if args.json else "csv"
    sys.stdout.write(tunes.parameter_file(build, kind)[1].decode())
    return 0


def layout(args: argparse.Namespace) -> int:
    """The pack in its bays: how many go in, what limits it, and templates at 1:1."""
    build = _build(args.build)
    fit = packs.fitted_of(build)
    for kind in ("svg", "dxf", "pdf"):
        path = getattr(args, kind)
        if path:
            Path(path).write_bytes(packs.template_file(build, kind, args.paper)[1])
    hit = [h for b in fit.bays for h in b.hand if h.hits]
    fits = fit.short <= 0 and not hit
    if args.json:
        _json({"fits": fits, "layout": fit})
        return 0 if fits else 1
    print(
        f"{build.pack.series}s{build.pack.parallel}p needs {fit.needed} of {fit.capacity} places"
        + (" put down by hand" if fit.by_hand else "")
        + (f"; {len(fit.split)} groups split between bays" if fit.split else "")
    )
    for b in fit.bays:
        grown = b.growth[0] if b.growth else None
        more = f"; 10 mm more {grown.size} brings {grown.more}" if grown and grown.more else ""
        print(
            f"  {b.name}: {b.taken} of {b.capacity}, {b.layers} layers, {b.pattern}, {b.axis}{more}"
            + (", BMS inside" if b.guest else "")
        )
    for h in hit:
        print(f"  {h.kind} {h.index + 1} stands in {', '.join(x.what for x in h.hits)}")
    for o in fit.options:
        print(
            f"  {o.series}s: at most {o.parallel}p, {say(o.full_v, 'v')} full, "
            f"{say(o.energy_wh, 'wh')}"
        )
    return 0 if fits else 1


def sort(args: argparse.Namespace) -> int:
    """Sort measured cells into matched groups."""
    rules = Rules(
        args.min_capacity,
        args.max_resistance or math.inf,
        args.max_fade or math.inf,
        args.min_volts,
    )
    done = packs.sort_file(_read(args.cells), args.cells, args.series, args.parallel, rules)
    if args.out:
        Path(args.out).write_bytes(write_assignment(done))
    if args.labels:
        title = f"{args.series}s{args.parallel}p"
        Path(args.labels).write_bytes(write_labels(done, title, args.paper))
    if args.json:
        _json(done)
        return 0
    for g in done.groups:
        ohm = f"  {g.r_ohm * 1000:.2f} mΩ" if g.r_ohm else ""
        print(f"group {g.number:3}  {g.capacity_ah:.3f} Ah{ohm}  {' '.join(g.cells)}")
    print(
        f"weakest {done.weakest_ah:.3f} Ah, spread {done.spread:.4%}, ceiling "
        f"{done.ceiling_ah:.3f} Ah; as they come {done.as_they_come[1]:.2%}, serpentine "
        f"{done.serpentine[1]:.2%}, greedy {done.greedy[1]:.2%}"
    )
    print(f"{len(done.rejects)} rejected, {len(done.spare)} spare")
    for r in done.rejects:
        print(f"  {r.id}: {r.reason}")
    return 0


def charge(args: argparse.Namespace) -> int:
    """Group voltages of a charge log: spread, outliers, when to stop."""
    report = watch(read_charge(_read(args.log), args.log), args.full)
    if args.json:
        _json(report)
    else:
        print(
            f"{report.name}: {len(report.groups)} groups, {report.spread_v * 1000:.0f} mV apart at "
            f"the end, at most {report.worst_v * 1000:.0f} mV"
        )
        for o in report.outliers:
            print(f"  group {o.group}: {o.off_v * 1000:+.0f} mV, {o.words}")
        if report.stop_s is not None:
            print(f"  stop at {report.stop_s:.0f} s: {report.stop_words}")
    return 1 if report.stop_s is not None else 0


def outline(args: argparse.Namespace) -> int:
    """The outline of a bay in a drawing: corners in metres about its middle."""
    found = read_outline(_read(args.drawing), args.drawing)
    if args.json:
        _json(found)
        return 0
    print(f"{len(found.corners)} corners, {say(found.length_m, 'm')} x {say(found.height_m, 'm')}")
    for x, y in found.corners:
        print(f"  {x:+.4f} {y:+.4f}")
    for issue in found.issues:
        print(f"  note: {issue}")
    return 0


def do_percent(args: argparse.Namespace) -> int:
    """A percentage with its base: what it comes to, and what the other reading would be."""
    claim = read_claim(args.claim)
    if args.json:
        _json(claim)
    else:
        print(
            f"{claim.words} is {claim.value:g}; {claim.other_words} would be {claim.other_value:g}"
        )
    return 0


def parts(args: argparse.Namespace) -> int:
    """Parts onto the shelf from a file, or a kind of the shelf as CSV or JSON."""
    house = _house(args)
    if args.file:
        count = shelf.import_parts(house, _read(args.file), args.file, args.kind)
        print(f"{count} parts")
        return 0
    form = "json" if args.json else args.form
    sys.stdout.write(shelf.export_parts(house, args.kind, form)[2].decode())
    return 0


def _house(args: argparse.Namespace) -> House:
    return House.open(Path(args.data))


def export(args: argparse.Namespace) -> int:
    """A build out of the garage into a file; without an id, list the garage."""
    house = _house(args)
    if not args.id:
        rows = garage.cards(house)
        if args.json:
            _json([{"id": c.id, "name": c.name, "archived": c.archived} for c in rows])
        else:
            print("\n".join(f"{c.id}  {c.name}" for c in rows))
        return 0
    name, data = garage.export(house, args.id, args.logs)
    target = Path(args.out or name)
    target.write_bytes(data)
    print(target)
    return 0


def do_import(args: argparse.Namespace) -> int:
    """A build file into the garage."""
    data = _read(args.file)
    read_bundle(data, args.file)
    print(garage.import_build(_house(args), data, Path(args.file).name))
    return 0


def serve(args: argparse.Namespace) -> int:
    """The web application on this machine."""
    import uvicorn

    from ninebolt.api.app import make_app

    if args.host not in ("127.0.0.1", "localhost", "::1"):
        raise InputError(
            "The server only listens on this machine.",
            where="--host",
            got=args.host,
            expected="127.0.0.1",
        )
    house = _house(args)
    if args.demo:
        fill_demo(house)
    address = f"http://{args.host}:{args.port}"
    print(f"Nine Bolt is at {address}", flush=True)
    if args.open and (sys.platform in ("darwin", "win32") or os.environ.get("DISPLAY")):
        threading.Timer(1.0, webbrowser.open, [address]).start()
    uvicorn.run(make_app(house), host=args.host, port=args.port, log_level="warning")
    return 0


def do_bench(args: argparse.Namespace) -> int:
    """Let the bench bike ride a build and write its logs, or test cells, or charge."""
    from ninebolt.bench.ride import ride_files
    from ninebolt.bench.tester import charge_csv, salvaged_cells

    build, out = _build(args.build), Path(args.out)
    made = [] if args.cells or args.charge else ride_files(build, out, args.seed, args.fault)
    if args.cells:
        made.append(out / f"cells-{args.cells}-s{args.seed}.csv")
        made[-1].write_bytes(write_cells(salvaged_cells(args.cells, args.seed), 14))
    if args.charge:
        made.append(out / f"charge-s{args.seed}.csv")
        made[-1].write_bytes(charge_csv(build.pack.series or 20, args.seed))
    for path in made:
        print(path)
    return 0


def _quantity(key: str, least: float = -math.inf) -> Callable[[str], float]:
    """An argument that is a number, with a unit or in SI, above the least."""

    def read(text: str) -> float:
        try:
            value = parse_quantity(text, key)
        except QuantityError as error:
            raise argparse.ArgumentTypeError(error.message()) from error
        if value <= least:
            raise argparse.ArgumentTypeError(f"'{text}' is not above {least:g}.")
        return value

    return read


def _count(text: str) -> int:
    if not text.isascii() or not text.isdigit() or int(text) < 1:
        raise argparse.ArgumentTypeError(f"'{text[:20]}' is no whole number from 1 on.")
    return int(text)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="ninebolt", description=__doc__)
    subs = parser.add_subparsers(dest="command", required=True)

    def add(name: str, what: Callable[[argparse.Namespace], int]) -> argparse.ArgumentParser:
        p = subs.add_parser(name, help=what.__doc__, description=what.__doc__)
        p.set_defaults(act=what)
        p.add_argument("--json", action="store_true", help="JSON in SI units")
        return p

    p = add("check", check)
    p.add_argument("build")
    p = add("run", do_run)
    p.add_argument("build")
    p.add_argument("--distance", type=_quantity("m", 0), metavar="M")
    p.add_argument("--to-speed", type=_quantity("m_s", 0), metavar="M_S")
    p.add_argument("--seconds", type=_quantity("s", 0))
    p.add_argument("--grade", type=_quantity("pct", -100), metavar="PCT")
    p.add_argument("--series", action="store_true")
    p = add("splits", splits)
    p.add_argument("log", nargs="+")
    p.add_argument("--rollout", action="store_true")
    p = add("params", params)
    p.add_argument("build")
    p.add_argument("--dcf", metavar="FILE")
    p = add("layout", layout)
    p.add_argument("build")
    for kind in ("svg", "dxf", "pdf"):
        p.add_argument(f"--{kind}", metavar="FILE")
    p.add_argument("--paper", choices=["a4", "letter"], default="a4")
    p = add("sort", sort)
    p.add_argument("cells")
    p.add_argument("--series", type=_count, required=True)
    p.add_argument("--parallel", type=_count, required=True)
    p.add_argument("--min-capacity", type=_quantity("ah"), default=0.0, metavar="AH")
    p.add_argument("--max-resistance", type=_quantity("ohm", 0), metavar="OHM")
    p.add_argument("--max-fade", type=_quantity("v", 0), metavar="V_PER_DAY")
    p.add_argument("--min-volts", type=_quantity("v"), default=0.0)
    p.add_argument("--out", metavar="CSV")
    p.add_argument("--labels", metavar="PDF", help="labels and build map to print")
    p.add_argument("--paper", choices=["a4", "letter"], default="a4")
    p = add("charge", charge)
    p.add_argument("log")
    p.add_argument(
        "--full", type=_quantity("v", 0), default=4.2, metavar="V", help="full volts of a cell"
    )
    p = add("outline", outline)
    p.add_argument("drawing", help="DXF or SVG of a bay")
    p = add("percent", do_percent)
    p.add_argument("claim", help="such as '30 % more than 40'")
    p = add("parts", parts)
    p.add_argument("file", nargs="?", help="a file to put on the shelf; none lists a kind")
    p.add_argument("--kind", default="cell", choices=sorted(KINDS))
    p.add_argument("--form", default="csv", choices=["csv", "json"])
    p.add_argument("--data", default="data")
    p = add("schema", schema)
    p.add_argument("what", choices=sorted(SCHEMAS))
    p = add("export", export)
    p.add_argument("id", nargs="?")
    p.add_argument("--out")
    p.add_argument("--logs", action="store_true")
    p.add_argument("--data", default="data")
    p = add("import", do_import)
    p.add_argument("file")
    p.add_argument("--data", default="data")
    p = add("bench", do_bench)
    p.add_argument("build")
    p.add_argument("--out", default=".")
    p.add_argument("--seed", type=int, default=1)
    p.add_argument("--fault", action="append", default=[])
    p.add_argument(
        "--cells", type=_count, metavar="N", help="measure so many salvaged cells instead"
    )
    p.add_argument("--charge", action="store_true", help="log a charge instead")
    p = add("serve", serve)
    p.add_argument("--host", default="127.0.0.1")
    p.add_argument("--port", type=int, default=8790)
    p.add_argument("--data", default="data")
    p.add_argument("--demo", action="store_true")
    p.add_argument("--open", action="store_true", help="show it in the browser, if there is one")
    return parser


def main(argv: Sequence[str] | None = None) -> int:
    """Entry point; returns the exit status."""
    args = _parser().parse_args(argv)
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
    return 2


if __name__ == "__main__":
    sys.exit(main())
