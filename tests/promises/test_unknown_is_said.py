"""Silence is an answer, and a wrong one: a value that decides something, put to unknown in a demo build, brings a
finding or is named as missing. What need not be said is listed, with why."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator
from functools import cache
from typing import Any

import pytest

from builds import assess, changed
from ninebolt.core.codec import encode, fields_of
from ninebolt.library.demo import DEMOS

UNKNOWN = {"amount": None, "origin": "guess", "tolerance": None}

# Path, or its last word, or a beginning that ends in a dot -> why nothing need be said.
QUIET: dict[str, str] = {
    # Money, names and places: no judgement of safety or figures hangs on one of them alone.
    "price_money": "a cost that is missing is said in the ledger of costs",
    "mass_kg": "the ledger and the part's own mass say so as donor.unweighed",
    "x_m": "where a thing sits is guessed by its kind, and drawn", "y_m": "the same", "z_m": "the same",
    "cg_x_m": "the donor's own centre is guessed from its kind", "cg_y_m": "the same",
    "donor.candidates.": "unknown cells of a table, marked there", "donor.salvage.": "the same",
    "donor.stock.": "the donor as it was: what is not known of it is no base for comparison",
    "donor.ratings.": "another rating of the donor stands in, else donor.must_change says it",
    "donor.wheel_radius_m": "the tyre says it",
    "donor.bays.": "another bay, or the outline, holds the pack; none at all is donor.no_bay",
    "donor.frame_changes.": "what it carries is asked by donor.frame_open, its inspection where it does",
    # A wish that is not made is not missed.
    "goal.": "no wish, no shortfall",
    # Assumed with a wide stated tolerance: they are in the band and in 'measure this next'.
    "r1_ohm": "assumed, in the band", "tau_s": "the same", "r_ohm": "the same", "interconnect_ohm": "the same",
    "heat_j_k": "from the mass", "r_switch_ohm": "the same", "fixed_w": "the same", "drag_nm": "the same",
    "drag_nm_s_rad": "the same", "rotor_kg_m2": "the same", "efficiency": "the same", "wheel_kg_m2": "the same",
    "grip_mu": "the same", "knee_a": "without it iron is taken not to saturate, in the band", "road.": "the same",
    "lq_henry": "taken like the d axis", "reduction": "none fitted is one to one",
    # Of a chemistry, or of a count of one.
    "full_v": "the chemistry's", "nominal_v": "the same", "empty_v": "the same", "inner_series": "one cell a body",
    "inner_parallel": "the same", "stacked": "one charger", "arms": "none counted", "stand_for.": "not said is no",
    "altered": "an unaltered board is the rule", "bench_run": "asked where the controller was hurt",
    "bms_in_bay": "guard says where it goes", "vent": "asked of a metal box", "pitch_m": "from the diameter",
    "case_kg": "in the ledger", "balance_a": "level groups need none", "rested_v": "a reading nobody has to take",
    "claimed_wh": "no claim, no check", "start_c": "air", "fw_id_a": "off", "ramp_s": "none",
    # Said by something else that stands already in these builds.
    "phase_cont_a": "the heat paths say what is held", "surge_w": "its rated power stands in",
    "guard.dcdc.loads.": "always on, no surge", "load_w": "no lights, no load", "outer_m": "no bend is judged",
    "both_ways": "asked where the motor brakes", "common_port": "the same", "bend_m": "no bend is judged",
    "guard.plug.i_peak_a": "asked where the line amps are above its continuous rating",
    "c_bus_farad": "asked once the precharge is looked at", "dropout_m": "gear.hub_open stands",
    "i_peak_a": "the continuous rating holds them", "length_m": "it drops no volts worth a word",
    "guard.phase_cable.length_m": "the same",
    "rim_m": "the tyre's code says the usual rim", "gap_m": "no neighbour is judged",
    "rotor_m": "the other value of the rotor stands in", "rotor_kg": "the same",
    "gear.fork.": "the stance is drawn from what is known, gear.stance_open asks", "gear.shock.": "the same",
    "gear.steering.": "the same", "gear.fit.": "no rider's fit is asked for",
    "gear.run.slot_m": "asked once the axle has to move", "gear.run.forward_m": "the same",
    "gear.run.front_most": "every pair is shown", "gear.run.rear_most": "the same",
    "confirmed": "not said is not confirmed: wire.confirm or wire.halls stand",
    "tune.profiles.": "a profile has its own finding",
    "throttle_supply_v": "the usual five volts",
}  # fmt: skip


def leaves(doc: Any, path: str = "") -> Iterator[tuple[str, Any]]:
    """Every known number, count and flag of a document."""
    if isinstance(doc, dict) and "amount" in doc:
        if doc["amount"] is not None:
            yield path, UNKNOWN
    elif isinstance(doc, dict):
        for key, x in doc.items():
            yield from leaves(x, f"{path}.{key}" if path else key)
    elif isinstance(doc, list) and not (doc and isinstance(doc[0], (int, float, list))):
        for i, x in enumerate(doc):
            yield from leaves(x, f"{path}.{i}")
    elif isinstance(doc, (bool, int)):
        yield path, None


def quiet(path: str) -> bool:
    last = path.rpartition(".")[2]
    return (
        path.startswith(("marks.", "prove.", "format_version"))
        or path in QUIET
        or last in QUIET
        or any(path.startswith(k) or f".{k}" in path for k in QUIET if k.endswith("."))
    )


@cache
def said(name: str) -> tuple[frozenset[str], frozenset[str]]:
    return seen(DEMOS[name]())


def seen(build: Any) -> tuple[frozenset[str], frozenset[str]]:
    """(keys of what is found, with their severity, and what is gathered as unknown; paths that are missing)."""
    a = assess(build)
    return (
        frozenset(
            f"{f.severity} {f.key} {f.reason if f.reason.startswith('Unknown:') else ''}"
            for b in a.bolts
            for f in b.findings
        ),
        frozenset(p for b in a.bolts for p in b.missing),
    )


CASES = [
    (name, path, value)
    for name in ("pip-72", "moss-84", "brakka-96")
    for path, value in leaves(encode(DEMOS[name]()))
    if not quiet(path)
]


def test_there_are_many_to_try() -> None:
    assert len(CASES) > 150


@pytest.mark.parametrize(("name", "path", "value"), CASES, ids=[f"{n}-{p}" for n, p, _ in CASES])
def test_an_unknown_is_said(name: str, path: str, value: Any) -> None:
    found, missing = seen(changed(DEMOS[name](), {path: value}))
    before, lacked = said(name)
    assert found - before or missing - lacked, f"{path} unknown, and nobody says so"


# Choice -> why its unknown may be as quiet as the best answer.
QUIET_CHOICES: dict[str, str] = {
    "presence": "a part with values in it has been looked at; an empty one is said, as the row tests show",
    "guard.isolator.rated_for": "its DC voltage is written, which says it; without that it is guard.isolator_blank",
    "guard.plug.condition": "of a new plug nobody asks; of a used one guard.plug_worn does",
    "pack.other.chemistry": "no other pack is joined in these builds",
    "tune.throttle_kind": "the readings of its ends say what it is",
    "drive.controller.condition": "asked where parts were used before",
    "damage": "an unknown part of a table is marked there",
}


def choices() -> Iterator[tuple[str, str, str, list[str]]]:
    """(build, path, unknown, answers) of every choice that can be left unknown."""

    def walk(obj: Any, path: str) -> Iterator[tuple[str, str, list[str]]]:
        if isinstance(obj, tuple):
            for i, x in enumerate(obj):
                yield from walk(x, f"{path}.{i}")
        elif dataclasses.is_dataclass(obj):
            for name, (spec, _) in fields_of(type(obj)).items():
                here = f"{path}.{name}".strip(".")
                if spec is None or spec.kind != "choice":
                    yield from walk(getattr(obj, name), here)
                elif open_ := [o for o in spec.options if o in ("unknown", "not looked at")]:
                    yield here, open_[0], [o for o in spec.options if o != open_[0]]

    for name in ("pip-72", "moss-84", "brakka-96"):
        for path, unsaid, answers in walk(DEMOS[name](), ""):
            if not quiet(path):
                yield name, path, unsaid, answers


def weight(keys: frozenset[str]) -> tuple[int, int, int]:
    return (
        sum(k.startswith("stop") for k in keys),
        sum(k.startswith("caution") for k in keys),
        len(keys),
    )


@pytest.mark.parametrize(
    ("name", "path", "unsaid", "answers"), choices(), ids=lambda x: x if isinstance(x, str) else ""
)
def test_an_unknown_choice_is_not_as_quiet_as_the_best(
    name: str, path: str, unsaid: str, answers: list[str]
) -> None:
    """Where one answer is a stop or a caution and another is none, not to know is said."""
    if path in QUIET_CHOICES or path.rpartition(".")[2] in QUIET_CHOICES:
        return
    found = sorted((seen(changed(DEMOS[name](), {path: a}))[0] for a in answers), key=weight)
    if weight(found[0])[:2] != weight(found[-1])[:2]:
        assert seen(changed(DEMOS[name](), {path: unsaid}))[0] != found[0], path
