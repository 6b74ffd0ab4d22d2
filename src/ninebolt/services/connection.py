"""One connection to a controller at a time: who answers, what it holds, the guarded write with its journal, what it
shows while it runs."""

from __future__ import annotations

import dataclasses
import threading
import time
from collections import deque
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from typing import Any

from ninebolt import awake
from ninebolt.bench import HOST
from ninebolt.core.bolts.tune.profiles import belongs as pack_belongs
from ninebolt.core.finding import listed
from ninebolt.core.setting.codes import decoded
from ninebolt.core.setting.objects import Address
from ninebolt.core.setting.ours import STATES
from ninebolt.core.setting.sets import Identity, ParamSet, Profile, fingerprint, foreign
from ninebolt.errors import ConflictError, InputError, LinkError, NineBoltError, NotFoundError
from ninebolt.formats.when import on_the_wall
from ninebolt.link import guarded
from ninebolt.link.guarded import Snapshot, Standing, Step
from ninebolt.link.port import Adapter, Port, close, connect
from ninebolt.link.routines import sample, stop
from ninebolt.services import unfinished, workshop
from ninebolt.services.bench_line import PORT
from ninebolt.services.controllers import profile
from ninebolt.services.house import House
from ninebolt.services.identified import IDENTIFICATION, LET_GO, MAY_TURN, Turned, at_rest, turning
from ninebolt.services.link_shown import LinkState, LiveSample, Pending, Written
from ninebolt.services.receiver import Receiver
from ninebolt.store.builds import get_build
from ninebolt.store.controllers import (
    OPEN,
    ReadingRow,
    WritingRow,
    end_writings,
    get_reading,
    get_writing,
    insert_reading,
    insert_writing,
    open_writing,
    set_writing,
    written_for,
)
from ninebolt.store.database import session, transaction

__all__ = ["Adapter", "Connection"]
WRITE = "A write"
EVERY_S = 0.1
KEPT_SAMPLES = 60 * 60 * 10  # an hour at ten a second
QUIET_S = 5.0  # nobody looks: the reader rests


class Connection:
    """Kept by the application; one port, many lookers."""

    def __init__(self, house: House, bench_port: int = PORT) -> None:
        self.house, self.bench_port = house, bench_port
        self._lock = threading.RLock()
        self._network: Any = None
        self._port: Port | None = None
        self._profile: Profile | None = None
        self._device: Identity | None = None
        self._problem = ""
        self._reader: threading.Thread | None = None
        self._looked = 0.0
        self._latest: LiveSample | None = None
        self._samples: deque[LiveSample] = deque(maxlen=KEPT_SAMPLES)
        self._recording = False
        self._work, self._gate = "", threading.Lock()  # what nothing else may come between
        self._turned = self._let_go = ""
        self._began = 0.0
        self._receiver = Receiver()
        self.sentences = b""  # of the receiver, as they came
        # Nodes that did not answer, and until when they are left alone.
        self.quiet: dict[int, float] = {}

    # Being connected

    @property
    def bench(self) -> str:
        """The channel of the bench bike beside this server."""
        return f"socket://{HOST}:{self.bench_port}"

    def open(self, adapter: Adapter, profile_key: str) -> LinkState:
        """Connect and ask who is there. Raises LinkError; what was connected before is let go first."""
        kind = profile(self.house, profile_key)
        with self._lock:
            self.close()
            network = connect(adapter)
            try:
                port = Port(network, adapter, kind.dictionary)
                self._device = port.identity()
            except NineBoltError:
                close(network)
                raise
            self._network, self._port, self._profile, self._problem = network, port, kind, ""
            self._turned = ""
            return self.state()

    def close(self) -> None:
        """Let go of the adapter; nothing is written but the end of an identification that runs."""
        with self._lock:
            if self._port is not None and self._work == IDENTIFICATION:
                self._halt(self._port)
            network, self._network, self._port = self._network, None, None
            self._device = self._latest = None
            self._recording = False
            self.quiet.clear()
            if network is not None:
                close(network)

    def _halt(self, port: Port) -> None:
        """Nobody would see it end: the motor is stopped before its connection goes."""
        try:
            stop(port)
            self._let_go = f"{LET_GO} The motor was stopped first."
        except LinkError as error:
            self._let_go = f"{LET_GO} {error.what} {MAY_TURN}"
            self._problem = self._let_go

    def state(self) -> LinkState:
        port, device = self._port, self._device
        busy = (
            port is None or device is None or self._work == WRITE
        )  # a write at work is no write that was cut
        pending = None if busy or device is None else self._pending(device)
        kind = self._profile if port else None
        last = self._last_for() if port else ("", "")
        return LinkState(
            port is not None, port.adapter.channel if port else "", kind.name if kind else "", device,
            self._problem, pending, self._recording, len(self._samples), self.bench,
            f"socket://{HOST}:{self.bench_port + 2}", self._receiver.heard, kind.unseen if kind else (),
            kind.identify if kind else False, self._turned, *last,
        )  # fmt: skip

    def there(self) -> tuple[Port, Profile, Identity]:
        """Raises ConflictError while nothing is connected."""
        port, kind, device = self._port, self._profile, self._device
        if port is None or kind is None or device is None:
            raise ConflictError(
                "No controller is connected.",
                todo="Connect it first; the bench bike is: ninebolt bench --live",
            )
        return port, kind, device

    def _pending(self, device: Identity) -> Pending | None:
        with session(self.house.path) as db:
            w = open_writing(db, device)
            if w is None:
                return None
            whose = get_build(db, w.build_id).name
        try:
            stands = self._standing(w)
        except NineBoltError as error:
            return Pending(w.id, w.build_id, whose, w.at, w.state, 0, 0, 0, error.message())
        total = len(w.steps)
        if stands.whole and stands.new == total:
            words = f"all {total} values are the new ones"
            words += (
                "; they act after the power was off"
                if w.state != "verified" and any(s[3] for s in w.steps)
                else ""
            )
        elif stands.whole:
            words = f"all {total} values are the old ones: what was written was never stored"
        else:
            words = f"half written: {stands.new} new, {stands.old} old, {len(stands.neither)} neither, of {total}"
        if not device.serial:
            words += "; it tells no serial number: make sure by its label that it is the one"
        return Pending(
            w.id,
            w.build_id,
            whose,
            w.at,
            w.state,
            stands.new,
            stands.old,
            len(stands.neither),
            words,
        )

    def _standing(self, w: WritingRow) -> Standing:
        port, kind, _ = self.there()
        return guarded.standing(kind, _steps(w), {s.at: port.read(s.at) for s in _steps(w)})

    def other_bike(self, build_id: str) -> str:
        """The name of the build that the connected controller was written for last, '' if it is this one or none."""
        last, name = self._last_for()
        return "" if last == build_id else name

    def _last_for(self) -> tuple[str, str]:
        """(id, name) of the build that the connected controller was written for last; '' twice for none."""
        with session(self.house.path) as db:
            last = written_for(db, self._device) if self._device else None
            return ("", "") if last is None else (last, get_build(db, last).name)

    # Reading and writing

    def read(self, build_id: str, why: str) -> ReadingRow:
        """Read everything and keep it. Raises LinkError and keeps nothing."""
        port, kind, _ = self.there()
        with self._lock:
            return self._kept(build_id, guarded.read_all(port, kind), kind, why)

    def _kept(self, build_id: str, snap: Snapshot, kind: Profile, why: str) -> ReadingRow:
        row = ReadingRow(
            self.house.new_id(),
            build_id,
            self.house.now(),
            why,
            snap.identity,
            kind.key,
            snap.values,
        )
        with session(self.house.path) as db, transaction(db):
            insert_reading(db, row)
        return row

    def plan(
        self,
        build_id: str,
        want: ParamSet,
        typed: str = "",
        volts: float | None = None,
        profile_name: str = "",
    ) -> tuple[Step, ...]:
        """What a write would change now; nothing is written. Raises InputError where it must not be."""
        port, kind, _ = self.there()
        with self._lock:
            snap = guarded.read_all(port, kind)
            self._pack_fits(build_id, kind, profile_name, volts)
            return guarded.plan(kind, snap, want, typed, self.other_bike(build_id))

    def _pack_fits(
        self, build_id: str, kind: Profile, name: str, volts: float | None
    ) -> tuple[str, ...]:
        """The pack that is connected must be able to be the profile's. volts: by a meter, else as it shows them. Says
        what nobody could look at. Raises InputError."""
        build = workshop.kept_build(self.house, build_id)
        _, _, device = self.there()
        if volts is None:
            volts = self._volts(kind, device)
        if volts is None or not volts > 1.0:
            return (unfinished.UNREAD,)
        verdict = pack_belongs(build, name, volts)
        if not verdict.fits and build.pack.series:
            raise InputError(
                "The pack that is connected does not belong to this set.", got=verdict.sentence,
                todo="Connect the right pack, or take the profile of this one.",
            )  # fmt: skip
        return ()

    def _volts(self, kind: Profile, device: Identity) -> float | None:
        """Of the connected pack, as the controller shows them."""
        port, _, _ = self.there()
        shown = "bus_v" in kind.shows and _is_kind(kind, device)
        return sample(port, kind).values.get("bus_v") if shown else None

    def write(
        self, build_id: str, want: ParamSet, why: str, typed: str = "", volts: float | None = None,
        profile_name: str = "", free: bool = False, ends: str = "",
        unseen: tuple[str, ...] | None = None, seen: str = "",
    ) -> Written:  # fmt: skip
        """The guarded write. free: a person said that the wheel is free or the chain off. ends: an earlier write that
        this one finishes or undoes, and unseen what could not be looked at of its pack. seen: the
        fingerprint of the comparison that somebody looked at, '' where nobody did. Raises InputError, LinkError;
        whatever was begun stands in the journal."""
        port, kind, device = self.there()
        if not free:
            raise InputError(
                "A controller is written with the wheel free or the chain off.", where="free",
                todo="Put the bike on its stand, or take the chain off, and say so.",
            )  # fmt: skip
        with self._lock, self._at_work(WRITE):
            at_rest(port, kind)
            snap = guarded.read_all(port, kind)
            blind = unseen
            if blind is None:
                blind = self._pack_fits(build_id, kind, profile_name, volts)
            if not {"rpm", "speed_m_s"} & kind.shows.keys():
                blind = ("whether the wheel turned", *blind)
            steps = guarded.plan(kind, snap, want, typed, self.other_bike(build_id))
            held = {at: snap.values[at] for at in want.values}
            if seen and seen != fingerprint(held, want.values):
                raise ConflictError(
                    "What would be written is not what was compared: the build or the controller has moved.",
                    todo="Compare again, look, then write.",
                )
            if not ends:
                self._over_none_half(device)
            before = self._kept(build_id, snap, kind, f"before: {why}")
            row = WritingRow(
                self.house.new_id(), build_id, before.id, self.house.now(), why, device, kind.key,
                tuple((s.at, s.old, s.new, s.power) for s in steps), "writing", "", None,
            )  # fmt: skip
            with session(self.house.path) as db:
                with transaction(db):
                    insert_writing(db, row)
                    if not ends:
                        end_writings(db, device, row.id, row.at)

                def note(what: str, at: Address | None) -> None:
                    state = "stored" if what == "stored" else "writing"
                    with transaction(db):
                        set_writing(
                            db,
                            row.id,
                            state,
                            f"{what} {at[0]:04X}:{at[1]:02X}" if at else what,
                            None,
                        )

                try:
                    cycle = guarded.write(port, kind, steps, note)
                except NineBoltError as error:
                    self._problem = error.message()
                    raise
                state = "waiting" if cycle else "verified"
                with transaction(db):
                    set_writing(db, row.id, state, "", None if cycle else self.house.now())
                    end_writings(db, device, row.id, self.house.now())
        words = (
            f"{len(steps)} value{'s' if len(steps) > 1 else ''} written, read back and stored."
            if steps
            else "Nothing differed; nothing was written."
        )
        if steps and not kind.stores:
            words = words.replace(
                " and stored.", ". It has no store command here: whether it keeps them shows only"
            )
            words += " once it was off and on; then look again."
        elif cycle:
            words += " Switch it off and on, then look again."
        words += f" Not seen here, so not checked: {'; '.join(blind)}." if steps and blind else ""
        return Written(row.id, len(steps), cycle, state, words)

    @contextmanager
    def _at_work(self, what: str) -> Iterator[None]:
        self._begin(what)
        try:
            yield
        finally:
            self._work = ""

    def _begin(self, what: str) -> None:
        with self._gate:
            if self._work:
                raise ConflictError(
                    f"{self._work} is under way in this controller.",
                    todo="Wait until it has ended.",
                )
            self._work = what

    def after_cycle(self, writing_id: str) -> Written:
        """Read what was written again, after the power was off. Raises LinkError; InputError where another answers."""
        with session(self.house.path) as db:
            w = get_writing(db, writing_id)
        port, kind, _ = self.there()
        with self._lock:
            self._device = port.identity()
            stands = guarded.look_again(port, kind, _steps(w), w.device)
        good = stands.whole and stands.old == 0
        with session(self.house.path) as db, transaction(db):
            set_writing(
                db, w.id, "verified" if good else "writing", "", self.house.now() if good else None
            )
        if not good:
            raise LinkError(
                "After the power cycle not every value is the new one.",
                got=f"{stands.new} new, {stands.old} old, {len(stands.neither)} neither",
                todo="Finish the write, or restore the backup.",
            )  # fmt: skip
        return Written(
            w.id,
            stands.new,
            False,
            "verified",
            f"All {stands.new} values hold after the power cycle.",
        )

    def _over_none_half(self, device: Identity) -> None:
        with session(self.house.path) as db:
            w = open_writing(db, device)
        if w is not None:
            unfinished.not_half(self._standing(w))

    def settle(self, writing_id: str, finish: bool, free: bool, anyway: bool = False) -> Written:
        """Finish a write that was cut, or put back what stood before it, which is always allowed. anyway: although the
        connected pack, or what is in the build by now, does not suit the values. Raises as write, and ConflictError."""
        with session(self.house.path) as db:
            w = get_writing(db, writing_id)
        port, kind, device = self.there()
        why, _ = foreign(w.device, device)
        if why and w.device != device:
            raise InputError("That write was into another controller.", got=why)
        steps = _steps(w)
        if w.state not in OPEN:
            raise ConflictError(
                "That write has come to its end.", got=w.state,
                todo="To go back, take a kept reading and write it.",
            )  # fmt: skip
        if not steps:
            raise NotFoundError("That write changed nothing.")
        want = ParamSet("the write that was cut" if finish else "the backup", {
            s.at: (s.new if finish else s.old) for s in steps
        }, w.device)  # fmt: skip
        build = workshop.kept_build(self.house, w.build_id)
        stops = unfinished.stops_of(build, kind, want)
        unseen: tuple[str, ...] = ()
        with self._lock:
            if finish and not anyway:
                unfinished.must_be_fit(stops)
                held = guarded.read_all(port, kind).values
                unseen = unfinished.suits_the_pack(
                    build, kind, held | want.values, self._volts(kind, device)
                )
        done = self.write(
            w.build_id,
            want,
            f"{'finish' if finish else 'restore'}: {w.why}",
            typed=device.called,
            free=free,
            ends=w.id,
            unseen=unseen,
        )
        if not stops:
            return done
        words = f"{done.sentence} In the build as it is now these values stop: {listed(stops, 3, '; ')}."
        return dataclasses.replace(done, sentence=words)

    def backup(self, build_id: str, reading_id: str) -> ParamSet:
        """A kept reading as a set to be written back: what can be written, without what the device itself counts."""
        with session(self.house.path) as db:
            r = get_reading(db, build_id, reading_id)
        kind = profile(self.house, r.profile)
        objects = kind.dictionary.objects
        values = {
            at: v
            for at, v in r.values.items()
            if at in objects and objects[at].writable and not objects[at].unread
        }
        return ParamSet(
            f"the reading of {on_the_wall(r.at)}", values, r.device, {"firmware": r.device.firmware}
        )

    # What it shows while it runs

    def _look(self) -> LiveSample:
        port, kind, device = self.there()
        _same_kind(kind, device)
        values = sample(port, kind).values
        code = decoded(int(values.get("fault", 0)), kind.codes)
        n = int(values.get("state", -1))
        state = STATES[n] if 0 <= n < len(STATES) else "its state is not shown"
        if "fault" not in values:
            state += ", nor a fault" if n < 0 else ", a fault is not shown"
        return LiveSample(
            awake.seconds() - self._began,
            values,
            state,
            "" if code.number == 0 else code.label,
            code.blinks,
            code.causes,
            "; ".join(d for d in code.during if state == "identifying" and "identification" in d),
        )

    def live(self) -> LiveSample:
        """The newest look, at most a tenth of a second old. Raises ConflictError, LinkError."""
        self.there()
        self._looked = time.monotonic()
        with self._lock:
            if self._reader is None or not self._reader.is_alive():
                self._began = self._began or awake.seconds()
                self._latest = self._look()
                self._reader = threading.Thread(target=self._read_on, name="link", daemon=True)
                self._reader.start()
        latest = self._latest
        if latest is None:
            raise LinkError(
                "The controller fell silent.",
                got=self._problem,
                silent=True,
                todo="Is the key on? Connect again.",
            )
        return latest

    def _read_on(self) -> None:
        """Ten looks a second, while somebody looks or a ride is recorded."""
        due = time.monotonic()
        while self._port is not None and (
            self._recording or time.monotonic() - self._looked < QUIET_S
        ):
            try:
                seen = self._look()
                self._latest, self._problem = seen, ""
                if self._recording:
                    self._samples.append(seen)
            except NineBoltError as error:
                self._latest, self._problem = None, error.message()
            due = max(due + EVERY_S, time.monotonic())
            time.sleep(max(0.0, due - time.monotonic()))

    def stream(self) -> Iterator[LiveSample | str]:
        """Looks as they come, ten a second; a sentence where there is none just now."""
        while True:
            try:
                yield self.live()
            except NineBoltError as error:
                yield error.message()
                time.sleep(0.4)
            time.sleep(EVERY_S)

    def record(self, on: bool, gps: str = "") -> int:
        """Begin or end to keep what is shown; how many looks are kept. gps: a receiver that is kept beside it."""
        self.there()
        if on:
            self.sentences = b""
            if gps:
                self._receiver.begin(gps)
            self._samples.clear()
            self._began = awake.seconds()
            self._recording = True
            self.live()
        else:
            self._recording = False
            self.sentences = self._receiver.end()
        return len(self._samples)

    def recorded(self) -> list[LiveSample]:
        return list(self._samples)

    def identification(self, job_id: str, build_id: str = "") -> Callable[[], Iterator[Turned]]:
        """The controller's own identification, checked now, started and followed as it is read. build_id: whose motor
        it is. Raises ConflictError over a half set or while anything else is under way; LinkError where it breaks
        off."""
        port, kind, device = self.there()
        _same_kind(kind, device)
        build = workshop.kept_build(self.house, build_id) if build_id else None
        other = self.other_bike(build_id) if build_id else ""
        with self._lock:
            self._over_none_half(device)
            at_rest(port, kind)
            self._begin(IDENTIFICATION)
            self._turned, self._let_go = job_id, f"{LET_GO} {MAY_TURN}"

        def steps() -> Iterator[Turned]:
            def let_go() -> str:
                return "" if self._port is port else self._let_go

            try:
                with closing(turning(port, kind, build_id, build, let_go, other)) as found:
                    with self._lock:  # begun before the connection is let go, or not at all
                        if why := let_go():
                            raise LinkError(why)
                        first = next(found)
                    yield first
                    yield from found
            finally:
                self._work = ""

        return steps


def _is_kind(kind: Profile, device: Identity) -> bool:
    """Whether the dictionary is of this device's kind, as far as it says whose it is."""
    own = (kind.dictionary.vendor, kind.dictionary.product)
    return own in ((0, 0), device.kind)


def _same_kind(kind: Profile, device: Identity) -> None:
    """Raises ConflictError where another maker's controller answers than the one the dictionary is of: what it shows at
    these places means something else."""
    own = kind.dictionary
    if not _is_kind(kind, device):
        raise ConflictError(
            "Another kind of controller answers than the dictionary is of: what it shows cannot be read with it.",
            got=f"maker {device.vendor}, product {device.product}",
            expected=f"maker {own.vendor}, product {own.product} ({kind.name})",
            todo="Connect it with its own dictionary file, under Another controller.",
        )


def _steps(w: WritingRow) -> tuple[Step, ...]:
    return tuple(Step(at, old, new, power) for at, old, new, power in w.steps)
