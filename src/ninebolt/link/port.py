"""One device on a CAN bus: opens the adapter, reads and writes its objects, says in words what went wrong."""

from __future__ import annotations

import time
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from threading import RLock
from typing import Any

from ninebolt.core.setting.objects import Address, Dictionary, Obj, Scalar, decode, encode, spelled
from ninebolt.core.setting.ours import DEVICE_NAME, FIRMWARE, HARDWARE, IDENTITY, NODE_CONTROLLER
from ninebolt.core.setting.sets import Identity
from ninebolt.errors import InputError, LinkError

TRIES = 4  # a frame can be lost; a device that is there answers one of four
ANSWER_S = 0.4
LATE_S = 0.15  # a busy machine answers late
TWIN_S = 0.03
# Abort codes of the SDO protocol. CiA 301, table "SDO abort codes".
ABORTS = {
    0x05030000: "the toggle bit did not alternate",
    0x05040000: "the transfer timed out",
    0x05040001: "the command is not known to it",
    0x06010000: "this access is not supported",
    0x06010001: "it can only be written",
    0x06010002: "it can only be read",
    0x06020000: "it has no such object",
    0x06040041: "it cannot be mapped",
    0x06040043: "it does not agree with its other parameters",
    0x06060000: "its hardware refused",
    0x06070010: "the length does not match the type",
    0x06070012: "too many bytes",
    0x06070013: "too few bytes",
    0x06090011: "it has no such sub-index",
    0x06090030: "it does not take this value",
    0x06090031: "the value is too high",
    0x06090032: "the value is too low",
    0x08000000: "a general error",
    0x08000020: "it cannot be stored",
    0x08000021: "it is locked by the device's own control",
    0x08000022: "not in this state of the device",
    0x08000023: "it has no dictionary",
    0x08000024: "there is nothing to read yet",
    0x060A0023: "there is nothing to read",
}


@dataclass(frozen=True, slots=True)
class Adapter:
    """How the bus is reached, in the CAN library's own words: interface (slcan, socketcan, …), channel, bits/s, and
    what else that interface takes by name. node: the controller's number on the bus, 1 to 127."""

    interface: str = "slcan"
    channel: str = "socket://127.0.0.1:8791"
    bitrate: int = 250_000
    node: int = NODE_CONTROLLER
    more: Mapping[str, Scalar] = field(default_factory=dict)

    def options(self) -> dict[str, Any]:
        out: dict[str, Any] = {
            **self.more,
            "interface": self.interface,
            "channel": self.channel,
            "bitrate": self.bitrate,
        }
        if self.interface == "slcan":
            out.setdefault("sleep_after_open", 0.0 if self.channel.startswith("socket://") else 2.0)
        return out


class Port:
    """A device that answers SDO requests. Safe to use from several threads, one request at a time."""

    def __init__(self, network: Any, adapter: Adapter, dictionary: Dictionary) -> None:
        import canopen

        self._network, self.adapter, self.dictionary = network, adapter, dictionary
        self._node = canopen.RemoteNode(adapter.node, canopen.ObjectDictionary())
        network.add_node(self._node)
        self._sdo = self._node.sdo
        self._sdo.RESPONSE_TIMEOUT = ANSWER_S
        self._lock = RLock()
        self._others: dict[int, Port] = {}

    def beside(self, node: int, dictionary: Dictionary) -> Port:
        """Another device on the same bus; the same one again where it was asked for before."""
        with self._lock:
            found = self._others.get(node)
            if found is None:
                found = Port(self._network, replace(self.adapter, node=node), dictionary)
                self._others[node] = found
            found.dictionary = dictionary
            return found

    def read_bytes(self, at: Address) -> bytes:
        """Raises LinkError: silent where nothing answers, else with the device's abort code."""
        return bytes(self._try(lambda: self._sdo.upload(*at), at, "read"))

    def write_bytes(self, at: Address, data: bytes) -> None:
        """Raises LinkError."""
        self._try(lambda: self._sdo.download(*at, data), at, "write")

    def read(self, at: Address) -> Scalar:
        """The value of an object, by its type in the dictionary. Raises LinkError."""
        obj = self._object(at)
        data = self.read_bytes(at)
        try:
            return decode(obj.type, data)
        except InputError as error:
            raise LinkError(
                f"{obj.name} came back as no value of its type.", where=spelled(at), got=error.message(),
                todo="Check that the profile belongs to this controller.",
            ) from error  # fmt: skip

    def write(self, at: Address, value: Scalar) -> None:
        """Raises LinkError, InputError where the type does not hold the value."""
        self.write_bytes(at, encode(self._object(at).type, value))

    def _object(self, at: Address) -> Obj:
        found = self.dictionary.objects.get(at)
        if found is None:
            raise LinkError(
                "The dictionary in use has no such object.", where=spelled(at), got=self.dictionary.name,
                todo="Connect with the kind of controller that this belongs to.",
            )  # fmt: skip
        return found

    def _try(self, call: Any, at: Address, what: str) -> Any:
        import can
        from canopen.sdo.exceptions import SdoAbortedError, SdoCommunicationError

        with self._lock:
            for left in reversed(range(TRIES)):
                try:
                    return call()
                except SdoAbortedError as error:
                    if error.code == 0x05040000 and left:
                        continue
                    words = ABORTS.get(error.code, f"code 0x{error.code:08X}")
                    raise LinkError(
                        f"The controller refused to {what} {spelled(at)}: {words}.", where=spelled(at),
                        got=f"abort 0x{error.code:08X}", abort=error.code,
                    ) from error  # fmt: skip
                except SdoCommunicationError as error:
                    if not left and "No SDO response" in str(error):
                        raise self._silent(at) from error
                    if not left:
                        raise self._crossed(at, str(error)) from error
                    self._let_late_ones_pass()
                except (
                    can.CanError,
                    OSError,
                    ValueError,
                    RuntimeError,
                ) as error:  # closed under the reading hand
                    raise LinkError(
                        "The adapter is gone.", where=self.adapter.channel, got=type(error).__name__,
                        todo="Plug it in again and connect.", silent=True,
                    ) from error  # fmt: skip
        raise AssertionError

    def _let_late_ones_pass(self) -> None:
        """An answer that came after its time would be taken for the next one's: wait, and forget it."""
        time.sleep(LATE_S)
        while not self._sdo.responses.empty():
            self._sdo.responses.get_nowait()

    def _crossed(self, at: Address, got: str) -> LinkError:
        return LinkError(
            f"Answers come that nobody asked for: two devices answer as node {self.adapter.node}, or another program "
            "talks to it.",
            where=spelled(at),
            got=got.split(",")[0][:100],
            todo="Unplug one, end the other program; nothing was written.",
        )  # fmt: skip

    def _silent(self, at: Address) -> LinkError:
        return LinkError(
            f"Nothing answers as node {self.adapter.node}.", where=self.adapter.channel,
            got=f"silence at {spelled(at)}",
            todo="Is the key on? Is it the right bit rate, and are both ends of the bus terminated?", silent=True,
        )  # fmt: skip

    def identity(self) -> Identity:
        """Who answers; 0 for what it does not tell: of the identity object only the maker must be there (CiA 301).
        Raises LinkError where nobody does, or two do."""
        numbers = {n: self._number(at, n != "vendor") for n, at in IDENTITY.items()}
        self._alone()
        names = [self._name(at) for at in (DEVICE_NAME, HARDWARE, FIRMWARE)]
        return Identity(**numbers, device=names[0], hardware=names[1], firmware=names[2])

    def _number(self, at: Address, may_lack: bool) -> int:
        try:
            return int.from_bytes(self.read_bytes(at), "little")
        except LinkError as error:
            if error.silent or not may_lack:
                raise
            return 0

    def _name(self, at: Address) -> str:
        try:
            return self.read_bytes(at).decode("utf-8", "replace").rstrip("\0")[:80]
        except LinkError as error:
            if error.silent:
                raise
            return ""

    def _alone(self) -> None:
        """One request, one answer: a second one is a second device of the same number."""
        with self._lock:
            self.read_bytes(IDENTITY["vendor"])
            time.sleep(TWIN_S)
            if not self._sdo.responses.empty():
                raise LinkError(
                    f"Two devices answer as node {self.adapter.node}.", where=self.adapter.channel,
                    todo="Unplug one, or give it another number; nothing is written while both listen.",
                )  # fmt: skip


@contextmanager
def opened(adapter: Adapter, dictionary: Dictionary) -> Iterator[Port]:
    """A port on an open bus, closed after. Raises LinkError where the adapter cannot be had."""
    network = connect(adapter)
    try:
        yield Port(network, adapter, dictionary)
    finally:
        close(network)


def connect(adapter: Adapter) -> Any:
    """A CANopen network on an open bus. Raises LinkError."""
    import can
    import canopen

    network = canopen.Network()
    network.NOTIFIER_CYCLE = 0.2
    try:
        network.connect(**adapter.options())
    except (can.CanError, OSError, ValueError, ImportError, TypeError) as error:
        raise LinkError(
            "The CAN adapter cannot be opened.", where=f"{adapter.interface} {adapter.channel}",
            got=" ".join(str(error).split())[:160], silent=True,
            todo="Is it plugged in, and free? The bench bike is started with: ninebolt bench --live",
        ) from error  # fmt: skip
    return network


def close(network: Any) -> None:
    """Close the bus; an adapter that is gone already is closed."""
    import can

    try:
        network.disconnect()
    except (can.CanError, OSError, RuntimeError, AttributeError):
        network.bus = None
