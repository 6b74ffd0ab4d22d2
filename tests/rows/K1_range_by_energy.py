"""Range by energy and use, with its spread."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside


def test_ordinary_range_follows_the_use(bike: Outside) -> None:
    """A trail takes more a kilometre than a street."""
    bike.put(("goal.use", "trail"))
    trail = bike.head["range_m"]
    bike.put(("goal.use", "street"))
    assert trail < bike.head["range_m"]


def test_it_has_a_band(bike: Outside) -> None:
    band = bike.client.get(f"{bike.url}/band").json()
    assert 0 < band["half"]["range_m"] < 0.3 * bike.head["range_m"]


def test_dangerous_an_empty_pack_goes_nowhere_far(bike: Outside) -> None:
    full = bike.head["range_m"]
    bike.put(("pack.start_soc", 0.2))
    assert bike.head["range_m"] is None or bike.head["range_m"] < 0.4 * full


def test_unknown_capacity_is_no_range(bike: Outside) -> None:
    bike.put(("pack.cell.capacity_ah", None))
    assert bike.head["range_m"] is None


def test_twice_the_cells_go_further_but_not_twice(bike: Outside) -> None:
    once, parallel = bike.head["range_m"], bike.body["doc"]["pack"]["parallel"]
    bike.put(("pack.parallel", 2 * parallel))
    assert 1.5 * once < bike.head["range_m"] < 2.1 * once


def test_not_there_a_stated_absence_is_no_number(bike: Outside) -> None:
    bike.put(("pack.series", None))
    assert bike.head["range_m"] is None and bike.head["range_m"] != pytest.approx(0)


def lead(bike: Outside, blocks: int, ah: float) -> None:
    """Strings of 12 V blocks side by side instead of the pack; nothing else is changed."""
    block = {
        "name": "12 V block", "chemistry": "lead_acid", "form": "block", "inner_series": 6, "capacity_ah": ah,
        "r0_ohm": 0.0025, "mass_kg": 6.2, "full_v": 2.4, "nominal_v": 2.0, "empty_v": 1.75,
    }  # fmt: skip
    bike.put(
        ("pack.cell", block), ("pack.series", 42), ("pack.parallel", blocks), ("guard.bms.presence", "not there")
    )  # fmt: skip


def test_dangerous_lead_gives_the_less_the_more_is_drawn(bike: Outside) -> None:
    """Peukert (1897), C (C / 20 I)^0.2: drawn at 20 amps a block of 20 Ah gives 11 of them. A range by the label's amp
    hours leaves its rider half-way."""
    lead(bike, 1, 20.0)
    usable = bike.figure("pack", "usable")
    label = 42 * 2.0 * 20.0
    assert usable is not None and usable < 0.62 * label
    near = bike.head["range_m"]
    assert near is not None
    lead(bike, 1, 40.0)  # twice the amp hours at the same amps: more than twice as far
    assert bike.head["range_m"] > 2.0 * near


def test_lithium_gives_what_it_holds(bike: Outside) -> None:
    from ninebolt.core.battery.pack import given_ah

    assert given_ah(20.0, 20.0, 1.2) == pytest.approx(20.0 * (1 / 20) ** 0.2)
    assert given_ah(20.0, 1.0, 1.2) == 20.0 and given_ah(20.0, 60.0, 1.0) == 20.0


def test_dangerous_a_ride_faster_than_the_bike_is_not_silent(bike: Outside) -> None:
    """The range fell away, and with it the finding that it is short."""
    bike.put(("goal.cruise_m_s", 40.0))
    assert bike.head["range_m"] is None and bike.says("goal.range_open") == "caution"
    assert "slower ride" in bike.words("goal.range_open")
    assert bike.put(("goal.cruise_m_s", 9.7)).says("goal.range_open") == ""


# The charge log: what each charge put back, over what was ridden on it.


def charges(bike: Outside, *rows: tuple[str, float | None, float | None]) -> dict[str, Any]:
    number = {"origin": "measured", "tolerance": 0.02}

    def value(x: float | None) -> dict[str, Any] | None:
        return None if x is None else {"amount": x, **number}

    book = [
        {"kind": "charge", "at": at, "what": "", "energy_wh": value(wh), "odometer_m": value(m)}
        for at, wh, m in rows
    ]
    bike.put(("prove.book", book))
    got = bike.client.get(f"{bike.url}/book")
    assert got.status_code == 200, got.text
    return dict(got.json())


def test_ordinary_a_charge_over_the_way_before_it(bike: Outside) -> None:
    """1 200 Wh after 30 km are 40 Wh/km, 900 after 20 are 45; together 2 100 over 50: 42. In order of their days."""
    made = charges(
        bike,
        ("2031-05-03", 900.0, 1_050_000.0),
        ("2031-05-01", 800.0, 1_000_000.0),
        ("2031-05-02", 1200.0, 1_030_000.0),
    )
    assert [c["wh_km"] for c in made["charges"]] == [pytest.approx(45), pytest.approx(40), None]
    assert made["mean_wh_km"] == pytest.approx(42)
    assert "charge" not in [s["kind"] for s in made["since"]]  # it is no work that is due


def test_dangerous_a_charge_that_is_missing_is_not_a_thrifty_bike(bike: Outside) -> None:
    """300 km on 900 Wh would be 3 Wh/km: one was not written down, and the mean leaves it out."""
    made = charges(
        bike,
        ("2031-05-01", 800.0, 1_000_000.0),
        ("2031-05-02", 1200.0, 1_030_000.0),
        ("2031-05-09", 900.0, 1_330_000.0),
    )
    assert "missing" in made["charges"][0]["words"] and made["mean_wh_km"] == pytest.approx(40)
    back = charges(bike, ("2031-05-01", 800.0, 1_000_000.0), ("2031-05-02", 900.0, 990_000.0))
    assert "did not go on" in back["charges"][0]["words"] and back["mean_wh_km"] is None


def test_unknown_energy_or_odometer_of_a_charge_is_said(bike: Outside) -> None:
    made = charges(bike, ("2031-05-01", None, 1_000_000.0), ("2031-05-02", 900.0, None))
    assert "odometer was not" in made["charges"][0]["words"]
    assert "energy was not" in made["charges"][1]["words"]
    assert charges(bike)["charges"] == []


@pytest.mark.parametrize(
    "path", ["pack.floor_v", "drive.controller.lvc_v", "drive.controller.v_min_v"]
)
def test_dangerous_what_ends_the_ride_first_ends_the_range(bike: Outside, path: str) -> None:
    """84 V of this 23-series pack leave much of it unused, whichever of the three lets go there."""
    full, usable = bike.head["range_m"], bike.figure("pack", "usable")
    bike.put((path, 84.0))
    short, left = bike.head["range_m"], bike.figure("pack", "usable")
    assert short is not None and full is not None and short < 0.8 * full
    assert left is not None and usable is not None and left < 0.8 * usable
    lower = "pack.floor_v" if path != "pack.floor_v" else "drive.controller.v_min_v"
    bike.put((lower, 60.0))  # a lower one beside it does not bring it back
    assert bike.head["range_m"] == pytest.approx(short, rel=1e-6)
