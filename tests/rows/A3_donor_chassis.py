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
}


def verdict(bike: Outside, **more: object) -> dict:  # type: ignore[type-arg]
    bike.put(("donor.candidates", [{**GOOD, **more}]))
    rows = bike.body["assessment"]["drawings"]["donor"]["comparison"]
    assert rows is not None
    return dict(rows)


def test_ordinary(bike: Outside) -> None:
    assert "Roller" in str(verdict(bike))


def test_dangerous_a_cracked_frame_is_not_taken(bike: Outside) -> None:
    fields = {f["name"]: f["options"] for f in bike.client.get("/api/fields").json()["Chassis"]}
    worst = fields["condition"][-1]
    said = str(verdict(bike, condition=worst)).lower()
    assert any(word in said for word in ("no-go", "no go", "leave", "not ", "crack"))


def test_unknown_is_marked_unknown(bike: Outside) -> None:
    bike.put(("donor.candidates", [{"name": "Nothing known"}]))
    assert "unknown" in str(bike.body["assessment"]["drawings"]["donor"]["comparison"]).lower()


def test_none(bike: Outside) -> None:
    assert bike.body["assessment"]["drawings"]["donor"]["comparison"] is None
