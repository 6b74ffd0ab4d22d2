"""The throttle map: a dead tail, a late lunge, a start too steep for the ground; on the bench as well."""

from __future__ import annotations

import pytest

from rows.conftest import Linked, Outside


def test_ordinary_the_curve_goes_into_the_controller_at_every_tenth(bike: Outside) -> None:
    """Linear between the points: at 30 % of twist (0.25, 0.14) to (0.6, 0.5) gives 19.1 %."""
    bike.put(("tune.throttle", [[0, 0], [0.25, 0.14], [0.6, 0.5], [1, 1]]))
    rows = {
        r["name"]: r["recommended"] for r in bike.body["assessment"]["drawings"]["tune"]["rows"]
    }
    assert rows["curve_4_pct"] == pytest.approx(100 * (0.14 + 0.36 * 0.05 / 0.35), abs=0.1)
    assert (rows["curve_1_pct"], rows["curve_11_pct"]) == (0, 100)


@pytest.mark.parametrize(
    ("points", "key", "severity"),
    [
        ([[0, 0], [0.8, 1], [1, 0.7]], "tune.curve_falls", "stop"),
        ([[0, 0], [0.5, 1], [1, 1]], "tune.curve_early", "caution"),
        ([[0, 0.2], [1, 1]], "tune.curve_push", "stop"),
        ([[0, 0], [0.8, 0.3], [1, 1]], "tune.curve_late", "caution"),
    ],
)
def test_dangerous_shapes_are_named(
    bike: Outside, points: list[list[float]], key: str, severity: str
) -> None:
    bike.put(("tune.throttle", points))
    assert bike.says(key) == severity


def test_dangerous_a_start_too_steep_for_the_ground(bike: Outside) -> None:
    bike.put(("gear.tyre.grip_mu", 0.25), ("tune.throttle", [[0, 0], [0.2, 0.9], [1, 1]]))
    assert bike.says("tune.curve_steep") == "caution" and "rear tyre loose" in bike.words(
        "tune.curve_steep"
    )
    fix = bike.findings()["tune.curve_steep"]["fixes"][0]
    bike.put(*[(c["path"], c["value"]) for c in fix["changes"]])
    assert bike.says("tune.curve_steep") == ""


def test_dangerous_a_dead_tail_is_felt_on_the_bench(linked: Linked) -> None:
    """Full twist gives less than just before it: by the amps that the controller shows."""
    linked.put(("tune.throttle", [[0, 0], [0.8, 1], [1, 0.5]]))
    linked.written(anyway=True)
    linked.hand(stand=False, throttle=0.8)
    linked.bench("wait", seconds=2)
    most = linked.bench("state")["state"]["phase_a"]
    linked.hand(throttle=1.0)
    linked.bench("wait", seconds=0.5)
    assert linked.bench("state")["state"]["phase_a"] < 0.7 * most


def test_unknown_while_the_bike_does_not_compute_the_ground_is_not_judged(bike: Outside) -> None:
    bike.put(("drive.motor.kv_rpm_v", None), ("tune.throttle", [[0, 0], [0.1, 0.9], [1, 1]]))
    assert bike.says("tune.curve_steep") == ""
    assert "KV" in str(bike.body["assessment"]) or bike.body["assessment"]["drawings"]["tune"]


def test_not_there_no_points_are_a_straight_curve(bike: Outside) -> None:
    bike.put(("tune.throttle", [[0, 0], [1, 1]]))
    assert not any(k.startswith("tune.curve") for k in bike.findings())


def test_thrust_at_a_chosen_speed(bike: Outside) -> None:
    """From rest the thrust goes with the amps, less the motor's own drag (closed form: k (share I) - drag, a machine
    without saliency). Near the top the volts hold it, and more twist pushes no more."""
    rest = bike.client.get(f"{bike.url}/thrust").json()
    n = rest["thrust_n"]
    steps = [b - a for a, b in zip(n[10:], n[11:], strict=False)]
    assert steps == pytest.approx([steps[0]] * len(steps), rel=1e-6)
    top = rest["top_m_s"]
    fast = bike.client.get(f"{bike.url}/thrust", params={"speed_m_s": 0.97 * top}).json()[
        "thrust_n"
    ]
    assert fast[40] == pytest.approx(fast[36], rel=1e-6) and fast[40] < 0.8 * n[40]
    assert bike.client.get(f"{bike.url}/thrust", params={"speed_m_s": -1}).status_code == 422


def test_unknown_without_a_motor_s_kv_there_is_no_thrust(bike: Outside) -> None:
    bike.put(("drive.motor.kv_rpm_v", None))
    got = bike.client.get(f"{bike.url}/thrust")
    assert got.status_code == 422 and "Tune calls missing" in got.json()["todo"]
