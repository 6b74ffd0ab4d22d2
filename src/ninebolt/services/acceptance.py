"""Was it what was wished: every wish of Goal, and the baseline, against what was measured."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.reach import reach
from ninebolt.core.bolts.donor.ledger import scale_of
from ninebolt.core.bolts.goal.wishes import WISHES, Check, spent, unpriced, wishes
from ninebolt.core.bolts.prove.splits import softness, unsaid, weather
from ninebolt.core.build import Build
from ninebolt.core.words import q
from ninebolt.errors import NineBoltError
from ninebolt.services import workshop
from ninebolt.services.charges import charges_of
from ninebolt.services.house import House
from ninebolt.services.log_figures import LogFigures, figures

SAME_M_S = 0.05
LOG_WAY_M = 5000.0  # of a log that says something of a range; a strip says nothing. Common practice, no source.
BOOK_SHARE = 0.05  # that Wh/km of charges written down may be off: charging loss, odometer. Common practice, no source.
SCALE_SHARE = 0.005  # of a pair of bathroom scales, the same
WEATHER = (
    "nobody says in what wind or on what slope, and a metre a second or a per cent would decide it"
)
# How a wish is measured.
HOW = {
    "top": "a log of a run on the flat, both ways",
    "time": "a log of a run from rest that reaches that speed",
    "range": "a log of a whole ride with volts and amps, or two charges in the book with their energy and odometer",
    "power": "a log with volts and amps from rest, mass weighed",
    "mass": "both axles on a scale, written down on Donor",
    "runs": "ride them, and write down what the pack took after it",
    "hill": "a log up that hill, its slope measured",
    "cost": "prices of the parts",
}


@dataclass(frozen=True, slots=True)
class Accepted:
    """One wish against what was measured. state: met, not met, undecided (the uncertainty spans it), not measured.
    how: how it is measured, where it was not, or what leaves it undecided."""

    what: str
    quantity: str
    wished: float
    measured: float | None
    u95: float | None
    baseline: float | None
    state: str
    how: str = ""


def acceptance(house: House, build_id: str) -> list[Accepted]:
    """Every wish against what was measured: the chosen log, scales, charges, prices. Raises NotFoundError."""
    build = workshop.shown_build(house, build_id)
    report = house.ride_of(build)
    goal, stock = build.goal, build.donor.stock
    bike = Bike(build, report)
    sky = weather(bike)  # a wish is not met down a hill
    aired = " with wind and slope taken off" if sky and sky.given else ""
    out: list[Accepted] = []
    if goal.top_speed_m_s.known:
        top, half = (report.top_speed_m_s, report.top_u95_m_s) if report else (None, None)
        if sky and sky.given and top is not None:
            half = math.hypot(half or 0.0, softness(bike)[1])
            top = top * sky.top if sky.top else None
        out.append(
            _judged(
                f"top speed{aired}",
                "m_s",
                goal.top_speed_m_s.taken,
                top,
                half,
                more=True,
                base=stock.top_m_s.amount,
                key="top",
                open_half=unsaid(bike)[1],
            )
        )
    if goal.to_time_s.known:
        mark = goal.to_speed_m_s.taken
        splits = report.splits if report else ()
        same = [
            s for s in splits if s.split.kind == "speed" and abs(s.split.mark - mark) < SAME_M_S
        ]
        time, sure = (same[0].split.time_s, same[0].u95_s) if same else (None, None)
        if sky and sky.given and time is not None:
            factor = sky.factors.get(same[0].split.name)
            sure = math.hypot(
                (factor or 1.0) * (sure or 0.0), softness(bike)[0].get(same[0].split.name, 0.0)
            )
            time = time * factor if factor else None
        base = stock.to_time_s.amount if abs(stock.to_m_s.or_else(0.0) - mark) < SAME_M_S else None
        out.append(
            _judged(
                f"time to the chosen speed{aired}",
                "s",
                goal.to_time_s.taken,
                time,
                sure,
                more=False,
                base=base,
                key="time",
                open_half=unsaid(bike)[0].get(same[0].split.name, 0.0) if same else 0.0,
            )
        )
    moved = report.moved if report else ""
    out = [_of_another(row, moved) for row in out]
    far = reach(bike)
    usable = far.usable_wh if far else None
    for c in wishes(bike).checks:
        if c.key not in ("top", "time") and c.want is not None:
            out.append(_of_wish(house, build_id, build, c, usable, moved))
    return out


def _of_wish(
    house: House, build_id: str, build: Build, c: Check, usable_wh: float | None, moved: str
) -> Accepted:
    """A wish that no standing start shows. moved: what was changed since the chosen log was ridden."""
    label, want = WISHES[c.key].lower(), c.want or 0.0
    if c.key == "range":
        logged = _logged_wh_km(house, build_id, build)
        found = logged or _charged_wh_km(house, build_id, build)
        if found is not None and usable_wh:
            each, half = found
            way = usable_wh / each * 1e3
            where = "in the chosen log" if logged else "by the charges in the book"
            row = replace(
                _judged(label, "m", want, way, way * half / each, more=True, key=c.key),
                how=f"{q(each, 'wh_km')} {where}, of {q(usable_wh, 'wh')} that are usable",
            )
            return _of_another(row, moved) if logged else row
    elif c.key == "power":
        found = _at_the_wheel(house, build_id, build)
        if found is not None:
            row = replace(
                _judged(label, "w", want, *found, more=True, key=c.key),
                how="peak out of the pack, and what of it mass and road say arrived",
            )
            return _of_another(row, moved)
    elif c.key == "mass":
        scale = scale_of(build)
        if scale is not None:
            kg = sum(scale)
            base = build.donor.mass_kg.amount
            return _judged(
                label, "kg", want, kg, SCALE_SHARE * kg, more=False, base=base, key=c.key
            )
    elif c.key == "cost" and c.have is not None:
        missing, cost = unpriced(build), spent(build)
        made = _judged(label, "money", want, cost, 0.0, more=False, key=c.key)
        if missing and cost <= want:
            words = f"{missing} {'part has' if missing == 1 else 'parts have'} no price yet"
            return replace(made, state="undecided", how=words)
        return made
    return _judged(label, c.quantity, want, None, None, more=True, key=c.key)


def _chosen(house: House, build_id: str, build: Build) -> LogFigures | None:
    """Figures of the chosen log; None where there is none, or it cannot be read."""
    if not build.prove.log_id:
        return None
    try:
        return figures(house, build_id, build.prove.log_id)
    except NineBoltError:
        return None


def _logged_wh_km(house: House, build_id: str, build: Build) -> tuple[float, float] | None:
    """(Wh/km, half its 95 % interval) of the chosen log; None where it is no ride, or shows none."""
    log = _chosen(house, build_id, build)
    rows = {x.key: x for x in log.ride.figures} if log else {}
    way, each = rows.get("way"), rows.get("wh_km")
    if way is None or each is None or way.value < LOG_WAY_M or not each.value > 0:
        return None
    return each.value, each.u95 or 0.0


def _charged_wh_km(house: House, build_id: str, build: Build) -> tuple[float, float] | None:
    """The same by the charges in the book, of the bike as it is."""
    _, mean = charges_of(house, build_id, build)
    return None if mean is None else (mean, BOOK_SHARE * mean)


def _at_the_wheel(house: House, build_id: str, build: Build) -> tuple[float, float] | None:
    """(peak at the wheel (W), half its 95 % interval) by the chosen log; None where it does not show it."""
    log = _chosen(house, build_id, build)
    rows = {x.key: x for x in log.run.figures} if log else {}
    peak, share = rows.get("peak_w"), rows.get("brought")
    if peak is None or share is None or not peak.value > 0 or not share.value > 0:
        return None
    at = peak.value * share.value
    return at, at * math.hypot((peak.u95 or 0.0) / peak.value, (share.u95 or 0.0) / share.value)


def _judged(
    what: str,
    quantity: str,
    wished: float,
    measured: float | None,
    u95: float | None,
    *,
    more: bool,
    key: str,
    base: float | None = None,
    open_half: float = 0.0,
) -> Accepted:
    """open_half: what wind and slope that nobody said may have done."""
    if measured is None:
        return Accepted(what, quantity, wished, None, None, base, "not measured", HOW[key])
    gap, half = (measured - wished) * (1 if more else -1), u95 or 0.0
    state = _state(gap, half)
    how = WEATHER if state != _state(gap, math.hypot(half, open_half)) else ""
    # Success is claimed where nothing that nobody said could have made it; short is short, and what may be why is said.
    state = "undecided" if how and state == "met" else state
    return Accepted(what, quantity, wished, measured, u95, base, state, how)


def _of_another(row: Accepted, moved: str) -> Accepted:
    """What a log says of the bike as it was meets no wish of this one, and misses none."""
    if not moved or row.measured is None:
        return row
    return replace(row, state="undecided", how=f"ridden before the bike was changed: {moved}")


def _state(gap: float, half: float) -> str:
    return "met" if gap >= half else "not met" if gap <= -half else "undecided"
