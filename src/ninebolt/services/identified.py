"""An identification: of whose motor, what it found beside the build, and as changes of the build."""

from __future__ import annotations

from collections.abc import Callable, Generator
from contextlib import closing
from dataclasses import dataclass
from typing import Any

from ninebolt.core.bike.path import lead_ohm
from ninebolt.core.build import Build
from ninebolt.core.drive.constants import kv_dc_bus
from ninebolt.core.finding import q
from ninebolt.core.parts.drive import Motor
from ninebolt.core.setting.ours import BY_NAME, IDENTIFY, STEPS
from ninebolt.core.setting.sets import Profile
from ninebolt.errors import ConflictError, LinkError, NotFoundError
from ninebolt.link.port import Port
from ninebolt.link.routines import BrokenOff, Identified, identify
from ninebolt.services import workshop
from ninebolt.services.house import House

IDENTIFICATION = "An identification"
# What it finds of the motor; the rest is the controller's to be told.
MOTOR = ("r_phase_ohm", "l_phase_henry", "kv_rpm_v")
MAY_TURN = "The motor may turn still: disconnect the pack."
LET_GO = "The connection was let go while the motor was being identified."


@dataclass(frozen=True, slots=True)
class Turned:
    """Where an identification stands. build_id and motor: whose it is, '' and None where nobody said. other: the build
    that the controller was written for last, where it is another."""

    found: Identified
    build_id: str
    motor: Motor | None
    other: str = ""


@dataclass(frozen=True, slots=True)
class FoundValue:
    """One value beside the build's. before: what the controller would see of the build's motor, None where that is not
    known. left: why it is not taken over, '' where it is."""

    key: str
    label: str
    quantity: str
    before: float | None
    measured: float
    left: str


def at_rest(port: Port, kind: Profile) -> None:
    """Raises ConflictError while the controller itself says that it is identifying a motor: begun here, in another
    window or by another program."""
    step = port.read(IDENTIFY["step"]) if kind.identify else 0
    if isinstance(step, int) and 0 < step < STEPS.index("done"):
        raise ConflictError(
            "The controller is identifying its motor.", got=STEPS[step],
            todo="Wait until it has ended, or disconnect the pack.",
        )  # fmt: skip


def turning(
    port: Port,
    kind: Profile,
    build_id: str,
    build: Build | None,
    let_go: Callable[[], str],
    other: str = "",
) -> Generator[Turned]:
    """Start it and follow it. other: as in Turned. let_go: why its connection is not there any more, '' while it is.
    Raises LinkError."""
    motor = build.drive.motor if build else None
    try:
        # Left to itself, a stop that fails would not be heard of.
        with closing(identify(port, kind)) as steps:
            for found in steps:
                yield Turned(found, build_id, motor, other)
    except LinkError as error:
        if why := let_go():
            raise LinkError(why) from error
        if isinstance(error, BrokenOff):
            raise
        raise LinkError(
            error.what, where=error.where, got=error.got, expected=error.expected, silent=error.silent,
            todo=f"{MAY_TURN} {error.todo}".strip(),
        ) from error  # fmt: skip


def same_motor(turned: Turned, build_id: str, build: Build) -> None:
    """Raises ConflictError for another build than the motor is of, or where the motor in it is another by now."""
    if turned.build_id and turned.build_id != build_id:
        raise ConflictError(
            "That motor was identified for another build.", got=build_id, expected=turned.build_id,
            todo="Take it over there, or identify it for this one.",
        )  # fmt: skip
    if turned.other:
        raise ConflictError(
            "The controller that identified it was written for another build last.", got=turned.other,
            todo="Take it over there; or, if it is in this bike now, write this build's set into it first and identify "
            "again.",
        )  # fmt: skip
    was, now = turned.motor, build.drive.motor
    if was is not None and _which(was) != _which(now):
        raise ConflictError(
            "The motor in this build is another than when it was identified.", got=now.name or now.kind,
            expected=was.name or was.kind, todo="Identify this one, or put the other back.",
        )  # fmt: skip


def _which(m: Motor) -> tuple[object, ...]:
    return m.name, m.kind, m.pole_pairs, m.label_w.amount, m.mass_kg.amount


def beside(build: Build, found: dict[str, float]) -> list[FoundValue]:
    """What was measured beside what the controller would see of the motor in the build: through its lead, KV a volt of
    the bus."""
    m, lead = build.drive.motor, lead_ohm(build.guard)
    kv = kv_dc_bus(m.kv_rpm_v.taken, m.kv_convention) if m.kv_rpm_v.known else None
    r = m.r_phase_ohm.amount
    rows = (
        ("r_phase_ohm", "Phase resistance, with its lead", "ohm", None if r is None else r + lead),
        ("l_phase_henry", "Phase inductance", "henry", m.l_phase_henry.amount),
        ("kv_rpm_v", "KV, rpm a volt of the bus", "rpm_v", kv),
        ("hall_order", "Order of the halls", "", None),
        ("hall_offset_deg", "Hall offset", "deg", None),
        ("direction", "Direction", "", None),
    )
    return [
        FoundValue(key, label, quantity, before, found[key], _left(key, found[key], lead))
        for key, label, quantity, before in rows
        if key in found
    ]


def beside_build(house: House, build_id: str, found: dict[str, float]) -> list[FoundValue]:
    """The same for a build by its id; empty where nobody said whose motor it is, or the build is gone by now."""
    if not build_id or not found:
        return []
    try:
        return beside(workshop.kept_build(house, build_id), found)
    except NotFoundError:
        return []


def _left(key: str, value: float, lead: float) -> str:
    """Why a value is not taken over, '' where it is."""
    if key in MOTOR and value <= 0.0:
        return "Not taken: the controller measured none."
    if key == "r_phase_ohm" and value <= lead:
        has = f"its lead alone has {q(lead, 'ohm')} by the length and section in Guard"
        return f"Not taken: {has}. One of the two is wrong."
    return ""


def adopted(build: Build, found: dict[str, float]) -> list[dict[str, Any]]:
    """An identification as changes of the build: measured values, KV in the build's own convention. A controller sees a
    phase through its lead, which stands in the build by itself: it comes off."""
    own = {"r_phase_ohm": lead_ohm(build.guard)}
    measured = {"origin": "measured", "tolerance": 0.02}
    found = {r.key: r.measured - own.get(r.key, 0.0) for r in beside(build, found) if not r.left}
    out: list[dict[str, Any]] = [
        {"path": f"drive.motor.{name}", "value": {"amount": found[name], **measured}}
        for name in MOTOR
        if name in found
    ]
    if "kv_rpm_v" in found:
        out.append({"path": "drive.motor.kv_convention", "value": "dc_bus"})
    chosen = {p.name: p.value for p in build.tune.chosen}
    for name in ("hall_offset_deg", "direction"):
        if name in found:
            chosen[name] = round(found[name], 1)
    order = f"{found.get('hall_order', 0):.0f}"
    if len(order) == 6:
        for place, edge in enumerate(order, 1):
            chosen[f"hall_{place}_deg"] = 60.0 * (int(edge) - 1)
    if len(out) or chosen:
        rows = [{"name": n, "value": v} for n, v in chosen.items() if n in BY_NAME]
        out.append({"path": "tune.chosen", "value": rows})
    return out
