"""Each limit of the thrust as a line of its own, and where the power of a point goes."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from ninebolt.core.kernel import kernel
from ninebolt.core.simulate.case import Floats, LineLimit, RunCase, numbers
from ninebolt.core.vehicle.road import grip_accel, road_loads, wheelie_accel

ENDLESS = 50.0  # times the phase amps: no limit to anything here
FREE_MODULATION = 1e3


@dataclass(frozen=True, slots=True)
class LimitLine:
    """Thrust (N) over the speeds if only this limit held. choke: its class; label: in words."""

    choke: str
    label: str
    thrust_n: list[float]


@dataclass(frozen=True, slots=True)
class Losses:
    """Where the power goes at each speed (W), throttle open. efficiency: at the ground over what leaves
    the cells, 0 at rest. duty: volts used over volts there are."""

    cells_w: list[float]
    path_w: list[float]
    controller_w: list[float]
    copper_w: list[float]
    drag_w: list[float]
    chain_w: list[float]
    wheel_w: list[float]
    efficiency: list[float]
    duty: list[float]


def limit_lines(case: RunCase, speeds: Sequence[float]) -> tuple[LimitLine, ...]:
    """Phase amps, each limit of pack current, volts, and what the ground takes."""
    return tuple(_lines(case, np.asarray(speeds, dtype=np.float64)))


def _lines(case: RunCase, speeds: Floats) -> Iterator[LimitLine]:
    machine = case.machine
    no_volts = dataclasses.replace(machine, modulation=FREE_MODULATION, fw_a=0.0)
    soft = dataclasses.replace(
        case, floor_v=0.0, limits=(), thermal=None, ramp_s=0.0, cap_m_s=math.inf
    )
    much = ENDLESS * case.phase_a
    phase = _free(dataclasses.replace(soft, machine=no_volts), speeds)
    yield LimitLine("phase", "phase amps", phase)
    if case.cap_m_s < speeds[-1]:
        steep = np.where(speeds > case.cap_m_s, 0.0, ENDLESS * max(phase))
        yield LimitLine("throttle", "speed cap", steep.tolist())
    for x in case.limits:
        if math.isfinite(x.amps):
            only = dataclasses.replace(soft, machine=no_volts, phase_a=much, limits=(x,))
            yield LimitLine(
                x.choke, f"{NAMES.get(x.choke, x.choke)} {x.amps:.0f} A", _free(only, speeds)
            )
    sag = dataclasses.replace(soft, machine=no_volts, phase_a=much, floor_v=case.floor_v)
    if math.isfinite(case.floor_v) and case.floor_v > 0.0:
        yield LimitLine("cells", "cut-off volts", _free(sag, speeds))
    yield LimitLine("volts", "volts", _free(dataclasses.replace(soft, limits=_most(case)), speeds))
    yield from _ground(case, speeds)


NAMES = {"line": "line", "cells": "cells", "BMS": "BMS", "path": "plug"}


def _most(case: RunCase) -> tuple[LineLimit, ...]:
    """The volts are those that the pack has at the current that it may give."""
    limit = case.line_limit()
    return (limit,) if math.isfinite(limit.amps) else ()


def _free(case: RunCase, speeds: Floats) -> list[float]:
    """Thrust that the drive could push, held to zero."""
    c, xs, ys = numbers(case)
    out = kernel().envelope(c, xs, ys, float(case.start_soc), float(case.start_temp_c), speeds)
    return [max(0.0, float(x)) for x in out[:, 11]]


def _ground(case: RunCase, speeds: Floats) -> Iterator[LimitLine]:
    """Thrust at which the front wheel lifts, and at which the tyre slips."""
    load = road_loads(case.body, speeds)
    lifts, slips = wheelie_accel(case.body, load.aero_n), grip_accel(case.body, load)
    for key, words, accel in (
        ("wheelie", "front wheel lifts", lifts),
        ("grip", "tyre slips", slips),
    ):
        thrust = np.maximum(0.0, accel * case.effective_kg + load.total_n)
        if np.isfinite(thrust).all():
            yield LimitLine(key, words, np.broadcast_to(thrust, speeds.shape).tolist())


def losses(case: RunCase, speeds: Sequence[float]) -> Losses:
    """By the kernel's own operating points, so that they add up: cells = all losses + the wheel."""
    c, xs, ys = numbers(case)
    v = np.asarray(speeds, dtype=np.float64)
    out = kernel().envelope(c, xs, ys, float(case.start_soc), float(case.start_temp_c), v)
    line, bus, iq, id_, copper, inverter, shaft = (out[:, i] for i in (2, 4, 6, 7, 8, 9, 10))
    line, thrust = out[:, 2], out[:, 0]
    omega = v * case.ratio / case.radius_m
    cells_ohm = case.pack_ohm - case.path_ohm
    drag = (case.drag_nm + case.drag_nm_s_rad * omega) * omega
    wheel = thrust * v
    chain = shaft * omega - wheel
    in_cells, in_path = cells_ohm * line**2, case.path_ohm * line**2
    whole = line * bus + in_cells + in_path
    needed = [
        kernel().volts_needed(
            c,
            float(case.machine.r_ohm),
            float(case.machine.flux_vs),
            float(w * case.machine.pole_pairs),
            float(a),
            float(d),
        )
        for w, a, d in zip(omega, iq, id_, strict=True)
    ]
    duty = np.minimum(1.0, np.asarray(needed) / np.maximum(bus, 1e-9))
    share = np.where(whole > 1.0, np.maximum(wheel, 0.0) / np.maximum(whole, 1.0), 0.0)
    return Losses(
        *(
            x.tolist()
            for x in (in_cells, in_path, inverter, copper, drag, chain, wheel, share, duty)
        )
    )
