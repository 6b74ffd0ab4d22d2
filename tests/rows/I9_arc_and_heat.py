"""A hot or arced plug: by the drop across it; replaced, never only cleaned."""

from __future__ import annotations

from rows.conftest import Linked, Outside
from rows.I1_cold_checks import gates
from rows.I2_first_power import up_to
from rows.I6_no_throttle import hunt, on_the_bench


def test_ordinary_the_drop_tells(linked: Linked) -> None:
    asked, seen = on_the_bench(linked, "hot-plug", "hot plug")
    assert (
        seen["found"]
        and asked == ["plug_drop"]
        and seen["suspects"][0]["repair"] == "replace the plug"
    )


def test_the_bench_s_plug_really_warms(linked: Linked) -> None:
    linked.bench("fault", name="hot-plug", on=True)
    linked.put(("tune.chosen", [{"name": "start_mode", "value": 3}]))
    linked.written(anyway=True)
    linked.hand(stand=False, throttle=1.0)
    linked.bench("wait", seconds=15)
    assert linked.bench("state")["state"]["plug_c"] > 40


def test_dangerous_after_the_first_pull_it_is_a_gate(bike: Outside) -> None:
    up_to(bike, "plug_warm")
    bike.client.post(f"{bike.url}/gates/plug_warm", json={"value": 55})
    bike.body = bike.client.get(bike.url).json()
    assert bike.says("prove.gate.plug_warm") == "stop" and "never clean" in bike.words(
        "prove.gate.plug_warm"
    )


def test_unknown_before_it_is_read_it_is_only_a_suspect(bike: Outside) -> None:
    assert not hunt(bike, "cuts out under load")["found"]


def test_not_there_a_cool_joint(bike: Outside) -> None:
    assert not hunt(bike, "hot plug", ("plug_drop", 0.02))["found"]
    assert "plug_warm" in gates(bike)
