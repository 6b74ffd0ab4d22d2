"""A session as something that can be handed to a rival."""

from __future__ import annotations

import csv
import io
import math
from contextlib import suppress

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.gearing import gear_ratio
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.build import Build
from ninebolt.core.logs.protocols import measure
from ninebolt.core.logs.ride import RideReport, analyse
from ninebolt.core.logs.session import SessionVerdict, Trial
from ninebolt.errors import NineBoltError, NotFoundError
from ninebolt.formats.report import Attached, Chapter, Table, Trace
from ninebolt.formats.report_page import write_page
from ninebolt.formats.report_pdf import write_report
from ninebolt.formats.sheet import safe
from ninebolt.formats.spoken import say
from ninebolt.formats.spoken import sentence as spoken
from ninebolt.formats.when import with_zone
from ninebolt.services import sessions, workshop
from ninebolt.services.house import House
from ninebolt.services.moved import in_words
from ninebolt.services.session_setups import RiddenSetup, as_ridden
from ninebolt.services.sessions import SessionView
from ninebolt.store import rides
from ninebolt.store.database import session
from ninebolt.units import KM_H_PER_M_S

ATTACHED = "The runs as they were written down, and the logs as they came"
BESIDE = (
    "The runs as they were written down, and the build's chosen log, which is of none of these runs"
)
_NO_LOG = "No log belongs to these runs: the values above are all there is."
_GONE = "The logs of these runs cannot be drawn any more: the values above are all there is."
_NOT_THEIRS = "No log belongs to these runs. Drawn is the log that is chosen for the build: it proves none of them."
MOST_FILES = 12
MOST_BYTES = 20_000_000
COLUMNS = (
    "setup", "value", "soc", "mass_kg", "wind_m_s", "air_c", "slope_pct", "rider", "front_teeth", "rear_teeth", "tyre",
    "tyre_bar", "surface", "pressure_hpa", "note", "discarded", "at",
)  # fmt: skip


def session_report(
    house: House, build_id: str, session_id: str, paper: str = "a4", page: bool = False
) -> tuple[str, bytes]:
    """(file name, PDF, or one page of HTML). Raises NotFoundError, InputError."""
    build = workshop.kept_build(house, build_id)
    view = next((s for s in sessions.book(house, build_id) if s.id == session_id), None)
    if view is None:
        raise NotFoundError(f"This build has no session '{session_id[:40]}'.")
    reports, files, left = _logs(house, build, build_id, view)
    own = any(t.log_id for t in view.trials)
    chapters = [
        Chapter("What was compared", _setup(_as_ridden(house, build, build_id, view), view)),
        _runs(view),
        _shown(view),
        Chapter(
            "Traces",
            _of_whom(own, reports),
            traces=tuple(
                Trace(r.name, r.t_s, [v * KM_H_PER_M_S for v in r.speed_m_s]) for r in reports
            ),
            unit="km/h",
        ),
        Chapter(
            "Quality of the data", tuple(_quality(r) for r in reports) or ("No log to judge.",)
        ),
        Chapter(
            "Attached",
            (
                f"{ATTACHED if own or not reports else BESIDE}: {', '.join(f.name for f in files)}.",
                *left,
            ),
        ),
    ]
    title = f"{view.name}: {', '.join(view.setups)} ({view.protocol})"
    name = f"{build.name}-{view.name}-report"
    if page:
        return f"{name}.html", write_page(title, chapters, files)
    return f"{name}.pdf", write_report(title, chapters, files, paper)


def _of_whom(own: bool, reports: list[RideReport]) -> tuple[str, ...]:
    """What has to be said of the traces. own: a run has a log."""
    if own:
        return () if reports else (_GONE,)
    return (_NOT_THEIRS if reports else _NO_LOG,)


def _setup(build: Build, view: SessionView) -> tuple[str, ...]:
    m, c, p = build.drive.motor, build.drive.controller, build.pack
    perf = bare_performance(Bike(build))
    mass = f"{perf.case.body.mass_kg:.0f} kg with rider" if perf else "mass with rider not known"
    rules = view.plan.rules if view.plan else ()
    return (
        f"Bike: {build.name}. Pack {p.series or '?'} in series, {p.parallel or '?'} parallel. "
        f"Motor {m.name or 'not named'}; controller {c.name or 'not named'}; ratio {_ratio(build)}; {mass}.",
        f"Set to {_say(c.line_a.amount, ' A')} out of the pack, {_say(c.phase_a.amount, ' A')} of phase; rear tyre "
        f"{build.gear.tyre.code or 'not written'}.",
        f"Planned and begun {with_zone(view.at)}. Protocol: {view.protocol}.",
        *(f"{r.setup}: {_ridden(r)}" for r in view.ridden),
        *(f"Held alike: {r}" for r in rules),
    )


def _ratio(build: Build) -> str:
    ratio = gear_ratio(build)
    return f"{ratio:.3g}" if math.isfinite(ratio) else "not known"


def _ridden(r: RiddenSetup) -> str:
    """As what a setup was ridden, in words."""
    if not r.seqs:
        return "nobody wrote down as what it was ridden."
    of = f"change{'s' if r.seqs[1:] else ''} {', '.join(map(str, r.seqs))} of the build"
    sets = (
        "no set written by this program"
        if not r.sets
        else f"{len(r.sets)} written set" + ("s" if r.sets[1:] else "")
    )
    more = f"; {in_words(r.moved)}" if r.moved else ""
    if r.expected is not None:
        more += f"; the planner expects {r.expected:+.3g} of it against the first"
    return f"{of}, {sets}{more}."


def _as_ridden(house: House, build: Build, build_id: str, view: SessionView) -> Build:
    """The bike of the first setup, as it stood then; today's where nobody knows."""
    builds = as_ridden(house, build_id, view.trials, build.name)
    return next((builds[s] for r in view.ridden for s in r.seqs if s in builds), build)


def _say(x: float | None, unit: str = "", factor: float = 1.0) -> str:
    return "not written" if x is None else f"{factor * x:.4g}{unit}"


def _runs(view: SessionView) -> Chapter:
    rows = tuple(
        (
            str(i + 1),
            t.setup,
            say(t.value, view.quantity),
            _say(t.soc, " %", 100.0),
            _say(t.mass_kg, " kg"),
            _say(t.wind_m_s, " m/s"),
            _say(t.air_c, " C"),
            "; ".join(
                x for x in (f"discarded: {t.discarded}" if t.discarded else t.note, _under(t)) if x
            ),
        )
        for i, t in enumerate(view.trials)
    )
    better = "more" if measure(view.protocol, view.quantity).more else "less"
    heads = ("run", "setup", "value", "charge", "mass", "head wind", "air", "note")
    widths = (0.05, 0.2, 0.1, 0.11, 0.11, 0.11, 0.09, 0.23)
    return Chapter(f"Runs ({better} is better)", table=Table(heads, widths, rows))


def _under(t: Trial) -> str:
    """What else was written down of a run."""
    rows = (
        t.rider, t.tyre, t.surface, f"{t.tyre_bar:g} bar" if t.tyre_bar is not None else "",
        f"{t.pressure_hpa:g} hPa" if t.pressure_hpa is not None else "",
        f"slope {t.slope_pct:g} %" if t.slope_pct is not None else "",
        f"{t.front_teeth}/{t.rear_teeth}" if t.front_teeth and t.rear_teeth else "",
    )  # fmt: skip
    return ", ".join(x for x in rows if x)


def _shown(view: SessionView) -> Chapter:
    v: SessionVerdict | None = view.verdict
    if v is None:
        return Chapter("What they show", (view.problem or "Nothing yet.",))
    words = [spoken(v.sentence)]
    for s in v.summaries:
        half = f" ± {say(s.half95, v.quantity)} (95 %)" if s.half95 is not None else ""
        half = half or (", one run only" if s.n == 1 else ", all read the same")
        best = say(s.best, v.quantity)
        words.append(f"{s.name}: {s.n} runs, mean {say(s.mean, v.quantity)}{half}, best {best}.")
    for d in v.differences:
        span = (
            f" ({say(d.low, v.quantity)} to {say(d.high, v.quantity)})" if d.low is not None else ""
        )
        p = f", p = {d.p:.3g}" if d.p is not None else ""
        gap = ("+" if d.diff > 0 else "") + say(d.diff, v.quantity)
        words.append(
            f"{d.first} to {d.second}: {gap}{span}, {100 * d.share:+.1f} %{p} (Welch, Holm)."
        )
    if v.corrected:
        equal = f"With {' and '.join(v.corrected_for)} made equal by the model"
        words += [f"{equal}: {spoken(d.sentence)}" for d in v.corrected]
    words += [f"{s.weight}: {spoken(s.sentence)}" for s in v.spoilers]
    words += [f"Discarded: {x}" for x in v.discarded]
    words += [p.sentence for p in view.percents]
    if view.felt_words:
        words.append(view.felt_words)
    return Chapter("What they show", tuple(words))


def _logs(
    house: House, build: Build, build_id: str, view: SessionView
) -> tuple[list[RideReport], list[Attached], tuple[str, ...]]:
    """The logs that belong to the runs, else the chosen one: analysed, as they came, and words for what is left out."""
    wanted = list(dict.fromkeys(t.log_id for t in view.trials if t.log_id))
    if not wanted and build.prove.log_id:
        wanted = [build.prove.log_id]
    files = [Attached("runs.csv", _csv(view))]
    reports: list[RideReport] = []
    size = gone = large = 0
    with session(house.path) as db:
        for log_id in wanted:
            if not rides.has_log(db, build_id, log_id):
                gone += 1
                continue
            name, _, data = rides.log_data(db, log_id)
            size += len(data)
            if size > MOST_BYTES or len(files) > MOST_FILES:
                large += 1
                continue
            files.append(Attached(name, data))
            with suppress(
                NineBoltError
            ):  # it was imported once; what it lacks now is the build's wheel
                reports.append(analyse(house.rolled(build, log_id)))
    left = []
    if gone:
        left.append(f"{_logs_are(gone)} not in the list any more.")
    if large:
        left.append(
            f"{_logs_are(large)} not attached: more than {MOST_FILES} files or {MOST_BYTES / 1e6:.0f} MB."
        )
    return reports, files, tuple(left)


def _logs_are(n: int) -> str:
    return f"{n} log of these runs is" if n == 1 else f"{n} logs of these runs are"


def _quality(r: RideReport) -> str:
    why = f", because {'; '.join(r.quality_why)}" if r.quality_why else ""
    said = f" {'. '.join(r.issues)}." if r.issues else ""
    return f"{r.name}: {r.quality}{why}. {r.rate_hz:.1f} samples a second.{said}"


VALUE = {"s": "time [s]", "m_s": "speed [m/s]", "m": "distance [m]"}  # as compare reads them again


def _csv(view: SessionView) -> bytes:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(VALUE[view.quantity] if c == "value" else c for c in COLUMNS)
    for t in view.trials:
        row = [getattr(t, c) for c in COLUMNS]
        writer.writerow("" if x is None else safe(x) if isinstance(x, str) else x for x in row)
    return out.getvalue().encode()
