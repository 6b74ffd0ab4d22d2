"""The guarded write: read all, keep it, compare, write what differs in a safe order, read back, store, and look
again after the power was off. Every step is told to a journal first, so that whatever is cut, the next connection
can say what stands where."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ninebolt import awake
from ninebolt.core.setting.objects import Address, Scalar, spelled
from ninebolt.core.setting.ours import SAVE, STORE
from ninebolt.core.setting.sets import Identity, ParamSet, Profile, foreign, order, unfit
from ninebolt.errors import InputError, LinkError
from ninebolt.link.port import Port

Note = Callable[[str, Address | None], None]  # what is about to happen, and where
Clock = Callable[[], float]
ASLEEP_S = 20.0  # no step of a write takes as long by itself, the waiting for an answer included


@dataclass(frozen=True, slots=True)
class Snapshot:
    """Everything that could be read. missing: why the rest could not."""

    identity: Identity
    values: dict[Address, Scalar]
    missing: dict[Address, str]


@dataclass(frozen=True, slots=True)
class Step:
    """One object to be written."""

    at: Address
    old: Scalar
    new: Scalar
    power: bool


@dataclass(frozen=True, slots=True)
class Standing:
    """Where a write that was cut stands: how many objects have the new value, the old one, or neither."""

    new: int
    old: int
    neither: tuple[Address, ...]
    unread: tuple[Address, ...]

    @property
    def whole(self) -> bool:
        """All of one kind: nothing is half written."""
        return not self.neither and not self.unread and (self.new == 0 or self.old == 0)


def read_all(
    port: Port, profile: Profile, told: Callable[[int, int], None] | None = None
) -> Snapshot:
    """Every readable object that is kept when the power is off. Raises LinkError where the device falls silent."""
    who, values, missing = port.identity(), {}, {}
    skip = profile.not_kept
    asked = [o for o in profile.dictionary.objects.values() if o.readable and o.at not in skip]
    for i, obj in enumerate(asked):
        try:
            values[obj.at] = port.read(obj.at)
        except LinkError as error:
            if error.silent:
                raise
            missing[obj.at] = error.what
        if told is not None:
            told(i + 1, len(asked))
    return Snapshot(who, values, missing)


def plan(
    profile: Profile, have: Snapshot, want: ParamSet, typed: str = "", other: str = ""
) -> tuple[Step, ...]:
    """What is to be written, in its order. typed: what a person typed to write a set of another revision or serial, or
    into the controller of another build (other: whose). Raises InputError where the set does not belong here or a value
    may not be written."""
    why, may = foreign(want.identity, have.identity, other)
    if why and not (may and typed.strip() == have.identity.called):
        todo = (
            f"To write it all the same, type the controller's name: {have.identity.called}"
            if may
            else ("Take the set that was made for this controller.")
        )
        raise InputError(
            "This set does not belong to this controller.", where=want.name, got=why, todo=todo
        )
    wrong = unfit(profile, want)
    if wrong:
        raise InputError(
            "Not every value of the set may be written; nothing is.", where=want.name, got=" ".join(wrong[:4]),
            todo="Change these, or take them out of the set.",
        )  # fmt: skip
    gone = [at for at in want.values if at not in have.values]
    if gone:
        raise InputError(
            "Not every object of the set could be read first; nothing is written.", where=want.name,
            got=", ".join(f"{spelled(at)}: {have.missing.get(at, 'unread')}" for at in gone[:4]),
        )  # fmt: skip
    steps = []
    for at in order(profile, have.values, want.values):
        spec = profile.meaning(at)
        if not _same(profile, at, have.values[at], want.values[at]):
            steps.append(Step(at, have.values[at], want.values[at], bool(spec and spec.power)))
    return tuple(steps)


def _same(profile: Profile, at: Address, a: Scalar, b: Scalar) -> bool:
    if a == b:
        return True
    if isinstance(a, float) and isinstance(b, int | float):
        return abs(a - b) <= 1e-6 * max(abs(a), abs(b))  # what a REAL32 keeps
    return False


def still(port: Port, profile: Profile) -> None:
    """Raises InputError while the motor turns, by its speed or else the bike's. A kind that shows neither is left to
    whoever looks at it."""
    name, unit = ("rpm", "rpm at the motor") if "rpm" in profile.shows else ("speed_m_s", "m/s")
    place = profile.shows.get(name)
    if place is None:
        return
    stored = port.read(place.at)
    turns = stored * place.scale + place.offset if isinstance(stored, int | float) else 0.0
    if abs(turns) > 1e-9:
        raise InputError(
            "The wheel turns; nothing is written.", got=f"{abs(turns):.3g} {unit}",
            todo="Let it come to rest, hand off the throttle.",
        )  # fmt: skip


def _awake(last: float, clock: Clock) -> float:
    """The time now. Raises LinkError where so much has gone by since the step before that what was looked at then, the
    wheel, the pack and whoever stands there, may be otherwise."""
    now = clock()
    if now - last > ASLEEP_S:
        raise LinkError(
            "The write was held up, by a laptop that was asleep, and does not go on by itself.",
            got=f"{now - last:.0f} s between two steps", expected=f"at most {ASLEEP_S:.0f} s",
            todo="Look at the bike: wheel free, the same pack, nobody riding. Then finish it or go back.",
        )  # fmt: skip
    return now


def write(
    port: Port, profile: Profile, steps: tuple[Step, ...], note: Note, clock: Clock = awake.seconds
) -> bool:
    """Write, read back, store. Returns whether the power has to be off once before it all holds. Raises LinkError
    at the first object that cannot be written or reads back otherwise, or where the machine was asleep meanwhile; what
    was written stays, and the journal knows where it ended. clock: s, going on in a sleep."""
    still(port, profile)
    last = clock()
    for n, step in enumerate(steps):
        last = _awake(last, clock)
        if n % 8 == 0:
            still(port, profile)
        note("write", step.at)
        port.write(step.at, step.new)
        back = port.read(step.at)
        if not _same(profile, step.at, back, step.new):
            raise LinkError(
                "What was written reads back otherwise.", where=spelled(step.at), got=f"{back!r}",
                expected=f"{step.new!r}",
                todo="Nothing was stored. Restore the backup, or switch off: it then has its old values.",
            )  # fmt: skip
        note("verified", step.at)
    lost = [s.at for s in steps if not _same(profile, s.at, port.read(s.at), s.new)]
    if lost:
        raise LinkError(
            "The controller lost what was written before it could be stored: it was reset in between.",
            got=f"{len(lost)} of {len(steps)} values, {spelled(lost[0])} first",
            expected="all of them",
            todo="Nothing was stored: until it was off and on old and new are mixed. Give it a steady supply, switch "
            "it off and on, and write again.",
        )
    _awake(last, clock)
    if not profile.stores:
        return bool(steps)  # whether it keeps them by itself shows once it was off
    note("store", None)
    port.write(STORE, SAVE)
    note("stored", None)
    return any(s.power for s in steps)


def standing(profile: Profile, steps: tuple[Step, ...], have: dict[Address, Scalar]) -> Standing:
    """What a device holds of a write that began."""
    new = old = 0
    neither, unread = [], []
    for s in steps:
        value = have.get(s.at)
        if value is None:
            unread.append(s.at)
        elif _same(profile, s.at, value, s.new):
            new += 1
        elif _same(profile, s.at, value, s.old):
            old += 1
        else:
            neither.append(s.at)
    return Standing(new, old, tuple(neither), tuple(unread))


def look_again(port: Port, profile: Profile, steps: tuple[Step, ...], who: Identity) -> Standing:
    """After the power was off. Raises LinkError, InputError where another device answers."""
    now = port.identity()
    if (now.kind, now.serial) != (who.kind, who.serial):
        raise InputError(
            "Another controller answers than the one that was written.", got=f"serial {now.serial}",
            expected=f"serial {who.serial}", todo="Connect that one; this one was not touched.",
        )  # fmt: skip
    return standing(profile, steps, {s.at: port.read(s.at) for s in steps})
