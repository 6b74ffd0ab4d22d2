"""The demo garage: three invented builds with some history, and runs ridden by the bench bike."""

from __future__ import annotations

from ninebolt.bench.ride import ride
from ninebolt.core.codec import encode
from ninebolt.formats.ride_csv import write_ride
from ninebolt.library.demo import DEMOS
from ninebolt.services import rides, workshop
from ninebolt.services.house import House
from ninebolt.store import builds as table
from ninebolt.store.database import session, transaction

SIGNED = {"brakka-96": ("donor", "pack", "guard", "drive", "gear")}
RIDDEN = {"moss-84": 7, "brakka-96": 7}


def fill_demo(house: House) -> int:
    """Put the demo builds into an empty garage; returns how many were added."""
    with session(house.path) as db:
        if table.list_builds(db):
            return 0
        for key, make in reversed(DEMOS.items()):
            doc = encode(make())
            with transaction(db):
                table.insert_build(db, key, doc["name"], doc, house.now(), "Demo build")
    for key, seed in RIDDEN.items():
        gps, _ = ride(DEMOS[key](), seed, [])
        rides.import_log(house, key, f"{key}-simulated-gps.csv", write_ride(gps), None)
    for key, bolts in SIGNED.items():
        for bolt in bolts:
            workshop.sign(house, key, bolt)
        change = [{"path": "gear.rear_teeth", "value": 54}]
        workshop.change(house, key, change, "Two teeth fewer behind")
    return len(DEMOS)
