"""The bench bike as a process of its own: a CAN bus, a GPS and a control line, each on a loopback port.

port: the bus; port + 1: the control line (one JSON object a line, answered by one); port + 2: the GPS.
Times are real: a second of riding takes a second, unless the control line asks for a wait.
"""

from __future__ import annotations

import json
import random
import socket
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import asdict
from typing import Any

import canopen

from ninebolt.bench import HOST
from ninebolt.bench.faults import HIDDEN, LIVE_FAULTS, known_fault
from ninebolt.bench.gps import Receivers, sentences
from ninebolt.bench.meter import POINTS, measure
from ninebolt.bench.motion import STEP_S, Bike
from ninebolt.bench.nodes import BmsNode, ControllerNode
from ninebolt.bench.wire import Hub, LocalBus, serve
from ninebolt.core.build import Build
from ninebolt.core.setting.codes import decoded
from ninebolt.errors import InputError, NineBoltError
from ninebolt.formats.build_json import read_build

MOST_LINE = 4_000_000
MOST_STEPS = 2000
GPS_EVERY_S = 0.1
LOSS = 0.02
BOOT_S = 0.05  # from the supply until it hears
KEPT_ROWS = 200_000


class Bench:
    """One live bench: a bike, its nodes, and what is hidden in it."""

    def __init__(self, build: Build, seed: int = 1, faults: tuple[str, ...] = ()) -> None:
        self.lock = threading.RLock()
        self.hub = Hub(seed)
        self.gps = Receivers()
        self.stop = threading.Event()
        self.rng = random.Random(seed)
        self._networks: list[Any] = []
        self._script: list[tuple[float, float, float]] = []
        self._began = 0.0
        self.rows: list[tuple[float, ...]] = []
        self.recording = False
        self.hidden: str | None = None
        self.readings = 0
        self.guesses = 0
        self.seed = seed
        self._fit(build)
        for f in faults:
            self.fault(f, True)

    def _fit(self, build: Build) -> None:
        """Another bike on the bench: the old nodes leave the bus."""
        bike = Bike(build, self.seed)
        for network in self._networks:
            network.disconnect()
        self._networks = []
        self.bike = bike
        self.controller = ControllerNode(bike)
        self.bms = BmsNode(bike)
        for node in (self.controller, self.bms):
            network = canopen.Network(bus=LocalBus(self.hub))
            network.NOTIFIER_CYCLE = 0.1
            network.connect()
            network.add_node(node)
            self._networks.append(network)

    def fault(self, key: str, on: bool) -> None:
        """Break something, or mend it."""
        known_fault(key)
        faults = self.bike.faults
        faults.add(key) if on else faults.discard(key)
        self.hub.loss = LOSS if "lost-frames" in faults else 0.0
        self.controller.writes_left = self.rng.randint(1, 12) if "reset-in-write" in faults else -1

    def run(self) -> None:
        """Ride in real time until stopped."""
        last, gps_at = time.monotonic(), 0.0
        while not self.stop.wait(STEP_S):
            now = time.monotonic()
            with self.lock:
                for _ in range(min(int((now - last) / STEP_S), 20)):
                    self._step()
                    last += STEP_S
                if now - last > 1.0:
                    last = now  # a machine that slept does not catch up
                if now - gps_at >= GPS_EVERY_S:
                    gps_at = now
                    s = self.bike.s
                    text = sentences(s.t_s, s.distance_m, s.speed_m_s, self.rng)
                else:
                    text = ""
            if text:
                self.gps.tell(text)

    def _step(self) -> None:
        b = self.bike
        if self._script:
            t = b.s.t_s - self._began
            while len(self._script) > 1 and t >= self._script[1][0]:
                self._script.pop(0)
            _, b.hand.throttle, b.hand.grade_pct = self._script[0]
        b.step()
        if self.recording and len(self.rows) < KEPT_ROWS:
            s = b.s
            self.rows.append((
                s.t_s, s.speed_m_s, s.bus_v, s.line_a, s.phase_a, s.winding_c, s.read_pct / 100.0, s.distance_m,
            ))  # fmt: skip

    def close(self) -> None:
        self.stop.set()
        for network in self._networks:
            network.disconnect()

    # The control line

    def answer(self, asked: dict[str, Any]) -> dict[str, Any]:
        """One request. Raises InputError for one that is none."""
        do = asked.get("do")
        action = ACTIONS.get(str(do))
        if action is None:
            raise InputError(
                "The bench does not know this.", got=str(do)[:40], expected=", ".join(ACTIONS)
            )
        with self.lock:
            more = action(self, asked)
            return {"ok": True, "state": self.state(), **(more or {})}

    def state(self) -> dict[str, Any]:
        """What anybody sees who stands beside it. A hidden fault is not in it."""
        s, shown = self.bike.s, sorted(self.bike.faults - ({self.hidden} if self.hidden else set()))
        return {
            "build": self.bike.build.name, "t_s": s.t_s, "speed_m_s": s.speed_m_s, "distance_m": s.distance_m,
            "bus_v": s.bus_v, "line_a": s.line_a, "phase_a": s.phase_a, "soc": s.soc, "motor_c": s.winding_c,
            "plug_c": s.plug_c, "fault_code": s.fault, "fault": decoded(s.fault).label,
            "bms": s.bms, "key": s.key, "hand": asdict(self.bike.hand),
            "faults": shown, "hidden": self.hidden is not None, "readings": self.readings, "guesses": self.guesses,
            "waiting": self.controller.waiting, "recording": self.recording, "rows": len(self.rows),
        }  # fmt: skip

    def load(self, asked: dict[str, Any]) -> None:
        build = read_build(json.dumps(asked.get("doc", {})).encode(), "the build to ride")
        keep = set(self.bike.faults)
        self._fit(build)
        for key in keep:
            self.fault(key, True)

    def hand(self, asked: dict[str, Any]) -> None:
        h = self.bike.hand
        self._script = []
        for key, low, high in (("throttle", 0.0, 1.0), ("grade_pct", -30.0, 30.0)):
            if key in asked:
                value = asked[key]
                if (
                    isinstance(value, bool)
                    or not isinstance(value, int | float)
                    or not low <= value <= high
                ):
                    raise InputError("This is no such setting of the hand.", where=key, got=repr(value)[:30],
                                     expected=f"{low:g} to {high:g}")  # fmt: skip
                setattr(h, key, float(value))
        for key in ("brake", "stand"):
            if key in asked:
                setattr(h, key, bool(asked[key]))
                if key == "stand":
                    self.bike.s.speed_m_s = 0.0

    def script(self, asked: dict[str, Any]) -> None:
        """Rows of [seconds, throttle, grade]; the last stays."""
        rows = asked.get("rows", [])
        if not isinstance(rows, list) or not 0 < len(rows) <= MOST_STEPS:
            raise InputError(
                "This is no script.",
                expected=f"1 to {MOST_STEPS} rows of [seconds, throttle, grade]",
            )
        try:
            made = sorted((float(t), min(max(float(x), 0.0), 1.0), float(g)) for t, x, g in rows)
        except (TypeError, ValueError):
            raise InputError(
                "This is no script.", expected="rows of [seconds, throttle, grade]"
            ) from None
        self._script, self._began = made, self.bike.s.t_s

    def key(self, asked: dict[str, Any]) -> None:
        if not asked.get("on", True):
            self.bike.s.key = False
        elif not self.bike.s.key:
            self._comes_up()

    def cycle(self, asked: dict[str, Any]) -> None:
        self.bike.s.key = False
        self._comes_up()

    def _comes_up(self) -> None:
        """It takes a moment, and hears nothing of what was said before: a frame that still lies in the wire when the
        supply is back would otherwise be carried out then, which no real bus does."""
        self.controller.power_cycle()
        time.sleep(BOOT_S)
        self.bike.s.key = True

    def set_fault(self, asked: dict[str, Any]) -> None:
        self.fault(str(asked.get("name", "")), bool(asked.get("on", True)))

    def repair(self, asked: dict[str, Any]) -> dict[str, Any]:
        """Mend one thing, or all; a repair is a guess while a fault is hidden."""
        name = str(asked.get("name", ""))
        if name == "all":
            self.bike.faults.clear()
            self.hidden = None
            self.hub.loss = 0.0
            return {}
        right = known_fault(name) == self.hidden
        if self.hidden is not None:
            self.guesses += 1
        self.fault(name, False)
        found = self._score() if right else None
        if right:
            self.hidden = None
        return {"right": right, "score": found}

    def practice(self, asked: dict[str, Any]) -> dict[str, Any]:
        """Hide one fault; mended ones are forgotten."""
        self.bike.faults.clear()
        rng = random.Random(asked["seed"]) if "seed" in asked else self.rng
        self.hidden = rng.choice(HIDDEN)
        self.fault(self.hidden, True)
        self.readings = self.guesses = 0
        self.controller.power_cycle()
        return {
            "faults": [
                {"key": k, "label": LIVE_FAULTS[k].label, "repair": LIVE_FAULTS[k].repair}
                for k in HIDDEN
            ]
        }

    def _score(self) -> dict[str, Any]:
        """A hundred, less four for each reading after the third, less twenty-five for each wrong repair."""
        wrong = self.guesses - 1
        points = max(0, 100 - 4 * max(0, self.readings - 3) - 25 * wrong)
        return {"points": points, "readings": self.readings, "wrong": wrong, "fault": self.hidden}

    def meter(self, asked: dict[str, Any]) -> dict[str, Any]:
        self.readings += 1
        return {"reading": asdict(measure(self.bike, str(asked.get("point", "")), self.rng))}

    def wait(self, asked: dict[str, Any]) -> None:
        seconds = asked.get("seconds", 0)
        if (
            isinstance(seconds, bool)
            or not isinstance(seconds, int | float)
            or not 0 <= seconds <= 3600
        ):
            raise InputError(
                "This is no time to wait.", got=repr(seconds)[:30], expected="0 to 3600 s"
            )
        for _ in range(round(seconds / STEP_S)):
            self._step()

    def record(self, asked: dict[str, Any]) -> dict[str, Any]:
        """Begin, or end and hand over what was recorded, as columns."""
        self.recording = bool(asked.get("on", False))
        if self.recording:
            self.rows = []
            return {}
        rows, self.rows = self.rows, []
        return {"columns": RECORDED, "data": [[round(x, 4) for x in r] for r in rows]}

    def rest(self, asked: dict[str, Any]) -> None:
        """As it stood: full, cold, at the start."""
        s = self.bike.s
        self.bike.s = type(s)(soc=self.bike.truth.start_soc, bus_v=self.bike.open_v(), t_s=s.t_s)
        self.bike.hand.throttle = 0.0
        self._script = []

    def things(self, asked: dict[str, Any]) -> dict[str, Any]:
        return {
            "faults": [asdict(f) for f in LIVE_FAULTS.values()],
            "points": [
                {"key": p.key, "label": p.label, "quantity": p.quantity} for p in POINTS.values()
            ],
        }


RECORDED = [
    "t_s",
    "speed_m_s",
    "bus_v",
    "line_a",
    "phase_a",
    "motor_c",
    "throttle",
    "distance_m",
]
ACTIONS: dict[str, Callable[[Bench, dict[str, Any]], dict[str, Any] | None]] = {
    "state": lambda b, a: None,
    "things": Bench.things,
    "load": Bench.load,
    "hand": Bench.hand,
    "script": Bench.script,
    "key": Bench.key,
    "cycle": Bench.cycle,
    "fault": Bench.set_fault,
    "repair": Bench.repair,
    "practice": Bench.practice,
    "measure": Bench.meter,
    "wait": Bench.wait,
    "record": Bench.record,
    "rest": Bench.rest,
}


def control(listener: socket.socket, bench: Bench) -> None:
    """Take control lines until the socket is closed."""
    while True:
        try:
            sock, _ = listener.accept()
        except OSError:
            return
        threading.Thread(
            target=_lines, args=(sock, bench), name="bench-control", daemon=True
        ).start()


def _lines(sock: socket.socket, bench: Bench) -> None:
    with sock, sock.makefile("rb") as file:
        while True:
            line = file.readline(MOST_LINE)
            if not line:
                return
            try:
                asked = json.loads(line)
                if not isinstance(asked, dict):
                    return  # a browser, or nobody that speaks this
                answer = bench.answer(asked)
            except (json.JSONDecodeError, UnicodeDecodeError, RecursionError):
                return
            except NineBoltError as error:
                answer = {"ok": False, **error.as_dict(), "message": error.message()}
            try:
                sock.sendall(json.dumps(answer).encode() + b"\n")
            except OSError:
                return


def _bound(port: int) -> socket.socket:
    made = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        made.bind((HOST, port))
    except OSError as error:
        made.close()
        raise InputError(
            "The bench's port cannot be had.", where=f"--port {port}", got=str(error.strerror),
            todo="Another bench bike may be running. End it, or take another port: three in a row must be free.",
        ) from error  # fmt: skip
    made.listen()
    return made


@contextmanager
def running(bench: Bench, port: int) -> Iterator[int]:
    """The bench at work on three ports from `port` on (0: wherever three are free); gives the first."""
    sockets = _three(port)
    first = int(sockets[0].getsockname()[1])
    threads = [
        threading.Thread(target=serve, args=(sockets[0], bench.hub), daemon=True),
        threading.Thread(target=control, args=(sockets[1], bench), daemon=True),
        threading.Thread(target=bench.gps.serve, args=(sockets[2],), daemon=True),
        threading.Thread(target=bench.run, daemon=True),
    ]
    for t in threads:
        t.start()
    try:
        yield first
    finally:
        bench.close()
        for s in sockets:
            s.close()


def _three(port: int) -> list[socket.socket]:
    for _ in range(20):
        first = _bound(port)
        at = int(first.getsockname()[1])
        made = [first]
        try:
            made += [_bound(at + 1), _bound(at + 2)]
            return made
        except InputError:
            for s in made:
                s.close()
            if port:
                raise
    raise InputError("No three ports in a row are free.", where="--port")
