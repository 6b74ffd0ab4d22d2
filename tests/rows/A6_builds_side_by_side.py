"""Builds side by side: the better one of each row, unknown as unknown, what was not alike is said."""

from __future__ import annotations

from typing import Any

from rows.conftest import Outside


def table(bike: Outside, *ids: str) -> dict[str, Any]:
    got = bike.client.get("/api/beside", params={"id": list(ids)})
    assert got.status_code == 200, got.text
    return dict(got.json())


def row(made: dict[str, Any], label: str) -> dict[str, Any]:
    return next(r for r in made["rows"] if r["label"] == label)


def test_ordinary(bike: Outside) -> None:
    """The same numbers as each bench shows, the best of them marked."""
    made = table(bike, "brakka-96", "moss-84")
    top = row(made, "Top speed")["cells"]
    heads = [Outside(bike.client, b).head for b in ("brakka-96", "moss-84")]
    assert [c["value"] for c in top] == [h["top_speed_m_s"] for h in heads]
    assert [c["best"] for c in top] == [True, False]
    assert [c["best"] for c in row(made, "Mass without rider")["cells"]] == [False, True]


def test_conditions_that_are_not_alike_are_said_and_give_no_winner(bike: Outside) -> None:
    made = table(bike, "brakka-96", "moss-84")
    assert "Rider and gear" in [u["label"] for u in made["unlike"]]
    times = row(made, "Time to speed")  # to different speeds: no time beats another
    assert times["better"] == "" and not any(c["best"] for c in times["cells"])


def test_dangerous_a_bike_that_cuts_out_does_not_win_a_time(bike: Outside) -> None:
    made = table(bike, "moss-84", "pip-72")
    quarter = row(made, "Quarter mile")["cells"]
    assert quarter[1]["value"] is None and not any(c["best"] for c in quarter)
    assert row(made, "Time to speed")["cells"][1]["words"] == "BMS opens"
    assert row(made, "Stops standing")["cells"][1]["value"] >= 1


def test_unknown_has_no_value_and_no_winner(bike: Outside) -> None:
    new = bike.client.post("/api/builds", json={"name": "Bare"}).json()["id"]
    made = table(bike, "moss-84", new)
    cells = row(made, "Top speed")["cells"]
    assert cells[1]["value"] is None and not any(c["best"] for c in cells)
    assert "without a price" in row(made, "Cost of the priced parts")["cells"][1]["words"]


def test_none_or_one_is_no_comparison(bike: Outside) -> None:
    for ids in (["moss-84"], ["moss-84", "moss-84"], ["moss-84"] * 5):
        assert bike.client.get("/api/beside", params={"id": ids}).status_code == 422
    got = bike.client.get("/api/beside", params={"id": ["moss-84", "gone"]})
    assert got.status_code == 404


# Variants of one build: what is on trial beside what is kept, today's bike beside an earlier one.


def test_what_is_on_trial_beside_what_is_kept(bike: Outside) -> None:
    before = bike.head["top_speed_m_s"]
    assert bike.client.post(f"{bike.url}/trial").status_code == 200
    bike.put(("gear.rear_teeth", 48))
    made = table(bike, "moss-84", "moss-84@kept")
    top = row(made, "Top speed")["cells"]
    assert [c["value"] for c in top] == [bike.head["top_speed_m_s"], before]
    assert made["names"] == ["Moss 84", "Moss 84, as kept"]


def test_today_beside_an_earlier_change(bike: Outside) -> None:
    seq, before = bike.body["seq"], bike.head["top_speed_m_s"]
    bike.put(("gear.rear_teeth", 48))
    made = table(bike, "moss-84", f"moss-84@{seq}")
    top = row(made, "Top speed")["cells"]
    assert [c["value"] for c in top] == [bike.head["top_speed_m_s"], before]
    assert made["names"][1] == f"Moss 84, change {seq}"


def test_a_state_that_is_not_there_or_is_none_is_refused(bike: Outside) -> None:
    for asked, status in (
        ("moss-84@99999", 404),
        ("moss-84@now", 422),
        ("moss-84@-1", 422),
        ("moss-84@", 422),
    ):
        got = bike.client.get("/api/beside", params={"id": ["moss-84", asked]})
        assert got.status_code == status, got.text
        assert got.json()["message"]
