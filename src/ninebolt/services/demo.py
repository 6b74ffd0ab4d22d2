"""The demo garage: three invented builds with some history, and runs ridden by the bench bike."""

from __future__ import annotations

from typing import Any

from ninebolt.bench.ride import ride
from ninebolt.core.build import BOLTS
from ninebolt.core.codec import encode
from ninebolt.formats.ride_csv import write_ride
from ninebolt.library.demo import DEMOS
from ninebolt.library.demo_gates import commissioned_again
from ninebolt.services import rides, workshop
from ninebolt.services.house import House
from ninebolt.store import builds as table
from ninebolt.store.database import session, transaction
from ninebolt.store.rides import get_preferences, put_preference

SIGNED = {"brakka-96": ("donor", "pack", "guard", "drive", "gear")}
# The simulated rides were made on the flat in still air; of one of them somebody has said so.
STILL = {"amount": 0.0, "origin": "measured", "tolerance": None}
CALM = ("brakka-96",)
SAID_CALM = "Wind and slope of the log"
# One mark broken, so that the state can be seen; the others hold. Of commissioning the chain was looked at again.
CHANGED: dict[str, tuple[str, list[dict[str, Any]]]] = {
    "brakka-96": (
        "Two teeth fewer behind, chain looked at again",
        [
            {"path": "gear.rear_teeth", "value": 54},
            {"path": "prove.gates", "value": commissioned_again(DEMOS["brakka-96"](), 54)},
        ],
    )
}
# Looked through again after that change.
AGAIN = {"brakka-96": ("donor", "pack", "guard", "drive")}
RIDDEN = {"moss-84": 7, "brakka-96": 7}
LOGGED = ("brakka-96",)  # with the controller's own log beside the satellites'


FILLED = "demo:filled"
MADE = "Demo build"


def _ours(reason: str) -> bool:
    """Whether a revision is of the filling, and not of a person."""
    signed = (f"Signed off {b}" for b in BOLTS)
    said = {MADE, SAID_CALM, *signed, *(c[0] for c in CHANGED.values())}
    return reason in said or reason.startswith("Imported ")


def fill_demo(house: House) -> int:
    """Put the demo builds into an empty garage, or begin anew where an earlier filling was broken
    off; returns how many were added."""
    with session(house.path) as db:
        have = {b.id for b in table.list_builds(db)}
        half = get_preferences(db).get(FILLED) is False and have <= set(DEMOS)
        touched = half and any(not _ours(r.reason) for k in have for r in table.revisions(db, k))
    if have and (not half or touched):
        return 0
    with session(house.path) as db, transaction(db):
        for key in have:
            table.delete_build(db, key)
        for key, make in reversed(DEMOS.items()):
            doc = encode(make())
            table.insert_build(db, key, doc["name"], doc, house.now(), MADE)
        put_preference(db, FILLED, False)
    for key, seed in RIDDEN.items():
        gps, controller = ride(DEMOS[key](), seed, [])
        if key in LOGGED:
            rides.import_log(
                house, key, f"{key}-simulated-controller.csv", write_ride(controller), None
            )
        rides.import_log(house, key, f"{key}-simulated-gps.csv", write_ride(gps), None)
    for key in CALM:
        still = [{"path": f"prove.{x}", "value": STILL} for x in ("wind_m_s", "slope_pct")]
        workshop.change(house, key, still, SAID_CALM)
    for key, bolts in SIGNED.items():
        for bolt in bolts:
            workshop.sign(house, key, bolt)
    for key, change in CHANGED.items():
        workshop.change(house, key, change[1], change[0])
    for key, again in AGAIN.items():
        for bolt in again:
            workshop.sign(house, key, bolt)
    with session(house.path) as db, transaction(db):
        put_preference(db, FILLED, True)
    return len(DEMOS)
