"""Motor constants in the conventions of CONVENTIONS.md.

kv is mechanical rpm per volt of DC bus at no load with full sinusoidal modulation, so the
line-to-line peak back-EMF equals the bus voltage.
"""

from __future__ import annotations

import math

from ninebolt.units import RPM_PER_RAD_S


def kv_dc_bus(kv_rpm_v: float, convention: str) -> float:
    """rpm per volt of DC bus from a label's own convention.

    dc_bus: as is. line_peak: per volt of line-to-line peak, the same number. line_rms: per volt of
    line-to-line RMS, so divided by √2.
    """
    return kv_rpm_v / math.sqrt(2.0) if convention == "line_rms" else kv_rpm_v


def ke_ll_peak(kv_rpm_v: float) -> float:
    """Line-to-line peak back-EMF per mechanical rad/s (V·s/rad)."""
    return RPM_PER_RAD_S / kv_rpm_v


def flux_linkage(kv_rpm_v: float, pole_pairs: int) -> float:
    """Peak flux linkage of a phase (V·s)."""
    return ke_ll_peak(kv_rpm_v) / (math.sqrt(3.0) * pole_pairs)


def torque_nm(kv_rpm_v: float, iq_peak_a: float) -> float:
    """Torque with field orientation and id = 0: (√3/2) ke iq."""
    return 0.5 * math.sqrt(3.0) * ke_ll_peak(kv_rpm_v) * iq_peak_a


def most_w(volts_v: float, phase_peak_a: float) -> float:
    """Power that a DC voltage and a phase current can be at the most, at full sinusoidal modulation: √3/2 V i."""
    return 0.5 * math.sqrt(3.0) * volts_v * phase_peak_a


def amps_peak(amps: float, basis: str) -> float:
    """Peak amplitude; 'unknown' is read as peak, which promises less torque."""
    return amps * math.sqrt(2.0) if basis == "rms" else amps


def saturation(iq_a: float, knee_a: float) -> float:
    """Share of the unsaturated flux left at iq.

    Up to the knee 1; above it torque grows as knee (1 + ln(iq/knee)): smooth at the knee and always
    rising. A simple stated curve; common practice, no source.
    """
    if iq_a <= knee_a:
        return 1.0
    return knee_a / iq_a * (1.0 + math.log(iq_a / knee_a))
