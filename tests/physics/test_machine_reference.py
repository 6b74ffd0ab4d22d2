"""Machine equations against motulator, a general-purpose drive-simulation library.

Its numbers lie in tests/references/machine.json (library, version, inputs, script beside them).
The library's machine has constant parameters, so this holds our formulas and units (peak-valued
currents, line to neutral), not saturation.
"""

from __future__ import annotations

import json
import math
from pathlib import Path

import pytest

from ninebolt.core.drive.point import Machine, Solver, Supply

DATA = json.loads((Path(__file__).parents[1] / "references" / "machine.json").read_text())
ROWS = [
    (name, body["par"], point)
    for name, body in DATA["machines"].items()
    for point in body["points"]
]


@pytest.mark.parametrize(("name", "par", "point"), ROWS)
def test_voltage_torque_and_power(
    name: str, par: dict[str, float], point: dict[str, float]
) -> None:
    """Tolerance 1e-6: what is left of the library's transient when it stands."""
    machine = Machine(
        int(par["n_p"]),
        par["psi_f"],
        par["R_s"],
        par["L_d"],
        par["L_q"],
        math.inf,
        1.0,
        0.0,
        0.0,
        0.0,
    )
    solver = Solver(machine)
    we = point["w_m_rad_s"] * par["n_p"]
    iq, id_ = point["iq_a"], point["id_a"]
    line_peak = math.sqrt(3) * math.hypot(point["ud_v"], point["uq_v"])
    assert solver.volts_needed(we, iq, id_) == pytest.approx(line_peak, rel=1e-6)
    assert solver.power(we, iq, id_) == pytest.approx(point["power_w"], rel=1e-6)
    torque = 1.5 * par["n_p"] * (par["psi_f"] + (par["L_d"] - par["L_q"]) * id_) * iq
    assert torque == pytest.approx(point["torque_nm"], rel=1e-6)


def test_weakening_reaches_the_librarys_point() -> None:
    """Given that point's voltage and currents as limits, the solver finds it again."""
    par, point = DATA["machines"]["round"]["par"], DATA["machines"]["round"]["points"][2]
    machine = Machine(
        5, par["psi_f"], par["R_s"], par["L_d"], par["L_q"], math.inf, 1.0, 0.0, 0.0, -point["id_a"]
    )
    bus = math.sqrt(3) * math.hypot(point["ud_v"], point["uq_v"])
    p = Solver(machine).solve(par["R_s"], 5 * point["w_m_rad_s"], Supply(bus, 0.0, math.inf), 600)
    assert p.iq_a == pytest.approx(point["iq_a"], rel=1e-5)
    assert p.id_a == pytest.approx(point["id_a"], rel=1e-9)
    assert p.torque_nm == pytest.approx(point["torque_nm"], rel=1e-5)
