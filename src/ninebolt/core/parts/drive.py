"""Controller and motor."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.parts.base import Part
from ninebolt.core.value import Value, choice, count, curve, flag, num, reading

AMP_BASIS = ("unknown", "peak", "rms")
CONDITIONS = ("not looked at", "sound", "got wet", "dropped", "smoked or popped", "opened up")
KV_CONVENTIONS = ("dc_bus", "line_rms", "line_peak")


@dataclass(frozen=True, slots=True)
class Controller(Part):
    """Motor controller: what it can stand and what it is set to."""

    v_max_v: Value = num("Voltage ceiling", above=0, hi=2000)
    v_min_v: Value = num("Lowest working voltage", above=0, hi=1000, detail=True)
    lvc_v: Value = num("Low-voltage cut-off setting", above=0, hi=1000, own=True)
    line_max_a: Value = num("Line amps, rating", above=0, hi=5000)
    line_a: Value = num("Line amps, setting", above=0, hi=5000, own=True)
    phase_max_a: Value = num("Phase amps, rating", above=0, hi=10000)
    phase_a: Value = num("Phase amps, setting", above=0, hi=10000, own=True)
    amp_basis: str = choice("Phase amps are", AMP_BASIS)
    fw_id_a: Value = num(
        "Field-weakening current", lo=0, hi=5000, assume=0.0, help="peak amps; 0 = off", own=True
    )
    modulation: Value = num("Modulation limit", above=0, hi=1.2, assume=0.95, spread=0.03, own=True)
    r_switch_ohm: Value = num("Switch resistance", lo=0, hi=0.1, assume=0.0012, spread=0.5)
    fixed_w: Value = num("Fixed loss", lo=0, hi=2000, assume=25, spread=0.5, detail=True)
    ramp_s: Value = num("Throttle ramp, 0 to full", lo=0, hi=10, assume=0.0, own=True)
    erpm_max_rpm: Value = num("Electrical rpm ceiling", above=0, hi=1e6, detail=True)
    c_bus_farad: Value = num("Bus capacitance", above=0, hi=1, detail=True)
    heat_k_w: Value = num("Heat path of its switches to the air", above=0.001, hi=50, detail=True)
    heat_j_k: Value = num("Heat capacity of it", above=10, hi=1e5, detail=True)
    temp_max_c: Value = num("Highest temperature of it", lo=40, hi=150, assume=85, detail=True)
    condition: str = choice("Its condition", CONDITIONS)
    bridge: tuple[tuple[float, float], ...] = curve(
        "Readings of its bridge",
        "pairs: 1 to 3 the phases to plus, 4 to 6 to minus; diode volts or ohms, unplugged and bled",
        x=(1, 6),
        y=(0.0, 1e8),
        least=6,
    )
    idle_a: Value = reading("Line amps at rest, switched on", lo=0, hi=100, detail=True)
    bench_run: bool | None = flag("Ran on the bench at limited current", False, detail=True)


@dataclass(frozen=True, slots=True)
class Motor(Part):
    """Permanent-magnet motor, mid-drive or hub. Resistance and inductance are line to neutral."""

    kind: str = choice("Kind", ("mid_drive", "hub"))
    kv_rpm_v: Value = num("Motor constant KV", above=0, hi=5000)
    kv_convention: str = choice("KV is rpm per volt of", KV_CONVENTIONS)
    pole_pairs: int | None = count("Pole pairs", 1, 100)
    r_phase_ohm: Value = num("Phase resistance", above=0, hi=10, help="line to neutral, 20 °C")
    l_phase_henry: Value = num(
        "Phase inductance", above=0, hi=0.05, help="line to neutral (d axis)"
    )
    lq_henry: Value = num("Inductance, q axis", above=0, hi=0.05, detail=True)
    phase_max_a: Value = num("Peak phase current it may see", above=0, hi=10000)
    phase_cont_a: Value = num("Continuous phase current", above=0, hi=10000)
    amp_basis: str = choice("Its phase amps are", AMP_BASIS)
    knee_a: Value = num("Saturation knee, peak amps", above=0, hi=20000, detail=True)
    drag_nm: Value = num("Drag torque", lo=0, hi=100, assume=0.3, spread=0.6, detail=True)
    drag_nm_s_rad: Value = num("Drag per speed", lo=0, hi=1, assume=0.0008, spread=0.6, detail=True)
    rotor_kg_m2: Value = num("Rotor inertia", lo=0, hi=10, assume=0.004, spread=0.6, detail=True)
    label_w: Value = num("Power on the label", above=0, hi=1e6)
    rpm_max_rpm: Value = num("Highest speed", above=0, hi=50000, detail=True)
    winding_case_k_w: Value = num("Heat path winding to case", lo=0.005, hi=10, detail=True)
    case_air_k_w: Value = num("Heat path case to air", lo=0.005, hi=10, detail=True)
    winding_j_k: Value = num("Heat capacity of the winding", lo=50, hi=1e6, detail=True)
    case_j_k: Value = num("Heat capacity of the case", lo=50, hi=1e6, detail=True)
    temp_sensor: bool | None = flag("Temperature sensor in the winding, read by the controller")
    temp_max_c: Value = num("Highest winding temperature", lo=50, hi=250, assume=140, detail=True)
    start_c: Value = num(
        "Its temperature at the start", lo=-30, hi=200, assume=20, spread=0.0, detail=True, own=True
    )
    lead_m2: Value = num("Section of a phase lead", above=0, hi=0.001, detail=True)
