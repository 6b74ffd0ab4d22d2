"""The bench's CAN nodes: a controller with the whole dictionary, and a BMS.

The controller holds limits, types and access with the standard's abort codes; values act at once, are kept only when
stored, and those marked so act after a power cycle. Without supply (key off, BMS open) it does not answer.
What it does not imitate: block transfer, PDO, boot-up timing, a bootloader.
"""

from __future__ import annotations

import logging
import random
import struct
import time
from typing import Any

import canopen
from canopen.sdo.exceptions import SdoAbortedError

from ninebolt.bench.motion import Bike, start_settings
from ninebolt.core.setting.objects import (
    U16,
    Address,
    Dictionary,
    Obj,
    decode,
    encode,
    within,
)
from ninebolt.core.setting.ours import (
    BMS_A,
    BMS_C,
    BMS_PRODUCT,
    BMS_STATE,
    BY_AT,
    FIRMWARE,
    GROUP_V,
    IDENTIFY,
    IDENTIFY_GO,
    IDENTIFY_STOP,
    IDENTITY,
    LIVE,
    LOAD,
    NODE_BMS,
    NODE_CONTROLLER,
    OURS,
    PARAMS,
    PRODUCT,
    RESTORE,
    REVISION,
    SAVE,
    STORE,
    VENDOR,
    bms_dictionary,
    physical,
)
from ninebolt.errors import InputError
from ninebolt.units import RPM_PER_RAD_S

LENGTH, READ_ONLY, WRITE_ONLY, NO_OBJECT, NO_SUB = (
    0x06070010,
    0x06010002,
    0x06010001,
    0x06020000,
    0x06090011,
)
HIGH, LOW, VALUE, STATE = 0x06090031, 0x06090032, 0x06090030, 0x08000022
SERIAL = 9001
LATENCY_S = 0.0005  # until it answers


class Silent(Exception):
    """The device is without supply: it answers nothing."""


class Node(canopen.LocalNode):  # type: ignore[misc]
    """Answers from its own dictionary; `ask` and `tell` are what an object does."""

    def __init__(self, number: int, dictionary: Dictionary) -> None:
        super().__init__(number, canopen.ObjectDictionary())
        self.objects = dictionary.objects
        self.sdo.on_request = self._guarded(self.sdo.on_request)

    def _guarded(self, handle: Any) -> Any:
        log = logging.getLogger("canopen.sdo.server")
        log.setLevel(logging.CRITICAL)

        def on_request(can_id: int, data: bytearray, timestamp: float) -> None:
            if self.answers() and len(data) == 8:
                time.sleep(LATENCY_S)
                handle(can_id, data, timestamp)

        return on_request

    def answers(self) -> bool:
        return True

    def obj(self, index: int, sub: int) -> Obj:
        found = self.objects.get((index, sub))
        if found is None:
            raise SdoAbortedError(
                NO_SUB if any(at[0] == index for at in self.objects) else NO_OBJECT
            )
        return found

    def get_data(self, index: int, subindex: int, check_readable: bool = False) -> bytes:
        obj = self.obj(index, subindex)
        if not obj.readable:
            raise SdoAbortedError(WRITE_ONLY)
        return self.ask(obj)

    def set_data(
        self, index: int, subindex: int, data: bytes, check_writable: bool = False
    ) -> None:
        obj = self.obj(index, subindex)
        if not obj.writable:
            raise SdoAbortedError(READ_ONLY)
        try:
            value = decode(obj.type, bytes(data))
        except InputError:
            raise SdoAbortedError(LENGTH) from None
        if within(obj, value):
            over = isinstance(value, int | float) and obj.high is not None and value > obj.high
            raise SdoAbortedError(
                HIGH if over else LOW if isinstance(value, int | float) else VALUE
            )
        self.tell(obj, value)

    def ask(self, obj: Obj) -> bytes:
        return encode(obj.type, obj.default if obj.default is not None else 0)

    def tell(self, obj: Obj, value: Any) -> None:
        raise SdoAbortedError(READ_ONLY)


class ControllerNode(Node):
    """The bench's controller."""

    def __init__(self, bike: Bike, number: int = NODE_CONTROLLER, serial: int = SERIAL) -> None:
        super().__init__(number, OURS)
        self.bike, self.serial = bike, serial
        came = start_settings(bike.build, {p.name: p.default for p in PARAMS})
        self.ram: dict[Address, float] = {p.at: self._stored(p.at, came[p.name]) for p in PARAMS}
        self.kept = dict(self.ram)
        self.writes_left = -1
        self.waiting = False
        self._act(every=True)

    def _stored(self, at: Address, value: float) -> float:
        spec = BY_AT[at]
        number = value / spec.scale
        obj = self.objects[at]
        held = decode(obj.type, encode(obj.type, number))
        assert isinstance(held, int | float)
        return held

    def _act(self, every: bool = False) -> None:
        """The values that are in force; those that need it only after a power cycle."""
        for spec in PARAMS:
            if every or not spec.power:
                self.bike.settings[spec.name] = physical(spec, self.ram[spec.at])

    def answers(self) -> bool:
        return self.bike.s.key and self.bike.s.bms == 0

    def power_cycle(self) -> None:
        """What was not stored is lost."""
        self.ram = dict(self.kept)
        self.waiting = False
        self.bike.power_cycle()
        self._act(every=True)

    def ask(self, obj: Obj) -> bytes:
        at = obj.at
        if at in self.ram:
            return encode(obj.type, self.ram[at])
        if at in _IDENTITY:
            if "bare-identity" in self.bike.faults and _IDENTITY[at] != "vendor":
                raise SdoAbortedError(NO_SUB)
            return struct.pack("<L", self._identity()[_IDENTITY[at]])
        if at == FIRMWARE:
            return b"0.9" if "foreign-firmware" in self.bike.faults else b"1.4"
        shown = _LIVE.get(at)
        if shown is not None:
            return self._shown(obj, shown)
        if obj.index == IDENTIFY["step"][0] or at in _RESULT:
            return self._identification(obj)
        return super().ask(obj)

    def _identity(self) -> dict[str, int]:
        f = self.bike.faults
        return {
            "vendor": VENDOR, "product": 0x0777 if "wrong-identity" in f else PRODUCT,
            "revision": 0x00000009 if "foreign-firmware" in f else REVISION, "serial": self.serial,
        }  # fmt: skip

    def _shown(self, obj: Obj, shown: Any) -> bytes:
        s = self.bike.s
        ratio = self.bike.truth.ratio / self.bike.truth.radius_m
        values = {
            "bus_v": s.bus_v, "line_a": s.line_a, "phase_a": abs(s.phase_a),
            "rpm": s.speed_m_s * ratio * RPM_PER_RAD_S, "throttle_v": s.read_v, "throttle_pct": s.read_pct,
            "motor_c": s.winding_c, "controller_c": s.controller_c, "fault": s.fault,
            "state": 4 if s.fault else 3 if self.bike.identifying() else 5 if self.waiting else 1 if s.share > 0 else 0,
            "speed_m_s": self.bike.believed_m_s(),
        }  # fmt: skip
        raw = values[shown.name] / shown.scale
        bounds = (
            -32767 if obj.type == 0x03 else 0,
            65535 if obj.type == U16 else 255 if obj.type == 0x05 else 32767,
        )
        return encode(obj.type, min(max(raw, bounds[0]), bounds[1]))

    def _identification(self, obj: Obj) -> bytes:
        if obj.at == IDENTIFY["step"]:
            return encode(obj.type, self.bike.s.identify)
        if self.bike.s.identify != 5:
            raise SdoAbortedError(0x08000024)
        return encode(obj.type, self.bike.identified()[_RESULT[obj.at]])

    def tell(self, obj: Obj, value: Any) -> None:
        if self.writes_left == 0 and "reset-in-write" in self.bike.faults:
            self.writes_left = -1
            self.power_cycle()
            raise SdoAbortedError(0x05040000)
        if obj.at == STORE:
            self._want(value, SAVE)
            self.kept = dict(self.ram)
            return
        if obj.at == RESTORE:
            self._want(value, LOAD)
            self.kept = {p.at: self._stored(p.at, p.default) for p in PARAMS}
            self.waiting = True
            return
        if obj.at == IDENTIFY["start"]:
            if value == IDENTIFY_STOP:
                self.bike.let_go()
                return
            self._want(value, IDENTIFY_GO)
            self.bike.s.identify, self.bike.s.identify_s = 1, 0.0
            return
        if obj.at not in self.ram:
            raise SdoAbortedError(READ_ONLY)
        if self.bike.s.speed_m_s > 0.3:
            raise SdoAbortedError(STATE)
        self.ram[obj.at] = value
        self.waiting = self.waiting or BY_AT[obj.at].power
        self.writes_left -= 1 if self.writes_left > 0 else 0
        self._act()

    def _want(self, value: Any, number: int) -> None:
        if value != number:
            raise SdoAbortedError(VALUE)


_IDENTITY = {at: name for name, at in IDENTITY.items()}
_LIVE = {s.at: s for s in LIVE}
_RESULT = {at: name for name, at in IDENTIFY.items() if name not in ("start", "step")}


class BmsNode(Node):
    """The bench's BMS: it has a supply of its own, and answers when its switch is open."""

    def __init__(self, bike: Bike) -> None:
        super().__init__(NODE_BMS, bms_dictionary(bike.truth.series))
        self.bike = bike
        self._noise = random.Random(bike.seed + 5)

    def ask(self, obj: Obj) -> bytes:
        s = self.bike.s
        if obj.index == GROUP_V:
            volts = self.bike.groups()[obj.sub - 1] + self._noise.gauss(0, 0.001)
            return encode(obj.type, round(1000 * max(volts, 0.0)))
        values = {BMS_A: s.line_a * 10, BMS_C: 250, BMS_STATE: s.bms}
        if obj.at in values:
            return encode(obj.type, values[obj.at])
        numbers = {
            "vendor": VENDOR,
            "product": BMS_PRODUCT,
            "revision": REVISION,
            "serial": SERIAL + 1,
        }
        return struct.pack("<L", numbers[_IDENTITY[obj.at]])
