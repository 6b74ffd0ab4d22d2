"""A published 21700 cell (Chen et al. 2020, parameter set 'Chen2020') by PyBaMM, a battery-physics
library: its open-circuit curve, a pulse, and discharges at constant current and constant power.

Run by ./nb references in an environment of its own. The physics is the library's porous-electrode
model (DFN), isothermal at 25 °C; nothing of it comes from this project.
"""

import json
from importlib.metadata import version
from pathlib import Path

import numpy as np
import pybamm

PULSE_A, PULSE_S = 5.0, 600.0
CURRENTS_A = [2.5, 5.0, 7.5]
POWERS_W = [9.0, 18.0, 27.0]


def solve(steps: list, soc: float):
    model = pybamm.lithium_ion.DFN()
    values = pybamm.ParameterValues("Chen2020")
    sim = pybamm.Simulation(model, parameter_values=values, experiment=pybamm.Experiment(steps))
    return sim.solve(initial_soc=soc)


def curve() -> list:
    """Open-circuit voltage over charge, from the library's own electrode balance."""
    values = pybamm.ParameterValues("Chen2020")
    out = []
    for soc in np.linspace(0.0, 1.0, 41):
        x, y = pybamm.lithium_ion.get_initial_stoichiometries(soc, values)
        u_n = values["Negative electrode OCP [V]"](pybamm.Scalar(x))
        u_p = values["Positive electrode OCP [V]"](pybamm.Scalar(y))
        v = float(values.evaluate(u_p)) - float(values.evaluate(u_n))
        out.append([round(float(soc), 6), v])
    return out


def column(solution, name: str) -> np.ndarray:
    return solution[name].entries


def main() -> None:
    pulse = solve(
        [
            (
                pybamm.step.current(PULSE_A, duration=PULSE_S, period=0.5),
                pybamm.step.rest(duration=600, period=5),
            )
        ],
        0.5,
    )
    t, v = column(pulse, "Time [s]"), column(pulse, "Voltage [V]")
    discharges = []
    for amps in CURRENTS_A:
        s = solve([pybamm.step.current(amps, termination="2.5 V", period=10)], 1.0)
        q = column(s, "Discharge capacity [A.h]")
        volts = column(s, "Voltage [V]")
        marks = np.linspace(0.25, min(4.5, float(q[-1]) - 0.2), 12)
        discharges.append(
            {
                "amps": amps,
                "ah": float(q[-1]),
                "wh": float(np.trapezoid(volts, q)),
                "at_ah": [float(x) for x in marks],
                "volts": [float(x) for x in np.interp(marks, q, volts)],
            }
        )
    powers = []
    for watts in POWERS_W:
        s = solve([pybamm.step.power(watts, termination="2.5 V", period=10)], 1.0)
        powers.append({"watts": watts, "wh": watts * float(column(s, "Time [s]")[-1]) / 3600.0})
    capacity = solve(
        [pybamm.step.current(0.1, duration=250_000, termination="2.5 V", period=120)], 1.0
    )
    out = {
        "library": f"pybamm {version('pybamm')}",
        "parameters": "Chen2020 (a published 21700, 5 Ah), DFN, 25 °C isothermal",
        "script": Path(__file__).name,
        "capacity_ah": float(column(capacity, "Discharge capacity [A.h]")[-1]),
        "ocv": curve(),
        "pulse": {
            "amps": PULSE_A,
            "rest_v": float(v[0]) if t[0] > 0 else curve()[20][1],
            "t_s": [float(x) for x in t[t <= PULSE_S][::20]],
            "volts": [float(x) for x in v[t <= PULSE_S][::20]],
        },
        "discharges": discharges,
        "powers": powers,
    }
    path = Path(__file__).with_name("cell.json")
    path.write_text(json.dumps(out, indent=1) + "\n")


if __name__ == "__main__":
    main()
