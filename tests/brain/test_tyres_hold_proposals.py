"""A wish that the tyres cannot bear: builds within them are proposed all the same, and it is said what holds them."""

from __future__ import annotations

from pathlib import Path

import pytest

from builds import changed
from ninebolt.cli.main import main
from ninebolt.formats.build_json import write_build
from ninebolt.library.demo import pip


def test_a_wish_past_every_tyre_still_has_builds_and_says_what_holds_them(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    """130 km/h on rims of 12 in, for which the shelf's tyres stand 80 km/h: it ended at a stop without a word."""
    path = tmp_path / "fast.json"
    wish = {"goal.top_speed_m_s": 36.0, "goal.to_time_s": 6.0}
    path.write_bytes(write_build(changed(pip(), wish)))
    assert main(["propose", str(path), "--looks", "2500"]) == 0
    said = capsys.readouterr().out
    assert "Nothing faster than 80 km/h is proposed" in said
    assert "129.6 km/h (no)" in said and said.startswith("2500 combinations weighed")
