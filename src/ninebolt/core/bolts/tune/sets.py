"""Tune's findings on profiles: one for each pack or purpose, judged by what its own pack can do."""

from __future__ import annotations

import math

from ninebolt.core.bike.cells import cell_empty_v, cell_full_v
from ninebolt.core.bike.chain import BMS_SHARE
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.path import charger_v
from ninebolt.core.bolts.common import finite
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.bolts.tune.written import fit_mode
from ninebolt.core.build import Build, TuneProfile
from ninebolt.core.finding import q

CAP_SLACK = 1.001
FULL_SLACK = 1.005


def span(build: Build, p: TuneProfile) -> tuple[float, float] | None:
    """Empty and full volts of a profile's pack; None while its cells or their number are unknown."""
    series, cell = p.series or build.pack.series, build.pack.cell
    if not series or math.isnan(cell_full_v(cell)):
        return None
    return series * cell_empty_v(cell), series * cell_full_v(cell)


def pack_a(build: Build, p: TuneProfile) -> tuple[float, str]:
    """Line amps that a profile's pack allows for good, and by what; inf where nothing is known."""
    rows = [(math.inf, "")]
    if p.bms_a.known:
        rows.append((BMS_SHARE * p.bms_a.taken, "its BMS"))
    parallel, each = p.parallel or build.pack.parallel, build.pack.cell.i_cont_a.amount
    if parallel and each is not None:
        rows.append((parallel * each, "its cells"))
    return min(rows)


@check("tune.profile_open", "a profile for another pack does not say which", parts=("tune",))
def profile_open(bike: Bike) -> list[Says]:
    return [
        Says(
            "caution",
            f"{p.name or 'A profile'} does not say which pack it is for",
            "Cells in series decide every cut-off; without them it is the build's own set under another name.",
            0.0,
            1.0,
            at=str(i),
        )
        for i, p in enumerate(bike.build.tune.profiles)
        if p.purpose == "pack" and p.series is None and not (p.parallel or p.bms_a.known)
    ]


@check("tune.profile_charger", "a profile's pack is full before its charger ends, or which charger it has is open",
       parts=("tune", "guard.charger"))  # fmt: skip
def profile_charger(bike: Bike) -> list[Says]:
    build, out = bike.build, []
    usual = finite(charger_v(build.guard.charger)) if build.guard.charger.there else None
    for i, p in enumerate(build.tune.profiles):
        own = span(build, p)
        ends = p.charger_v.amount if p.charger_v.known else usual
        if p.series is None or own is None or ends is None or ends <= own[1] * FULL_SLACK:
            continue
        told = p.charger_v.known
        out.append(
            Says(
                "stop" if told else "caution",
                f"{p.name} would be charged past full" if told else f"Which charger {p.name} has is not said",
                f"{'Its charger' if told else 'The build has one that'} ends at {q(ends, 'v')}; "
                f"this pack is full at {q(own[1], 'v')}. It needs its own, with a plug that fits no other pack.",
                ends, own[1], "v", at=str(i),
            )
        )  # fmt: skip
    return out


@check("tune.profile_pack", "a profile's pack carries less than the build's", parts=("tune",))
def profile_pack(bike: Bike) -> list[Says]:
    build, out = bike.build, []
    line = build.drive.controller.line_a.amount
    for i, p in enumerate(build.tune.profiles):
        amps, why = pack_a(build, p)
        if line is None or not (p.parallel or p.bms_a.known) or amps >= line:
            continue
        out.append(
            Says(
                "caution", f"{p.name} carries less than the controller is set to",
                f"By {why} it is {q(amps, 'a')}; set are {q(line, 'a')}. "
                "Write its profile before it is ridden, or it opens on the first pull.",
                line, amps, "a", at=str(i),
            )
        )  # fmt: skip
    return out


@check(
    "tune.profile_speed", "a profile is faster than brakes and tyres are fit for", parts=("tune",)
)
def profile_speed(bike: Bike) -> list[Says]:
    mode = fit_mode(bike)
    fit = mode.speed_m_s if mode else None
    return [
        Says(
            "caution",
            f"{p.name} wants more speed than the chassis is fit for",
            f"{q(p.speed_m_s.taken, 'm_s')} against {q(fit, 'm_s')}: the set holds it to the lower one.",
            p.speed_m_s.taken,
            fit,
            "m_s",
            at=str(i),
        )
        for i, p in enumerate(bike.build.tune.profiles)
        if fit is not None and p.speed_m_s.known and p.speed_m_s.taken > fit * CAP_SLACK
    ]


@check("tune.profile_twins", "two packs that volts cannot tell apart", parts=("tune",))
def profile_twins(bike: Bike) -> list[Says]:
    build, out = bike.build, []
    rows = [(p.name, span(build, p)) for p in build.tune.profiles if p.series is not None]
    own = build.pack.series
    for i, (name, its) in enumerate(rows):
        mine = span(build, TuneProfile(series=own)) if own else None
        if its is None or mine is None or its == mine or its[1] < mine[0] or mine[1] < its[0]:
            continue
        low, high = max(its[0], mine[0]), min(its[1], mine[1])
        out.append(
            Says(
                "note", f"{name} and the build's pack can read the same",
                f"From {q(low, 'v')} to {q(high, 'v')} a meter does not tell them apart: mark packs and plugs.",
                low, high, "v", at=str(i),
            )
        )  # fmt: skip
    return out


@check("tune.profile_bypass", "a profile rides with the BMS bypassed", parts=("tune",))
def profile_bypass(bike: Bike) -> list[Says]:
    return [
        Says(
            "caution",
            f"{p.name} rides past the BMS",
            "Nothing opens when one group is empty: its cut-off is higher, and group volts must be in sight.",
            1.0,
            0.0,
            at=str(i),
        )
        for i, p in enumerate(bike.build.tune.profiles)
        if p.purpose == "bypass"
    ]
