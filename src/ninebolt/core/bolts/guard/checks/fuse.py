"""The main fuse: there or not, what it protects, what it can break, what it does along the run."""

from __future__ import annotations

from ninebolt.core.bike.cells import CLASS_B_V
from ninebolt.core.bike.chain import BURST_S, FUSE_SHARE, advice, protected_least
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.opening import opening
from ninebolt.core.bike.path import cable_cont_a
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bolts.guard.limits import BARE_M, BREAKING_A, FULL_RANGE, FUSES_A, OVER_WEAKEST
from ninebolt.core.bolts.guard.sizes import larger_cable, next_volts, short_circuit_a
from ninebolt.core.bolts.guard.swaps import swaps_for
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Fix, Source, q, setting
from ninebolt.core.guard.fuse import opens_at, stands_a

PARTS = ("guard.fuse",)
SHORT = Source("computed", "Vfull / (Rpack + Rfuse)")
CURVE = Source("memory", "typical time-current curve of its class, or the one given")


@check("guard.no_fuse", "there is no main fuse, or nobody has looked", parts=PARTS)
def no_fuse(bike: Bike) -> Says | None:
    fuse, facts = bike.build.guard.fuse, pack_facts(bike)
    if fuse.there:
        return None
    short = short_circuit_a(bike)
    arc = f" {q(short, 'a')} flow into a short circuit of this pack." if short else ""
    fixes = swaps_for(bike, "guard.fuse")[:2]
    if fuse.there is None:
        return Says(
            "caution",
            "The main fuse is not looked at",
            f"Say which fuse it is, or that there is none.{arc} No first power before that.",
            0,
            1,
            fixes=fixes,
        )
    iso = bike.build.guard.isolator
    stands_in = bool(
        iso.kind == "breaker" and iso.there and iso.rated_for != "AC only"
        and facts and iso.dc_v.or_else(0.0) >= facts.full_v
        and short is not None and iso.breaking_a.or_else(0.0) >= short
    )  # fmt: skip
    return Says(
        "caution" if stands_in else "stop",
        "There is no main fuse",
        (
            f"The breaker is rated for this voltage and breaks the short circuit; it stands in.{arc}"
            if stands_in
            else f"Nothing ends a short circuit before the cable or a cell burns.{arc} Fit one at the "
            "pack's own pole, or a breaker whose DC voltage and breaking capacity are enough."
        ),
        0,
        1,
        fixes=fixes,
    )


@check(
    "guard.fuse_blank",
    "the fuse's DC voltage or breaking capacity is unknown",
    parts=PARTS,
)
def fuse_blank(bike: Bike) -> Says | None:
    fuse, facts = bike.build.guard.fuse, pack_facts(bike)
    if not fuse.there or facts is None:
        return None
    blank = [
        words
        for words, value in (("DC voltage", fuse.dc_v), ("breaking capacity", fuse.breaking_a))
        if not value.known
    ]
    if not blank:
        return None
    short = short_circuit_a(bike)
    arc = f" and break {q(short, 'a')}" if short else ""
    return Says(
        "caution",
        f"The fuse's {' and '.join(blank)} {'is' if len(blank) == 1 else 'are'} unknown",
        f"It must be rated for {q(facts.full_v, 'v')} DC{arc}: one made for vehicles or for mains "
        "may not put the arc out. Read its label before first power.",
        2 - len(blank),
        2,
    )


@check(
    "guard.fuse_cable",
    "the fuse carries more for ever than the cable",
    parts=("guard.fuse", "guard.cable"),
)
def fuse_cable(bike: Bike) -> Says | None:
    rated, cable = _rated(bike), cable_cont_a(bike.build.guard.cable)
    if rated is None or rated <= cable:
        return None
    return Says(
        "stop",
        "The fuse does not protect the cable",
        f"It carries {q(rated, 'a')} for ever; the cable reaches its limit at {q(cable, 'a')}. Fit a "
        "smaller fuse or a larger cable.",
        rated,
        cable,
        "a",
        source=Source("computed", "copper loss against still air, IEC 60028 resistivity"),
        fixes=(larger_cable(bike, rated),),
    )


@check(
    "guard.fuse_weakest",
    "the fuse carries more for ever than plug or isolator",
    parts=("guard.fuse",),
)
def fuse_weakest(bike: Bike) -> Says | None:
    rated, weak = _rated(bike), protected_least(bike)
    if rated is None or weak is None or weak.cont_a is None or weak.path == "guard.cable":
        return None
    if rated <= weak.cont_a:
        return None
    to = _protecting(bike, weak.cont_a)
    holds = _holds(bike, to)
    return Says(
        "stop" if rated > OVER_WEAKEST * weak.cont_a else "caution",
        f"The fuse does not protect the {weak.label.lower()}",
        f"It carries {q(rated, 'a')} for ever; the {weak.label.lower()} carries "
        f"{q(weak.cont_a, 'a')}: it melts first. "
        + (
            f"Fit {q(to, 'a')}, or a larger {weak.label.lower()}."
            if holds
            else f"{q(to, 'a')} would protect it and open on a full-throttle run: a larger {weak.label.lower()}, or "
            "fewer line amps and the smaller fuse."
        ),
        rated,
        weak.cont_a,
        "a",
        parts=("guard.fuse", weak.path),
        fixes=(*((_fit(to),) if holds else ()), *swaps_for(bike, weak.path, rated)[:1]),
    )


@check(
    "guard.fuse_part",
    "an overload that the fuse's own curve does not end is more than the path stands",
    parts=("guard.fuse",),
)
def fuse_part(bike: Bike) -> Says | None:
    """A part-range fuse ends short circuits alone."""
    rated, weak, g = _rated(bike), protected_least(bike), bike.build.guard
    if rated is None or weak is None or weak.cont_a is None or not g.fuse.melts:
        return None
    first = g.fuse.melts[0][0]
    if first <= FULL_RANGE or first * rated <= weak.cont_a:
        return None
    through = bool(g.bms.there and g.bms.discharge == "through")
    return Says(
        "caution" if through else "stop",
        "The fuse ends no overload",
        f"By its curve it opens from {first:g} times its rating on, {q(first * rated, 'a')}; the {weak.label.lower()} "
        f"carries {q(weak.cont_a, 'a')}. Between the two "
        + ("the BMS alone ends it." if through else "nothing ends it.")
        + " One for the full range, or, if the curve is not all typed, its lower points.",
        first * rated,
        weak.cont_a,
        "a",
    )


def _rated(bike: Bike) -> float | None:
    fuse = bike.build.guard.fuse
    return fuse.rated_a.amount if fuse.there else None


def _protecting(bike: Bike, cont_a: float) -> float:
    """The largest usual fuse that is not above a continuous current."""
    return max((a for a in FUSES_A if a <= cont_a), default=FUSES_A[0])


def _holds(bike: Bike, amps: float) -> bool:
    """Whether a fuse of a rating stays closed along the run and the session."""
    run, melts = opening(bike), bike.build.guard.fuse.melts
    return run is None or opens_at(run.t_s, run.line_a, amps, melts) is None


def _larger(bike: Bike, amps: float) -> tuple[tuple[Fix, ...], str]:
    """(the fix, what stands against it) of a larger fuse: none that would not protect what it is there for."""
    weak, chosen = protected_least(bike), advice(bike)
    if weak is None or weak.cont_a is None or amps <= weak.cont_a:
        return (_fit(amps),), ""
    words = (
        f" {q(amps, 'a')} would be enough and not protect the {weak.label.lower()}, which carries "
        f"{q(weak.cont_a, 'a')}: a larger {weak.label.lower()} with it, or fewer line amps."
    )
    return ((chosen.fix,) if chosen else ()), words


def _fit(amps: float) -> Fix:
    return Fix(f"Fit a {amps:.0f} A fuse", (setting("guard.fuse.rated_a", amps, "label"),))


@check("guard.fuse_run", "the fuse opens along the run or session", parts=PARTS, source=CURVE)
def fuse_run(bike: Bike) -> Says | None:
    run, rated = opening(bike), _rated(bike)
    opens = run.fuse if run else None
    if run is None or opens is None or rated is None:
        return None
    melts = bike.build.guard.fuse.melts
    fixes, but = _larger(bike, next((a for a in FUSES_A if _holds(bike, a)), FUSES_A[-1]))
    chosen = advice(bike)
    return Says(
        "stop",
        "The fuse opens on a full-throttle run",
        f"{q(opens.line_a, 'a')} is {opens.line_a / rated:.1f} times its {q(rated, 'a')}; by its "
        f"curve it melts after {q(opens.t_s, 's')}{opens.words} near {q(opens.speed_m_s, 'm_s')}; "
        f"for {q(BURST_S, 's')} it stands {q(stands_a(rated, BURST_S, melts), 'a')}. A fuse "
        f"protects the path; it is no current limiter.{but}",
        opens.line_a,
        rated,
        "a",
        fixes=(*fixes, *((chosen.fix,) if chosen and chosen.fix not in fixes else ())),
    )


@check("guard.fuse_load", "the fuse's continuous load is above its share", parts=PARTS)
def fuse_load(bike: Bike) -> Says | None:
    run, rated = opening(bike), _rated(bike)
    if run is None or rated is None or run.fuse is not None:
        return None
    worked = run.worked_a
    if worked <= FUSE_SHARE * rated:
        return None
    fixes, but = _larger(bike, next((a for a in FUSES_A if FUSE_SHARE * a >= worked), FUSES_A[-1]))
    return Says(
        "caution",
        "The fuse runs warm and ages",
        f"{run.words} its load is {q(worked, 'a')} RMS; for good a fuse takes {FUSE_SHARE:.0%} of its "
        f"{q(rated, 'a')}. It tires, and opens one day without a fault.{but}",
        worked,
        FUSE_SHARE * rated,
        "a",
        fixes=fixes,
    )


@check("guard.fuse_wide", "the fuse is far above the line amps", parts=PARTS)
def fuse_wide(bike: Bike) -> Says | None:
    rated, load = _rated(bike), load_a(bike)
    if rated is None or load is None or FUSE_SHARE * rated <= 2.0 * load:
        return None
    want = next((a for a in FUSES_A if FUSE_SHARE * a >= load), FUSES_A[-1])
    return Says(
        "note",
        "The fuse is far above what flows",
        f"{q(rated, 'a')} for line amps of {q(load, 'a')}: a chafed lead can burn for long before it "
        f"melts. {q(want, 'a')} is enough.",
        rated,
        want,
        "a",
        fixes=(_fit(want),),
    )


@check("guard.fuse_dc", "the fuse's DC voltage is below the full pack", parts=PARTS)
def fuse_dc(bike: Bike) -> Says | None:
    fuse, facts = bike.build.guard.fuse, pack_facts(bike)
    volts = fuse.dc_v.amount if fuse.there else None
    if facts is None or volts is None or volts >= facts.full_v:
        return None
    return Says(
        "stop",
        "The fuse cannot break this voltage",
        f"It is rated for {q(volts, 'v')} DC, the pack stands at {q(facts.full_v, 'v')} full: the "
        "arc would not go out.",
        facts.full_v,
        volts,
        "v",
        source=Source("practice", "rated DC voltage of a fuse is a ceiling; common practice"),
        fixes=(next_volts("Fit a fuse", "guard.fuse.dc_v", facts.full_v),),
    )


@check(
    "guard.fuse_break", "the fuse cannot break the pack's short circuit", parts=PARTS, source=SHORT
)
def fuse_break(bike: Bike) -> Says | None:
    fuse, facts, short = bike.build.guard.fuse, pack_facts(bike), short_circuit_a(bike)
    broken = fuse.breaking_a.amount if fuse.there else None
    if facts is None or broken is None or short is None or broken >= short:
        return None
    enough = next((b for b in BREAKING_A if b >= short), BREAKING_A[-1])
    return Says(
        "stop",
        "The fuse cannot break a short circuit of this pack",
        f"{q(facts.full_v, 'v')} through {q(facts.full_v / short, 'ohm')} is {q(short, 'a')} right "
        f"behind the fuse; its breaking capacity is {q(broken, 'a')}.",
        short,
        broken,
        "a",
        fixes=(
            Fix(
                f"Fit a fuse that breaks {enough / 1000:.0f} kA",
                (setting("guard.fuse.breaking_a", enough, "label"),),
            ),
        ),
    )


@check("guard.fuse_place", "the fuse sits far from the pack's pole", parts=PARTS)
def fuse_place(bike: Bike) -> Says | None:
    fuse = bike.build.guard.fuse
    away = fuse.from_pack_m.amount if fuse.there else None
    if away is None or away <= BARE_M:
        return None
    return Says(
        "caution",
        "The fuse is too far from the pack",
        f"{q(away, 'm')} of lead between the pole and the fuse is protected by nothing: if it chafes "
        "through, only the cells limit the current. Put the fuse at the pole.",
        away,
        BARE_M,
        "m",
        fixes=(Fix("Move it to the pole", (setting("guard.fuse.from_pack_m", 0.05, "label"),)),),
    )


@check("guard.fuse_where", "a pack above 60 V whose fuse place nobody knows", parts=PARTS)
def fuse_where(bike: Bike) -> Says | None:
    fuse, facts = bike.build.guard.fuse, pack_facts(bike)
    if not fuse.there or facts is None or facts.full_v <= CLASS_B_V or fuse.from_pack_m.known:
        return None
    return Says(
        "note",
        "Where the fuse sits is not written down",
        f"At the pole, within {q(BARE_M, 'm')}: all that lies before it is protected by nothing.",
        0,
        1,
    )
