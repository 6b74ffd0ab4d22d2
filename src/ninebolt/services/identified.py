"""What an identification found, as changes of the build."""

from __future__ import annotations

from typing import Any

from ninebolt.core.bike.path import lead_ohm
from ninebolt.core.build import Build
from ninebolt.core.setting.ours import BY_NAME


def adopted(build: Build, found: dict[str, float]) -> list[dict[str, Any]]:
    """An identification as changes of the build: measured values, KV in the build's own convention. A controller sees a
    phase through its lead, which stands in the build by itself: it comes off."""
    lead = lead_ohm(build.guard)
    found = {**found, "r_phase_ohm": found.get("r_phase_ohm", 0.0) - lead}
    measured = {"origin": "measured", "tolerance": 0.02}
    out: list[dict[str, Any]] = []
    for name in ("r_phase_ohm", "l_phase_henry"):
        if found.get(name, 0.0) > 0:
            out.append(
                {"path": f"drive.motor.{name}", "value": {"amount": found[name], **measured}}
            )
    if found.get("kv_rpm_v", 0.0) > 0:
        out.append(
            {"path": "drive.motor.kv_rpm_v", "value": {"amount": found["kv_rpm_v"], **measured}}
        )
        out.append({"path": "drive.motor.kv_convention", "value": "dc_bus"})
    chosen = {p.name: p.value for p in build.tune.chosen}
    for name in ("hall_offset_deg", "direction"):
        if name in found:
            chosen[name] = round(found[name], 1)
    order = f"{found.get('hall_order', 0):.0f}"
    if len(order) == 6:
        for place, edge in enumerate(order, 1):
            chosen[f"hall_{place}_deg"] = 60.0 * (int(edge) - 1)
    if len(out) or chosen:
        rows = [{"name": n, "value": v} for n, v in chosen.items() if n in BY_NAME]
        out.append({"path": "tune.chosen", "value": rows})
    return out
