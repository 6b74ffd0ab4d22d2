"""Drive's findings about what a motor's label leaves open, and what its class would have."""

from __future__ import annotations

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.drive.constants import kv_dc_bus
from ninebolt.core.drive.scaling import BAND, CLASSES, motor_like
from ninebolt.core.finding import Change, Fix, Source, q, setting

MOTOR = ("drive.motor",)
# What the run needs of a motor first; the heat paths come with them.
NEEDED = ("r_phase_ohm", "l_phase_henry", "phase_max_a")
ESTIMATED = (
    *NEEDED,
    "phase_cont_a",
    "knee_a",
    "mass_kg",
    "winding_case_k_w",
    "case_air_k_w",
    "winding_j_k",
    "case_j_k",
)


@check(
    "drive.from_label",
    "the label is known, and what the run needs of the motor is not",
    parts=MOTOR,
    source=Source("practice", "rewinding in closed form; sizes by common practice, no source"),
)
def from_label(bike: Bike) -> Says | None:
    m = bike.build.drive.motor
    watts, kv = m.label_w.amount, m.kv_rpm_v.amount
    open_ = [name for name in NEEDED if not getattr(m, name).known]
    if watts is None or not open_ or m.kind not in CLASSES:
        return None
    if kv is None:
        return Says(
            "note",
            "With its KV the rest of the motor can be estimated",
            "Spin it with a drill and read the volts between two leads: rpm over volts (peak) is KV. From "
            f"label, KV and kind follow {len(open_)} missing values as guesses.",
        )
    like = motor_like(m.kind, watts, kv_dc_bus(kv, m.kv_convention), m.mass_kg.amount)
    changes = [
        setting(f"drive.motor.{name}", float(f"{getattr(like, name):.3g}"), "guess", BAND - 1.0)
        for name in ESTIMATED
        if not getattr(m, name).known
    ]
    if m.pole_pairs is None:
        changes.append(Change("drive.motor.pole_pairs", like.pole_pairs))
    return Says(
        "note",
        "What the motor's label leaves out can be estimated",
        f"A {m.kind.replace('_', ' ')} of {q(watts, 'w')} and this KV has about {q(like.r_phase_ohm, 'ohm')} a "
        f"phase and stands about {q(like.phase_max_a, 'a')} peak, give or take half: enough to plan with, not "
        "to tune by. Measure resistance first.",
        fixes=(Fix("Fill in the missing values as guesses", tuple(changes)),),
    )


@check("drive.phase_open", "nobody knows what phase amps the motor stands", parts=MOTOR)
def phase_open(bike: Bike) -> Says | None:
    m, perf = bike.build.drive.motor, bare_performance(bike)
    if perf is None or m.phase_max_a.known or m.phase_cont_a.known:
        return None
    return Says(
        "caution",
        "What phase amps the motor stands is not known",
        f"The controller gives it {q(perf.case.phase_a, 'a')} peak. Too much takes the magnets or the "
        "winding, and neither comes back: start at a third, and raise it with a hand on the case.",
        perf.case.phase_a,
        None,
        "a",
    )


@check("drive.label_open", "nobody knows what power the motor was sold with", parts=MOTOR)
def label_open(bike: Bike) -> Says | None:
    m, perf = bike.build.drive.motor, bare_performance(bike)
    if perf is None or m.label_w.known:
        return None
    return Says(
        "note",
        "What power the motor was sold with is not known",
        f"It is to give {q(max(perf.envelope.power_w), 'w')} at the wheel. Without a label nobody can say "
        "whether that is once or five times what it was made for: judge it by its phase amps and its "
        "temperature.",
        max(perf.envelope.power_w),
        None,
        "w",
    )
