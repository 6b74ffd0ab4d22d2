"""A donor chassis: metal, crash, papers, work, and what it was made for; what is unknown stays open."""

from __future__ import annotations

from rows.conftest import Outside

GOOD = {
    "name": "Roller",
    "frame_metal": "steel",
    "condition": "straight",
    "crashed": False,
    "papers": "registered",
    "power_w": 20000,
    "speed_m_s": 33,
    "gross_kg": 260,
    "mass_kg": 60,
    "price_money": 700,
    "bay_length_m": 0.4,
    "bay_height_m": 0.3,
    "bay_width_m": 0.2,
}


def verdict(bike: Outside, **more: object) -> dict:  # type: ignore[type-arg]
    bike.put(("donor.candidates", [{**GOOD, **more}]))
    rows = bike.body["assessment"]["drawings"]["donor"]["comparison"]
    assert rows is not None
    return dict(rows)


def judged(bike: Outside, **more: object) -> tuple[str, str]:
    row = verdict(bike, **more)["judged"][0]
    return str(row["verdict"]), " ".join(row["reasons"])


def test_ordinary(bike: Outside) -> None:
    """Moss asks 9.7 kW of a frame made for 20."""
    assert judged(bike)[0] == "go"


def test_dangerous_a_frame_made_for_a_tenth_of_the_power(bike: Outside) -> None:
    """Papers in order and straight: no all the same."""
    said, why = judged(bike, power_w=1000)
    assert said == "no" and "made for" in why


def test_dangerous_a_cracked_or_bent_frame(bike: Outside) -> None:
    options = {f["name"]: f["options"] for f in bike.client.get("/api/fields").json()["Chassis"]}
    hurt = [c for c in options["condition"] if "crack" in c]
    assert hurt and all(judged(bike, condition=c)[0] == "no" for c in hurt)
    assert judged(bike, frame_metal="aluminium", condition="bent")[0] == "no"


def test_unknown_what_it_was_made_for_leaves_it_open(bike: Outside) -> None:
    assert judged(bike, power_w=None)[0] == "open"


def test_unknown_is_marked_unknown(bike: Outside) -> None:
    bike.put(("donor.candidates", [{"name": "Nothing known"}]))
    assert "unknown" in str(bike.body["assessment"]["drawings"]["donor"]["comparison"]).lower()


def test_none(bike: Outside) -> None:
    assert bike.body["assessment"]["drawings"]["donor"]["comparison"] is None
