"""The enduro of the demo is commissioned: what was found at each gate."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from ninebolt.core.bolts.prove.fitted import passed_on
from ninebolt.core.build import Build, GateEntry
from ninebolt.core.codec import decode, encode

READ = {
    "cell_spread": 0.012, "polarity": 108.4, "isolation": 2.6e6, "isolation_all": 1.9e6, "precharge": 104.0,
    "drop_out": 1.2, "live_off": 0.4,
    "throttle_rest": 0.86, "throttle_full": 4.14, "free_amps": 3.1, "slow_ride": 48.0, "plug_warm": 9.0,
    "retorque": 0.05, "spread_after": 0.016, "case_after": 1.8,
}  # fmt: skip
SEEN = (
    "marks_cold", "plugs", "brake_cold", "small_fuse", "live_on", "live_charge", "brake_cut", "stand_tip", "identified",
    "direction", "brakes_bedded", "chain", "full_run",
)  # fmt: skip


def commissioned(build: Build) -> Build:
    """The build with an entry at every gate, passed on the parts that it has, made up."""
    gates = tuple(
        replace(decode(GateEntry, row), on=passed_on(build, row["key"])) for row in _entries()
    )
    return replace(build, prove=replace(build.prove, gates=gates))


def commissioned_again(build: Build, rear_teeth: int) -> Any:
    """The entries, as a document, of the build with another sprocket."""
    geared = replace(build, gear=replace(build.gear, rear_teeth=rear_teeth))
    return encode(commissioned(geared).prove)["gates"]


def _entries() -> list[dict[str, Any]]:
    when = {"who": "Ansa", "at": "2031-04-26T09:40:00.000+00:00"}
    rows: list[dict[str, Any]] = [
        {"key": k, "value": {"amount": v, "origin": "measured", "tolerance": None}, **when}
        for k, v in READ.items()
    ]
    return rows + [{"key": k, "passed": True, **when} for k in SEEN]
