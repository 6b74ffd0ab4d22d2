"""Published numbers. Values recalled and not at hand are marked 'from memory'."""

from __future__ import annotations

import math

import pytest
from fluids.atmosphere import ATMOSPHERE_1976

from builds import changed
from ninebolt import units
from ninebolt.core.bolts.assess import assess
from ninebolt.core.build import Build
from ninebolt.core.copper import COPPER_OHM_M, copper_factor
from ninebolt.core.drive.constants import amps_peak, flux_linkage, ke_ll_peak, kv_dc_bus, torque_nm
from ninebolt.core.guard.conductors import (
    continuous_amps,
    copper_ohm,
    steady_rise_k,
)
from ninebolt.core.parts.rolling import Road
from ninebolt.core.vehicle.tyre import free_radius, rim_in, section_m, symbol_speed
from ninebolt.library.demo import brakka
from ninebolt.units import awg_section_m2


@pytest.mark.parametrize(("gauge", "mm"), [(-3, 11.684), (0, 8.251), (10, 2.588), (36, 0.127)])
def test_awg_diameters(gauge: int, mm: float) -> None:
    """ASTM B258, table of diameters (from memory, to the micrometre)."""
    assert math.sqrt(4 / math.pi * awg_section_m2(gauge)) * 1000 == pytest.approx(mm, abs=2e-3)


def test_awg_section_doubles_every_three_gauges() -> None:
    """ASTM B258: the ratio over 39 gauges is 92, so three gauges double the area to 0.5 %."""
    assert awg_section_m2(4) / awg_section_m2(7) == pytest.approx(2.0, rel=6e-3)


def test_copper() -> None:
    """IEC 60028: 1/58 ohm mm²/m at 20 °C, coefficient 0.003 93 per K."""
    assert pytest.approx(1e-6 / 58, rel=1e-4) == COPPER_OHM_M
    assert copper_factor(120.0) == pytest.approx(1.393)


@pytest.mark.parametrize(("mm2", "ohm_km"), [(10, 1.91), (25, 0.780), (50, 0.386), (70, 0.272)])
def test_flexible_conductor_resistance(mm2: float, ohm_km: float) -> None:
    """IEC 60228, class 5 plain copper, largest resistance at 20 °C (from memory). Ours lies under
    the ceiling and within 10 % of it."""
    ours = copper_ohm(mm2 * 1e-6, 1000.0)
    assert 0.90 * ohm_km < ours <= ohm_km


def test_continuous_current_and_rise_are_each_others_inverse() -> None:
    amps = continuous_amps(25e-6, 60.0, 30.0)
    assert steady_rise_k(25e-6, amps, 30.0) == pytest.approx(60.0)
    assert steady_rise_k(2.5e-6, 2000.0, 30.0) == math.inf


@pytest.mark.parametrize(("letter", "km_h"), [("J", 100), ("M", 130), ("R", 170), ("H", 210)])
def test_speed_symbols(letter: str, km_h: float) -> None:
    """UN Regulation 75 (from memory)."""
    assert symbol_speed(letter) == pytest.approx(km_h / 3.6)


def test_air_density_assumed_is_a_cool_day_near_the_sea() -> None:
    """The assumed density lies between ISO 2533 at sea level and at 500 m, by a general-purpose
    atmosphere library."""
    assumed = Road().air_kg_m3.taken
    assert assumed is not None
    assert ATMOSPHERE_1976(500.0).rho < assumed < ATMOSPHERE_1976(0.0).rho


@pytest.mark.parametrize(
    ("code", "mm"),
    [
        ("110/90-18", 327.6),
        ("140/70 R17", 313.9),
        ("2.75-17", 285.75),
        ("120/70ZR17", 299.9),
        ("26x4.0", 381.1),
        ("2 3/4-17", 285.75),
        ("20 x 2.125", 257.0),
    ],
)
def test_tyre_radius_from_its_code(code: str, mm: float) -> None:
    """Rim half plus section height, by hand."""
    radius = free_radius(code)
    assert radius is not None and radius * 1000 == pytest.approx(mm, abs=0.1)


@pytest.mark.parametrize(
    "code",
    [
        "26 x 1 3/8",
        "120/700-17",
        "120/7-17",
        "120/70-0",
        "120/70-99",
        "999/90-18",
        "0.10-17",
        "99.0-17",
        "700x40C",
        "17x1.6",
    ],
)
def test_what_is_no_size_of_a_tyre_has_no_radius(code: str) -> None:
    """A fraction left off is 8 % of the radius, a digit too many a wheel of two metres: asked, not rolled on."""
    assert free_radius(code) is None and section_m(code) is None and rim_in(code) is None


def test_motor_constants() -> None:
    """kv per DC volt: line-to-line peak EMF equals the bus; T = 1.2247 ke i_rms; turns by hand."""
    kv, poles = 50.0, 5
    assert ke_ll_peak(kv) == pytest.approx(60 / (2 * math.pi * 50))
    assert flux_linkage(kv, poles) * poles * math.sqrt(3) == pytest.approx(ke_ll_peak(kv))
    assert torque_nm(kv, amps_peak(100, "rms")) == pytest.approx(1.224745 * ke_ll_peak(kv) * 100)
    assert torque_nm(kv, 80) == pytest.approx(1.5 * poles * flux_linkage(kv, poles) * 80)
    assert kv_dc_bus(70.7106781, "line_rms") == pytest.approx(50.0)


def test_exact_factors() -> None:
    """International yard and pound 1959; standard gravity; mechanical horsepower."""
    assert pytest.approx(5280 * 0.3048) == units.MILE_M
    assert units.parse_quantity("100 lb", "kg") == pytest.approx(45.359237)
    assert units.parse_quantity("1 hp", "w") == pytest.approx(550 * 0.3048 * 0.45359237 * 9.80665)
    assert units.parse_quantity("212 °F", "c") == pytest.approx(100.0)
    assert Build().format_version == 3


@pytest.mark.parametrize(("series", "live"), [(14, False), (15, True)])
def test_class_b_begins_above_60_volts_dc(series: int, live: bool) -> None:
    """ISO 6469-3 and UN Regulations 100 and 136 (from memory): class B is above 60 V DC. Cells of
    4.2 V: 14 in series end at 58.8 V, 15 at 63.0 V."""
    a = assess(changed(brakka(), {"pack.series": series, "pack.cell.full_v": 4.2}))
    assert ("pack.class_b" in {f.key for f in a.bolt("pack").findings}) == live
