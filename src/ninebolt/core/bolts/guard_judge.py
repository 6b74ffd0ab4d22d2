"""Judgements of the Guard bolt: each part against the pack, the controller and its neighbours."""

from __future__ import annotations

import math

from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bolts.common import CLASS_B_V, Notes
from ninebolt.core.build import Build
from ninebolt.core.finding import PRACTICE, Change, Fix, Source, q, setting
from ninebolt.core.guard.conductors import continuous_amps
from ninebolt.core.guard.isolation import MIN_OHM_PER_V, isolation_ohm
from ninebolt.core.guard.precharge import peak_w, time_to_share_s
from ninebolt.core.guard.trip import Trip
from ninebolt.core.simulate.assemble import cable_cont_a, cell_full_v, path_ohm, take

BUILD = Source("build", "ratings in this build")
FUSE_MARGIN = 1.25  # fuse over continuous load. Common practice, no source.
BMS_TOO_LARGE = 2.5  # BMS over cell continuous: protects nothing. Common practice, no source.
Narrow = list[tuple[str, float, str]]


def judge_all(
    build: Build,
    notes: Notes,
    facts: PackFacts | None,
    narrow: Narrow,
    load: float | None,
    trip: Trip | None,
) -> None:
    """All checks of the bolt, written into notes."""
    _bms_series(build, notes)
    if build.guard.bms.discharge == "bypassed":
        _bypass(build, notes)
    else:
        _bms_current(build, notes, facts, load, trip)
    _fuse(build, notes, facts, load)
    _isolator_and_plug(build, notes, facts, load)
    _cable(build, notes, load)
    _precharge(build, notes, facts)
    _charger(build, notes, facts)
    _dcdc(build, notes, facts)
    _isolation(build, notes, facts)


def _bms_series(build: Build, notes: Notes) -> None:
    watched, series = build.guard.bms.series, build.pack.series
    if watched is None or series is None or watched == series:
        return
    notes.add(
        "stop",
        "bms_series",
        "The BMS is for another number of cells",
        f"It watches {watched} in series, the pack has {series}. It would not start, or leave "
        "cells unwatched.",
        BUILD,
        measured=watched,
        limit=series,
        parts=("guard.bms", "pack"),
        fixes=(Fix(f"Take a BMS for {series} in series", (Change("guard.bms.series", series),)),),
    )


def _bypass(build: Build, notes: Notes) -> None:
    notes.add(
        "caution",
        "bypass",
        "Discharge goes around the BMS",
        "While riding nothing watches single cells: not too low a cell, not over-current, not "
        "heat. In its place there must be a DC fuse, the controller's low-voltage cut-off set for "
        "the weakest cell, and a temperature you can read. A weak cell can still be driven into "
        "reversal.",
        PRACTICE,
        parts=("guard.bms",),
        measured=0,
        limit=1,
        fixes=(Fix("Put the BMS back in the path", (Change("guard.bms.discharge", "through"),)),),
    )


def _bms_current(
    build: Build, notes: Notes, facts: PackFacts | None, load: float | None, trip: Trip | None
) -> None:
    bms = build.guard.bms
    cont = bms.i_cont_a.amount
    if cont is None:
        return
    peak = bms.i_peak_a.or_else(cont)
    set_cont = Fix(
        f"Set line amps to {cont:.0f} A", (setting("drive.controller.line_a", math.floor(cont)),)
    )
    if load is not None and load > peak:
        notes.add(
            "stop",
            "bms_peak",
            "The BMS opens at full throttle",
            f"Line amps {q(load, 'a')} exceed the BMS's peak {q(peak, 'a')}; it will cut out at "
            f"once. Set {q(cont, 'a')}, or fit a BMS of {q(load, 'a')} or more.",
            BUILD,
            measured=load,
            limit=peak,
            quantity="a",
            parts=("guard.bms", "drive.controller"),
            fixes=(set_cont,),
        )
    elif trip is not None:
        notes.add(
            "stop",
            "bms_trip",
            "The BMS cuts out on a full-throttle run",
            f"Line amps {q(trip.line_a, 'a')} exceed its continuous {q(cont, 'a')}; after "
            f"{q(take(bms, 'peak_s'), 's')} of that it opens near {q(trip.speed_m_s, 'm_s')}. Set "
            f"{q(cont, 'a')}, or fit a BMS of {q(trip.line_a, 'a')} or more.",
            BUILD,
            measured=trip.line_a,
            limit=cont,
            quantity="a",
            parts=("guard.bms", "drive.controller"),
            fixes=(set_cont,),
        )
    elif load is not None and load > cont:
        notes.add(
            "caution",
            "bms_cont",
            "Line amps are above the BMS's continuous current",
            f"{q(load, 'a')} against {q(cont, 'a')}: one run passes, a long hill may not.",
            BUILD,
            measured=load,
            limit=cont,
            quantity="a",
            parts=("guard.bms",),
            fixes=(set_cont,),
        )
    if facts and math.isfinite(facts.cont_a) and cont > BMS_TOO_LARGE * facts.cont_a:
        notes.add(
            "caution",
            "bms_large",
            "The BMS is too large to protect these cells",
            f"It opens above {q(cont, 'a')}; the cells stand {q(facts.cont_a, 'a')}. Let the "
            "controller hold the current, and choose a BMS nearer to the cells.",
            PRACTICE,
            measured=cont,
            limit=BMS_TOO_LARGE * facts.cont_a,
            quantity="a",
            parts=("guard.bms",),
        )


def _fuse(build: Build, notes: Notes, facts: PackFacts | None, load: float | None) -> None:
    fuse = build.guard.fuse
    rated = fuse.rated_a.amount
    if rated is None:
        return
    cable = cable_cont_a(build.guard.cable)
    if rated > cable * 1.05:
        notes.add(
            "stop",
            "fuse_cable",
            "The fuse does not protect the cable",
            f"It carries {q(rated, 'a')} for ever; the cable reaches its insulation limit at "
            f"{q(cable, 'a')}. Fit a smaller fuse or a larger cable.",
            Source("computed", "copper loss against still air, IEC 60028 resistivity"),
            measured=rated,
            limit=cable,
            quantity="a",
            parts=("guard.fuse", "guard.cable"),
            fixes=(_larger_cable(build, rated),),
        )
    if load is not None and rated * 2.0 < load:
        notes.add(
            "stop",
            "fuse_small",
            "The fuse blows at full throttle",
            f"{q(load, 'a')} is more than twice its {q(rated, 'a')}.",
            PRACTICE,
            measured=load,
            limit=rated * 2.0,
            quantity="a",
            parts=("guard.fuse",),
            fixes=(
                Fix(
                    f"Fit a {math.ceil(load / 1.5 / 25) * 25} A fuse",
                    (setting("guard.fuse.rated_a", math.ceil(load / 1.5 / 25) * 25),),
                ),
            ),
        )
    if facts is None:
        return
    if fuse.dc_v.amount is not None and fuse.dc_v.amount < facts.full_v:
        notes.add(
            "stop",
            "fuse_dc",
            "The fuse cannot break this voltage",
            f"It is rated for {q(fuse.dc_v.amount, 'v')} DC, the pack stands at "
            f"{q(facts.full_v, 'v')} full: the arc would not go out.",
            Source("practice", "rated DC voltage of a fuse is a ceiling; common practice"),
            measured=facts.full_v,
            limit=fuse.dc_v.amount,
            quantity="v",
            parts=("guard.fuse",),
            fixes=(_next_volts("Fit a fuse", "guard.fuse.dc_v", facts.full_v),),
        )
    short = facts.full_v / (facts.r_ohm + path_ohm(build.guard))
    if fuse.breaking_a.amount is not None and fuse.breaking_a.amount < short:
        notes.add(
            "stop",
            "fuse_break",
            "The fuse cannot break a short circuit of this pack",
            f"{q(facts.full_v, 'v')} through {q(facts.full_v / short, 'ohm')} is "
            f"{q(short, 'a')}; its breaking capacity is {q(fuse.breaking_a.amount, 'a')}.",
            Source("computed", "Vfull / Rtotal"),
            measured=short,
            limit=fuse.breaking_a.amount,
            quantity="a",
            parts=("guard.fuse",),
            fixes=(
                Fix(
                    "Fit a fuse that breaks 20 kA",
                    (setting("guard.fuse.breaking_a", 20_000.0, "label"),),
                ),
            ),
        )


def _next_volts(what: str, path: str, need: float) -> Fix:
    step = next((v for v in (80.0, 100.0, 125.0, 150.0, 250.0, 500.0) if v >= need), 1000.0)
    return Fix(f"{what} for {step:.0f} V DC", (setting(path, step, "label"),))


def _larger_cable(build: Build, amps: float) -> Fix:
    sections = (10, 16, 25, 35, 50, 70, 95)  # IEC 60228 nominal sections, mm²
    cable = build.guard.cable
    ambient = take(cable, "ambient_c")
    rise = take(cable, "temp_max_c") - ambient
    fit = next((s for s in sections if continuous_amps(s * 1e-6, rise, ambient) >= amps), 95)
    return Fix(f"Take {fit} mm² cable", (setting("guard.cable.section_m2", fit * 1e-6, "label"),))


def _isolator_and_plug(
    build: Build, notes: Notes, facts: PackFacts | None, load: float | None
) -> None:
    g = build.guard
    for path, label, volts, cont, peak in (
        (
            "guard.isolator",
            g.isolator.kind,
            g.isolator.dc_v.amount,
            g.isolator.i_cont_a.amount,
            None,
        ),
        (
            "guard.plug",
            "main plug",
            g.plug.dc_v.amount,
            g.plug.i_cont_a.amount,
            g.plug.i_peak_a.amount,
        ),
    ):
        key = path.split(".")[1]
        if facts and volts is not None and volts < facts.full_v:
            notes.add(
                "stop",
                f"{key}_v",
                f"The {label} is not rated for this voltage",
                f"{q(volts, 'v')} DC against {q(facts.full_v, 'v')} full: opened under load it "
                "can weld or burn.",
                BUILD,
                measured=facts.full_v,
                limit=volts,
                quantity="v",
                parts=(path,),
                fixes=(_next_volts(f"Fit a {label}", f"{path}.dc_v", facts.full_v),),
            )
        if load is not None and cont is not None and load > (peak or cont * 1.5):
            want = math.ceil(load / 1.3 / 10) * 10
            changes = [setting(f"{path}.i_cont_a", want, "label")]
            if peak is not None:
                changes.append(setting(f"{path}.i_peak_a", want * 1.6, "label"))
            notes.add(
                "caution",
                f"{key}_a",
                f"The {label} is small for the line amps",
                f"{q(load, 'a')} against {q(cont, 'a')} continuous"
                + (f" and {q(peak, 'a')} peak" if peak else "")
                + ". Contacts heat, and a plug not pushed home burns at the first full throttle.",
                BUILD,
                measured=load,
                limit=peak or cont,
                quantity="a",
                parts=(path,),
                fixes=(Fix(f"Fit one of {want} A", tuple(changes)),),
            )


def _cable(build: Build, notes: Notes, load: float | None) -> None:
    cont = cable_cont_a(build.guard.cable)
    if load is not None and load > cont * 1.6:
        notes.add(
            "caution",
            "cable",
            "The battery cable is thin for the line amps",
            f"It carries {q(cont, 'a')} for ever at its insulation limit; full throttle asks "
            f"{q(load, 'a')}.",
            Source("computed", "copper loss against still air"),
            measured=load,
            limit=cont,
            quantity="a",
            parts=("guard.cable",),
            fixes=(_larger_cable(build, load / 1.4),),
        )


def _precharge(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    cap, r = build.drive.controller.c_bus_farad.amount, build.guard.precharge.r_ohm.amount
    if facts is None or facts.full_v <= CLASS_B_V:
        return
    if r is None:
        notes.add(
            "caution",
            "no_precharge",
            "There is no precharge",
            f"Closing onto empty capacitors at {q(facts.full_v, 'v')} pits or welds the contact. "
            "A resistor across it for a second is enough.",
            PRACTICE,
            measured=facts.full_v,
            limit=CLASS_B_V,
            quantity="v",
            parts=("guard.precharge",),
            fixes=(
                Fix(
                    "Fit 150 Ω, 25 W",
                    (
                        setting("guard.precharge.r_ohm", 150.0, "label", 0.05),
                        setting("guard.precharge.rated_w", 25.0, "label", 0.0),
                    ),
                ),
            ),
        )
        return
    rated = build.guard.precharge.rated_w.amount
    if rated is not None and peak_w(r, facts.full_v) > 10.0 * rated:
        notes.add(
            "caution",
            "precharge_w",
            "With the load on, the precharge resistor burns",
            f"It would stand {q(peak_w(r, facts.full_v), 'w')} for good, rated "
            f"{q(rated, 'w')}: keep converter and lights off until the contactor is in.",
            PRACTICE,
            measured=peak_w(r, facts.full_v),
            limit=10.0 * rated,
            quantity="w",
            parts=("guard.precharge",),
        )
    if cap is not None and time_to_share_s(r, cap, 0.95) > 5.0:
        notes.add(
            "note",
            "precharge_slow",
            "Precharge takes long",
            f"{q(time_to_share_s(r, cap, 0.95), 's')} to 95 %.",
            Source("computed", "3 R C"),
            measured=time_to_share_s(r, cap, 0.95),
            limit=5.0,
            quantity="s",
        )


def _charger(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    charger, cell = build.guard.charger, build.pack.cell
    out, amps = charger.out_v.amount, charger.i_a.amount
    if facts and out is not None and abs(out - facts.full_v) > 0.006 * facts.full_v:
        high = out > facts.full_v
        series = build.pack.series or 1
        notes.add(
            "stop" if high else "caution",
            "charger_v",
            "The charger is for another pack" if high else "The charger does not fill the pack",
            f"It ends at {q(out, 'v')}, {series} cells are full at {q(facts.full_v, 'v')} "
            f"({q(out / series, 'v')} a cell against {q(cell_full_v(cell), 'v')}).",
            BUILD,
            measured=out,
            limit=facts.full_v,
            quantity="v",
            parts=("guard.charger",),
            fixes=(
                Fix(
                    f"Take a charger of {facts.full_v:.1f} V",
                    (setting("guard.charger.out_v", facts.full_v, "label", 0.003),),
                ),
            ),
        )
    limit = build.guard.bms.i_charge_a.amount
    if amps is not None and limit is not None and amps > limit:
        notes.add(
            "stop",
            "charger_a",
            "The BMS opens while charging",
            f"The charger gives {q(amps, 'a')}, the BMS takes {q(limit, 'a')}.",
            BUILD,
            measured=amps,
            limit=limit,
            quantity="a",
            parts=("guard.charger", "guard.bms"),
            fixes=(Fix(f"Charge at {limit:.0f} A", (setting("guard.charger.i_a", limit),)),),
        )
    cell_limit = cell.i_charge_a.amount
    if amps is not None and cell_limit is not None and build.pack.parallel:
        most = cell_limit * build.pack.parallel
        if amps > most:
            notes.add(
                "stop",
                "charger_cells",
                "The charger is too strong for the cells",
                f"{q(amps / build.pack.parallel, 'a')} a cell against {q(cell_limit, 'a')}.",
                BUILD,
                measured=amps,
                limit=most,
                quantity="a",
                parts=("guard.charger",),
                fixes=(Fix(f"Charge at {most:.0f} A", (setting("guard.charger.i_a", most),)),),
            )


def _dcdc(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    dcdc = build.guard.dcdc
    top = dcdc.in_max_v.amount
    if facts and top is not None and top < facts.full_v:
        notes.add(
            "stop",
            "dcdc_v",
            "The step-down converter cannot take the full pack",
            f"Its input ends at {q(top, 'v')}, the pack is {q(facts.full_v, 'v')} full. It fails, "
            "and may put pack voltage on the lights.",
            BUILD,
            measured=facts.full_v,
            limit=top,
            quantity="v",
            parts=("guard.dcdc",),
            fixes=(_next_volts("Take a converter", "guard.dcdc.in_max_v", facts.full_v),),
        )
    load, rated = dcdc.load_w.amount, dcdc.rated_w.amount
    if load is not None and rated is not None and load > 0.8 * rated:
        notes.add(
            "caution",
            "dcdc_w",
            "The converter has little left",
            f"{q(load, 'w')} of lights on {q(rated, 'w')}; lamps and horn surge at switch-on.",
            PRACTICE,
            measured=load,
            limit=0.8 * rated,
            quantity="w",
            parts=("guard.dcdc",),
        )


def isolation_of(build: Build) -> float | None:
    """Measured isolation in ohms per volt of the pack; None until all five readings are there."""
    test = build.guard.isolation
    readings = (test.pack_v, test.minus_v, test.plus_v, test.known_ohm, test.loaded_v)
    if not all(v.known for v in readings):
        return None
    pack_v, minus, plus, known, loaded = (v.or_else(0.0) for v in readings)
    larger = max(minus, plus)
    if larger <= 0.0 or loaded <= 0.0:
        return None
    return isolation_ohm(pack_v, larger, loaded, known) / pack_v


def _isolation(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    per_v = isolation_of(build)
    source = Source("standard", "UN R100 / R136, ISO 6469-3: at least 100 Ω/V for DC")
    if per_v is not None and per_v < MIN_OHM_PER_V:
        notes.add(
            "stop",
            "isolation",
            "The pack leaks to the frame",
            f"{per_v:.0f} Ω per volt; at least {MIN_OHM_PER_V:.0f} is asked. A hand on the frame "
            "and one on a pole is then a circuit. Find the wet plug or the chafed lead first.",
            source,
            measured=per_v,
            limit=MIN_OHM_PER_V,
            parts=("guard.isolation",),
        )
    elif per_v is None and facts and facts.full_v > CLASS_B_V:
        notes.add(
            "note",
            "isolation_open",
            "Isolation is not measured yet",
            f"Above {q(CLASS_B_V, 'v')} measure each pole to the frame, then the larger again with "
            "a known resistor across it: insulated probes, one hand, no jewellery.",
            source,
            measured=0,
            limit=MIN_OHM_PER_V,
            parts=("guard.isolation",),
        )
