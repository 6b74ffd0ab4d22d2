"""Before a controller's firmware is changed: what must be in place, what is open, what forbids it."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Plan:
    """What is known of a change. None: nobody looked. supply_v: of a supply that does not sag; low_v: what the
    controller needs."""

    here: str = ""  # version that is in the controller
    wanted: str = ""
    image_hardware: str = ""  # hardware that the image is for
    hardware: str = ""  # hardware that answers
    media_checked: bool | None = None  # read back, or its checksum compared
    backup: bool = False  # every parameter read and kept
    way_back: bool | None = None  # the old image is at hand
    supply_v: float | None = None
    low_v: float | None = None
    wheel_free: bool | None = None
    charger_off: bool | None = None


@dataclass(frozen=True, slots=True)
class Item:
    """One line of the list. state: done, open, stop."""

    key: str
    what: str
    state: str
    why: str


def checklist(p: Plan) -> tuple[Item, ...]:
    """In the order of the work. Common practice, no source."""
    return (
        _versions(p),
        _hardware(p),
        _asked("media", "The file or card is whole: read back, or its checksum compared", p.media_checked,
               "a broken image leaves a controller that does not start"),
        Item("backup", "Every parameter is read and kept", "done" if p.backup else "stop",
             "" if p.backup else "a new firmware begins with its own defaults: read the controller first"),
        _asked("way_back", "The old image, and how it gets in, are at hand", p.way_back, "without it there is none"),
        _supply(p),
        _asked("charger", "The charger is off", p.charger_off, "its volts move while the controller restarts"),
        _asked("wheel", "The wheel is free or the chain off", p.wheel_free, "outputs may twitch while it restarts"),
        Item("interrupt", "Nothing is unplugged, switched or touched until it says that it is done", "open",
             "an interrupted change is the commonest way to lose a controller"),
        Item("after", "Afterwards: read all, compare with what was kept, write what differs, identify again", "open",
             "objects may have moved or mean something else: compare, never copy blindly"),
    )  # fmt: skip


def allowed(items: tuple[Item, ...]) -> bool:
    """Nothing forbids it, and all but the last two lines are done."""
    return all(i.state == "done" for i in items[:-2])


def _asked(key: str, what: str, answer: bool | None, why: str) -> Item:
    return Item(
        key, what, "open" if answer is None else "done" if answer else "stop", "" if answer else why
    )


def _versions(p: Plan) -> Item:
    if not p.here or not p.wanted:
        return Item(
            "versions",
            "The version that is in it and the one that comes",
            "open",
            "one of them is not named",
        )
    if p.here == p.wanted:
        return Item(
            "versions", f"{p.here} is in it already", "stop", "nothing would change: leave it alone"
        )
    return Item("versions", f"From {p.here} to {p.wanted}", "done", "")


def _hardware(p: Plan) -> Item:
    if not p.image_hardware or not p.hardware:
        return Item(
            "hardware", "The image is for this hardware", "open", "one of them is not named"
        )
    if p.image_hardware != p.hardware:
        why = f"the image is for {p.image_hardware}, this is {p.hardware}: it would not start again"
        return Item("hardware", "The image is for this hardware", "stop", why)
    return Item("hardware", f"The image is for hardware {p.hardware}", "done", "")


def _supply(p: Plan) -> Item:
    what = "A supply that holds for the whole time"
    if p.supply_v is None or p.low_v is None:
        return Item(
            "supply",
            what,
            "open",
            "measure it at the controller, and know what the controller needs",
        )
    if p.supply_v < 1.1 * p.low_v:
        return Item(
            "supply",
            what,
            "stop",
            f"{p.supply_v:.1f} V is too near the {p.low_v:.1f} V at which it goes off",
        )
    return Item(
        "supply", f"{p.supply_v:.1f} V, well over the {p.low_v:.1f} V that it needs", "done", ""
    )
