"""The server is killed in the middle of a guarded write: what stands where is known, and can be settled."""

from __future__ import annotations

import signal
import time
from pathlib import Path

import pytest

from benches import bench_process
from served import Server, with_demo

SET = {"kind": "set", "name": "", "text": ""}


@pytest.mark.parametrize("after_s", [0.3])
def test_a_killed_server_leaves_no_unknown_write(
    tmp_path: Path, filled: Path, after_s: float
) -> None:
    """SIGKILL while the controller is written: after a new start the journal is read against the controller, each value
    is either the old or the new one, and restoring brings all of them back."""
    with bench_process() as bus:
        server = Server(with_demo(tmp_path / "data", filled))
        adapter = {"channel": f"socket://127.0.0.1:{bus}"}
        build = "/api/builds/moss-84"
        server.ask(f"/api/bench/load/moss-84?port={bus}", {})
        assert "device" in server.ask("/api/link/connect", adapter)
        plan = server.ask(f"{build}/link/plan", {"source": SET})
        assert len(plan) > 5
        compare = {"first": {"kind": "controller", "name": "", "text": ""}, "second": SET}
        before = server.ask(f"{build}/settings/compare", compare)["rows"]
        body = {"source": SET, "why": "tried", "typed": "", "free": True, "anyway": True}
        writing = server.begin(f"{build}/link/write", body)
        time.sleep(after_s)
        server.end(signal.SIGKILL)
        writing.wait(60)

        again = Server(tmp_path / "data")
        try:
            state = again.ask("/api/link/connect", adapter)
            after = again.ask(f"{build}/settings/compare", compare)["rows"]
            left = {r["name"]: r["first"] for r in after}
            assert all(left[r["name"]] == r["first"] for r in before if r["name"] in left)
            pending = state["pending"]
            if pending is None:  # it had not begun, or was all done
                assert len(after) in (0, len(before))
                return
            assert pending["old"] + pending["new"] == len(plan) and pending["sentence"]
            settled = again.ask(
                f"/api/link/writings/{pending['id']}/settle", {"finish": False, "free": True}
            )
            assert "id" in settled, settled
            restored = again.ask(f"{build}/settings/compare", compare)["rows"]
            assert {r["name"]: r["first"] for r in restored} == {
                r["name"]: r["first"] for r in before
            }
        finally:
            again.end()
