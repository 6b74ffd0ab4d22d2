"""What a motor of a class is like, from its label: power, kind and KV.

Rewinding keeps the iron: KV goes with 1/N, resistance and inductance with N², amps with 1/N, so that
R KV², L KV² and A / KV belong to the frame and not to the winding. Over frames they go with powers of
the mass, fitted to typical motors of each kind. The laws of rewinding are closed form; the exponents
and the constants are common practice, no source, good to a factor of about 1.5.
"""

from __future__ import annotations

from dataclasses import dataclass

BAND = 1.5  # a typical motor of the class lies within this factor of the law


@dataclass(frozen=True, slots=True)
class Law:
    """constant x mass (kg) to the exponent."""

    constant: float
    exponent: float

    def at(self, mass_kg: float) -> float:
        return float(self.constant * mass_kg**self.exponent)


@dataclass(frozen=True, slots=True)
class Class:
    """One kind of motor. kg: of the label's kilowatts; the others of the mass. r_kv2: ohm (rpm/V)²,
    l_kv2: henry (rpm/V)², cont_per_kv: peak A per rpm/V."""

    kg: Law
    r_kv2: Law
    l_kv2: Law
    cont_per_kv: Law
    drag_nm: Law
    drag_nm_s_rad: Law
    rotor_kg_m2: Law
    winding_j_k: Law
    case_j_k: Law
    winding_case_k_w: Law
    case_air_k_w: Law
    peak_over_cont: float
    knee_over_cont: float
    pole_pairs: int
    price_per_kg: float


CLASSES = {
    "mid_drive": Class(
        Law(2.7, 0.70),
        Law(2130.0, -5 / 3),
        Law(4.4, -1.1),
        Law(0.090, 1.4),
        Law(0.033, 0.95),
        Law(1.2e-4, 0.75),
        Law(1.25e-4, 1.35),
        Law(78.0, 1.08),
        Law(420.0, 1.06),
        Law(0.40, -0.93),
        Law(0.72, -0.71),
        2.35,
        2.2,
        5,
        58.0,
    ),
    "hub": Class(
        Law(6.2, 0.60),
        Law(265.0, -5 / 3),
        Law(0.27, -1.0),
        Law(0.205, 1.39),
        Law(0.136, 0.76),
        Law(1.44e-3, 0.69),
        Law(8.5e-3, 1.03),
        Law(55.0, 1.13),
        Law(265.0, 1.11),
        Law(1.28, -0.95),
        Law(1.82, -0.89),
        2.8,
        2.4,
        16,
        22.0,
    ),
}


@dataclass(frozen=True, slots=True)
class MotorLike:
    """What a motor of its class is like; SI units, amps peak, resistance line to neutral."""

    mass_kg: float
    r_phase_ohm: float
    l_phase_henry: float
    phase_cont_a: float
    phase_max_a: float
    knee_a: float
    drag_nm: float
    drag_nm_s_rad: float
    rotor_kg_m2: float
    winding_j_k: float
    case_j_k: float
    winding_case_k_w: float
    case_air_k_w: float
    pole_pairs: int


def motor_like(
    kind: str, label_w: float, kv_rpm_v: float, mass_kg: float | None = None
) -> MotorLike:
    """A motor of this label (W, rpm/V of line to line); its mass from the label where unknown.
    Raises KeyError for a kind that is not in CLASSES."""
    c = CLASSES[kind]
    kg = mass_kg if mass_kg is not None else c.kg.at(label_w / 1000.0)
    cont = c.cont_per_kv.at(kg) * kv_rpm_v
    return MotorLike(
        kg,
        c.r_kv2.at(kg) / kv_rpm_v**2,
        c.l_kv2.at(kg) / kv_rpm_v**2,
        cont,
        cont * c.peak_over_cont,
        cont * c.knee_over_cont,
        c.drag_nm.at(kg),
        c.drag_nm_s_rad.at(kg),
        c.rotor_kg_m2.at(kg),
        c.winding_j_k.at(kg),
        c.case_j_k.at(kg),
        c.winding_case_k_w.at(kg),
        c.case_air_k_w.at(kg),
        c.pole_pairs,
    )


def rewound(kv_rpm_v: float, turns: float, to_turns: float) -> float:
    """KV of the same frame with another number of turns: KV N is constant."""
    return kv_rpm_v * turns / to_turns
