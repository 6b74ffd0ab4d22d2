"""BMS current against controller, cells, fuse and plug: too low cuts out, too high protects nothing."""

from __future__ import annotations

import numpy as np
import pytest
from fastapi.testclient import TestClient

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    """A BMS with room says nothing, and the recommended line amps are one number everywhere."""
    assert [bike.says(f"guard.bms_{k}") for k in ("peak", "trip", "cont")] == ["", "", ""]
    advice = bike.figure("guard", "advice")
    assert advice == bike.body["assessment"]["drawings"]["guard"]["advice"]["amps"]


def test_dangerous_too_low_opens_at_full_throttle(bike: Outside) -> None:
    bike.put(("guard.bms.i_cont_a", 60), ("guard.bms.i_peak_a", 90), ("guard.bms.peak_s", 5))
    assert bike.says("guard.bms_peak") == "stop"
    assert bike.head["opens"] == "BMS" and bike.head["to_time_s"] is None


def test_dangerous_too_high_protects_nothing(bike: Outside) -> None:
    bike.put(("guard.bms.i_cont_a", 900), ("guard.bms.i_peak_a", 1800))
    assert bike.says("guard.bms_large") in ("caution", "stop")


@pytest.mark.parametrize("field", ["i_cont_a", "i_peak_a", "cell_high_v", "cell_low_v"])
def test_unknown_is_said(bike: Outside, field: str) -> None:
    assert bike.says("guard.bms_blank") == ""
    assert bike.put((f"guard.bms.{field}", None)).says("guard.bms_blank") == "caution"


def test_not_there_is_a_stop(bike: Outside) -> None:
    bike.put(("guard.bms.presence", "not there"))
    assert bike.says("guard.no_bms") == "stop"


def test_dangerous_top_speed_is_what_the_bms_lets_through_for_good(bike: Outside) -> None:
    """A bike whose BMS opens does not reach the speed it would without: at top speed the line amps are its continuous
    ones, and every place that names the speed names that one."""
    free = bike.head["top_speed_m_s"]
    bike.put(("guard.bms.i_cont_a", 40), ("guard.bms.i_peak_a", 300), ("guard.bms.peak_s", 3))
    top = bike.head["top_speed_m_s"]
    assert top < 0.8 * free and bike.head["opens"] == "BMS"
    assert bike.body["assessment"]["drawings"]["drive"]["top_speed_m_s"] == pytest.approx(top)
    rung = next(r for r in bike.body["assessment"]["drawings"]["gear"]["rungs"] if r["current"])
    assert rung["top_speed_m_s"] == pytest.approx(top, rel=1e-6)
    drawing = bike.body["assessment"]["drawings"]["drive"]
    load = np.interp(top, drawing["speed_m_s"], drawing["load_n"])
    volts = np.interp(top, drawing["speed_m_s"], drawing["bus_v"])
    assert 0.75 * 40 * volts < load * top < 0.97 * 40 * volts  # what is left of 40 A at the tyre
    bike.put(("guard.bms.discharge", "bypassed"))
    assert bike.head["top_speed_m_s"] == pytest.approx(free, rel=1e-3)  # its switch drops no volts


def test_dangerous_labels_that_contradict_themselves(bike: Outside) -> None:
    """A peak under the continuous current, volts the wrong way round: one of the two is misread."""
    for path, value, key in (
        ("guard.bms.i_peak_a", 75, "guard.order.bms"),
        ("guard.bms.cell_low_v", 4.3, "guard.order.bms"),
        ("guard.plug.i_peak_a", 90, "guard.order.plug"),
        ("guard.dcdc.in_min_v", 130, "guard.order.dcdc"),
        ("guard.charger.cut_a", 20, "guard.order.charger"),
        ("pack.cell.empty_v", 4.3, "pack.cell_order"),
        ("pack.cell.nominal_v", 4.4, "pack.cell_order"),
        ("pack.cell.i_peak_a", 6, "pack.cell_order"),
    ):
        assert bike.says(key) == "", path
        assert bike.put((path, value)).says(key) == "caution", path
        bike.client.post(f"{bike.url}/undo")
        bike.body = bike.client.get(bike.url).json()


def test_unknown_or_equal_is_no_contradiction(bike: Outside) -> None:
    assert bike.put(("guard.bms.i_peak_a", 150)).says("guard.order") == ""
    assert bike.put(("guard.bms.i_peak_a", None)).says("guard.order") == ""
    bike.put(("guard.charger.cut_a", 20), ("guard.charger.presence", "not there"))
    assert bike.says("guard.order") == ""


def _weighty(bike: Outside, severity: str) -> set[str]:
    return {k for k, f in bike.findings().items() if f["severity"] == severity}


@pytest.mark.parametrize("build", ["moss-84", "brakka-96", "pip-72"])
def test_dangerous_no_swap_on_offer_brings_a_stop(client: TestClient, build: str) -> None:
    """What is said to carry pack and line amps neither trips on the first pull nor melts before its fuse."""
    bike = Outside(client, build)
    links = client.get(bike.url, params={"bolt": "guard"}).json()["assessment"]["drawings"]["guard"]
    was = _weighty(bike, "stop"), _weighty(bike, "caution")
    tried = 0
    for link in links["links"]:
        for fix in link["swaps"]:
            bike.put(*((c["path"], c["value"]) for c in fix["changes"]))
            assert _weighty(bike, "stop") <= was[0], (link["path"], fix["label"])
            # Said: a BMS with room, a fuse that protects all there is and runs warm.
            larger = {"guard.bms_large", "guard.fuse_weakest", "guard.fuse_load"}
            new = {k for k in _weighty(bike, "caution") - was[1] if k.startswith("guard.")}
            assert new <= larger | was[0], (link["path"], fix["label"])
            client.post(f"{bike.url}/undo")
            tried += 1
    assert tried >= 8


def test_unknown_pack_no_swap_is_said_to_carry_it(bike: Outside) -> None:
    bike.put(("pack.series", None))
    body = bike.client.get(bike.url, params={"bolt": "guard"}).json()
    assert not any(x["swaps"] for x in body["assessment"]["drawings"]["guard"]["links"])
