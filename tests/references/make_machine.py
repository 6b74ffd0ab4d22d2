"""Steady operating points of a synchronous machine, by motulator (a drive-simulation library).

Run by ./nb references in an environment of its own. The library's own state equations are
integrated from rest flux at constant rotor voltage until they stand; currents and torque are its.
"""

import json
from importlib.metadata import version
from pathlib import Path

import numpy as np
from motulator.drive import model
from motulator.drive.utils import SynchronousMachinePars
from scipy.integrate import solve_ivp

MACHINES = {
    "round": dict(n_p=5, R_s=0.0075, L_d=70e-6, L_q=70e-6, psi_f=0.0221),
    "salient": dict(n_p=4, R_s=0.016, L_d=90e-6, L_q=150e-6, psi_f=0.024),
}
POINTS = [(200.0, 0.0, 100.0), (400.0, 0.0, 300.0), (350.0, -80.0, 450.0), (60.0, -150.0, 620.0)]


def settle(par: dict, iq: float, id_: float, w_m: float) -> dict:
    machine = model.SynchronousMachine(SynchronousMachinePars(**par))
    we = par["n_p"] * w_m
    psi = par["L_d"] * id_ + par["psi_f"] + 1j * par["L_q"] * iq
    u = par["R_s"] * (id_ + 1j * iq) + 1j * we * psi

    def rhs(t, y):
        machine.state.psi_s = complex(y[0], y[1])
        machine.state.exp_j_theta_m = complex(1)
        machine.inp.u_ss, machine.inp.w_M = u, w_m
        machine.set_outputs(t)
        d = machine.rhs()[0]
        return [d.real, d.imag]

    done = solve_ivp(
        rhs, (0, 40 * par["L_q"] / par["R_s"]), [par["psi_f"], 0.0], rtol=1e-10, atol=1e-12
    )
    machine.state.psi_s = complex(*done.y[:, -1])
    i = machine.i_s
    return {
        "iq_a": float(i.imag),
        "id_a": float(i.real),
        "w_m_rad_s": w_m,
        "torque_nm": float(machine.tau_M),
        "ud_v": float(u.real),
        "uq_v": float(u.imag),
        "power_w": float(1.5 * np.real(u * np.conj(i))),
    }


out = {
    "library": "motulator",
    "version": version("motulator"),
    "script": Path(__file__).name,
    "machines": {
        name: {"par": par, "points": [settle(par, *p) for p in POINTS]}
        for name, par in MACHINES.items()
    },
}
target = Path(__file__).with_name("machine.json")
target.write_text(json.dumps(out, indent=1) + "\n")
print(target.name, [round(p["torque_nm"], 2) for p in out["machines"]["round"]["points"]])
