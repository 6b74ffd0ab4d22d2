"""A percentage with its base: of, or more than; without one it is refused."""

from __future__ import annotations

import pytest

from ninebolt.cli.main import main
from rows.conftest import Outside


def claim(bike: Outside, text: str) -> tuple[int, dict[str, object]]:
    got = bike.client.get("/api/sums/claim", params={"text": text})
    return got.status_code, got.json()


def test_ordinary_both_readings(bike: Outside) -> None:
    """Closed form: 30 % more than 40 is 52; 30 % of 40 is 12."""
    status, said = claim(bike, "30 % more than 40")
    assert (
        status == 200
        and said["value"] == pytest.approx(52)
        and said["other_value"] == pytest.approx(12)
    )
    status, said = claim(bike, "30 % of 40")
    assert status == 200 and said["value"] == pytest.approx(12)


def test_less_than_nothing_is_refused(bike: Outside) -> None:
    assert claim(bike, "30 % of")[0] == 422


def test_without_a_base_it_is_refused(bike: Outside) -> None:
    status, said = claim(bike, "30 %")
    assert status == 422 and "of what" in str(said["message"])


def test_words_that_are_none(bike: Outside) -> None:
    for text in ("", "percent", "30", "x % of y", "%" * 60):
        assert claim(bike, text)[0] == 422


def test_two_numbers(bike: Outside) -> None:
    got = bike.client.get("/api/sums/percent", params={"a": 52, "b": 40}).json()
    assert got["of_pct"] == pytest.approx(130) and got["change_pct"] == pytest.approx(30)
    assert got["words"] == "52 is 130 % of 40, which is 30 % more than 40"
    assert bike.client.get("/api/sums/percent", params={"a": 3, "b": 0}).status_code == 422


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("17 % faster than 40 km/h", 46.8),
        ("213 percent more than 3", 9.39),
        ("20 % slower than 50", 40.0),
        ("15 % lighter than 120 kg", 102.0),
        ("250 % as much as 4", 10.0),
    ],
)
def test_words_as_people_say_them(bike: Outside, text: str, value: float) -> None:
    status, said = claim(bike, text)
    assert status == 200 and said["value"] == pytest.approx(value)


def test_dangerous_faster_said_of_a_time_is_two_sums(bike: Outside) -> None:
    """17 % off 8 s is 6.64 s; 17 % more speed is 8 / 1.17 = 6.838 s."""
    status, said = claim(bike, "17 % faster than 8 s")
    assert status == 422 and "6.64" in str(said["todo"]) and "6.838" in str(said["todo"])


def test_unknown_base_is_no_number(bike: Outside) -> None:
    status, said = claim(bike, "17 % faster than the old one")
    assert status == 422 and "of what" in str(said["message"])
    assert claim(bike, "30 % more than 4,000")[0] == 422  # four, or four thousand


def test_dangerous_a_factor_more_than_is_two_sums(bike: Outside) -> None:
    for text in ("3 times more than 40", "3x faster than 9 s", "twice as quick than 8 s"):
        status, said = claim(bike, text)
        assert status == 422 and "on top" in str(said["message"]), text


def test_dangerous_nothing_is_left_to_take_off(bike: Outside) -> None:
    status, said = claim(bike, "120 % less than 10 kg")
    assert status == 422 and "12" in str(said["todo"])
    for text in ("100 % slower than 10 s", "100 % faster than 10 s"):
        status, said = claim(bike, text)
        assert status == 422 and "inf" not in str(said) and " s by " in str(said["todo"])


def test_the_unit_stays_with_the_number(bike: Outside) -> None:
    status, said = claim(bike, "213 percent more than 15 kW")
    assert status == 200 and said["words"] == "213 % more than 15 kW" and said["symbol"] == " kW"


def test_two_values_with_their_unit_in_the_shell(capsys: pytest.CaptureFixture[str]) -> None:
    """9.9 / 7.5 = 1.32: a quarter less time is a third more speed."""
    assert main(["percent", "9.9 s to 7.5 s"]) == 0
    said = capsys.readouterr().out
    assert "24.24 % less than 9.9" in said and "as speed it is 32 % more" in said
    assert main(["percent", "96 V to 72 W"]) == 2 and "same unit" in capsys.readouterr().err
    assert main(["percent", "10 to 4,000"]) == 2  # four, or four thousand
    assert main(["percent", "0 kW to 40 kW"]) == 2


def test_dangerous_less_than_nothing_has_no_percentage(bike: Outside) -> None:
    got = bike.client.get("/api/sums/percent", params={"a": -5, "b": 5})
    assert got.status_code == 422 and "none is less than nothing" in got.json()["message"]
    same = bike.client.get("/api/sums/percent", params={"a": 10, "b": 10}).json()["words"]
    assert "neither more nor less" in same
