"""The bike with this set written: amps and cut-off as they are recommended or set by hand, whatever the build says of
them now. Everything else in the set is derived from that bike."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bike.cells import cell_empty_v
from ninebolt.core.bike.chain import advice
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.path import floor_v
from ninebolt.core.bike.ride import assembled, pack_facts
from ninebolt.core.bike.running import TopMode, top_mode_at
from ninebolt.core.bolts.tune.limits import BYPASS_V, GENTLE_LINE, GENTLE_PHASE, NO_AMPS_A
from ninebolt.core.drive.constants import amps_peak
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.steady import envelope, top_speed, top_weakened
from ninebolt.core.simulate.thrust import back_emf_v, free_weakening_a

HALVINGS = 14
Made = tuple[str, float, str, str]  # name, value, constraint, bound


@fact
def amps(bike: Bike) -> tuple[Made, ...]:
    """Line amps, phase amps and cut-off: what the parts alone decide."""
    out: list[Made] = []
    build, facts, told = bike.build, pack_facts(bike), advice(bike)
    gentle = build.tune.margin == "gentle"
    if told:
        line = math.floor(told.amps * GENTLE_LINE) if gentle else told.amps
        share = f"{GENTLE_LINE:.0%} of " if gentle else ""
        out.append(("line_a", line, f"{share}the chain: {told.words}", "most"))
    phase = phase_most(bike)
    if phase:
        peak = math.floor(phase[0] * (GENTLE_PHASE if gentle else 1.0))
        share = f"{GENTLE_PHASE:.0%} of " if gentle else ""
        out.append(("phase_a", peak, share + phase[1], "most"))
    if facts and not math.isnan(facts.empty_v):
        low, why = least_cut_off(bike, facts)
        out.append(("lvc_v", round(low, 2), why, "least"))
    return tuple(out)


def least_cut_off(bike: Bike, facts: PackFacts) -> tuple[float, str]:
    """Lowest cut-off that saves the cells, and why: before the BMS opens; with a BMS that is bypassed a tenth of a volt
    a cell earlier, for the weakest group has nobody else."""
    pack, bms = bike.build.pack, bike.build.guard.bms
    series, empty = pack.series or 0, cell_empty_v(pack.cell)
    if bms.discharge == "bypassed":
        return (
            facts.empty_v + BYPASS_V * series,
            f"{series} cells at {empty + BYPASS_V:.2f} V: no BMS opens behind it",
        )
    before = series * (bms.cell_low_v.or_else(0.0) + 0.05)
    if before > facts.empty_v:
        return before, "a little before the BMS opens"
    return facts.empty_v, f"{series} cells at {empty:.2f} V"


def phase_most(bike: Bike) -> tuple[float, str] | None:
    """Peak phase amps that controller and motor stand, and which of them says so."""
    c, m = bike.build.drive.controller, bike.build.drive.motor
    rows = [
        (amps_peak(c.phase_max_a.or_else(math.inf), c.amp_basis), "the controller's rating"),
        (amps_peak(m.phase_max_a.or_else(math.inf), m.amp_basis), "the motor's peak"),
    ]
    best = min(rows)
    return best if math.isfinite(best[0]) else None


def by_hand(bike: Bike) -> dict[str, float]:
    """What of the set is set by hand."""
    return {p.name: p.value for p in bike.build.tune.chosen}


def _case(bike: Bike, case: RunCase, fw_a: float) -> RunCase:
    values = {r[0]: r[1] for r in amps(bike)} | by_hand(bike)
    line, phase, floor = (values.get(n) for n in ("line_a", "phase_a", "lvc_v"))
    if line is not None:
        most = min(line, bike.build.drive.controller.line_max_a.or_else(math.inf))
        case = replace(
            case,
            limits=tuple(replace(x, amps=most) if x.choke == "line" else x for x in case.limits),
        )
    if floor is not None:
        case = replace(case, floor_v=floor_v(bike.build, floor))
    return replace(
        case,
        phase_a=case.phase_a if phase is None else max(phase, float(NO_AMPS_A)),
        machine=replace(case.machine, fw_a=fw_a),
    )


@dataclass(frozen=True, slots=True)
class Written:
    """The numbers of the bike with the set, how fast it is (m/s), and what holds it from rest."""

    case: RunCase
    top_m_s: float
    first: str

    @property
    def lunges(self) -> bool:
        """Whether the front wheel lifts, or the tyre slips, from rest."""
        return self.first in ("wheelie", "grip")


def unweakened(bike: Bike) -> RunCase | None:
    """Without field weakening; None while the build does not compute."""
    case = assembled(bike).case
    return None if case is None else _case(bike, case, 0.0)


@fact
def written(bike: Bike) -> Written | None:
    """With all of the set; None while the build does not compute."""
    plain = unweakened(bike)
    if plain is None:
        return None
    case = _case(bike, plain, by_hand(bike).get("fw_id_a", weakening(bike)[1]))
    return Written(case, top_speed(case).speed_m_s, envelope(case, 1.0, 2).choke[0])


@fact
def fit_mode(bike: Bike) -> TopMode | None:
    """What brakes and tyres are judged fit for, at the top speed of the set."""
    made = written(bike)
    return None if made is None else top_mode_at(bike, made.top_m_s)


@fact
def safe_weakening(bike: Bike) -> float | None:
    """Most weakening amps that keep back-EMF under the controller's ceiling, on the road and with the wheel in the air;
    None while that is not known. On the road bisected on the steady top speed."""
    case, ceiling = unweakened(bike), bike.build.drive.controller.v_max_v.amount
    if case is None or ceiling is None:
        return None

    def emf(fw_a: float) -> float:
        return back_emf_v(case, top_weakened(case, fw_a))

    facts, c = pack_facts(bike), bike.build.drive.controller
    low, high = 0.0, case.phase_a
    if facts is not None:
        turns = c.erpm_max_rpm.or_else(math.inf)
        high = min(high, free_weakening_a(case, facts.full_v, ceiling, turns))
    if emf(high) <= ceiling:
        return high
    for _ in range(HALVINGS):
        mid = 0.5 * (low + high)
        low, high = (mid, high) if emf(mid) <= ceiling else (low, mid)
    return low


@fact
def weakening(bike: Bike) -> Made:
    """Off, unless all is wanted or the wished top speed needs it; never past what is safe."""
    safe, case, wish = (
        safe_weakening(bike),
        unweakened(bike),
        bike.build.goal.top_speed_m_s.amount,
    )
    if safe is None:
        return "fw_id_a", 0.0, "off: the controller's ceiling is not known", "most"
    if bike.build.tune.margin == "everything":
        return (
            "fw_id_a",
            math.floor(safe),
            "as far as back-EMF at speed stays under the ceiling",
            "most",
        )
    if case is not None and wish is not None and top_weakened(case, 0.0) < wish:
        least = weakening_for(case, wish)
        why = "the wished top speed needs it"
        if safe < least:
            why = "the wished top speed needs more, and back-EMF would pass the ceiling in the air or downhill"
        return "fw_id_a", math.floor(min(safe, least)), why, "most"
    return "fw_id_a", 0.0, "off: no wish needs it, and it heats", "most"


def weakening_for(case: RunCase, wish: float) -> float:
    """Least weakening amps that reach a top speed; all phase amps where none does."""
    low, high = 0.0, case.phase_a
    if top_weakened(case, high) < wish:
        return high
    for _ in range(12):
        mid = 0.5 * (low + high)
        low, high = (low, mid) if top_weakened(case, mid) >= wish else (mid, high)
    return high
