"""The link against the bench bike in another process: the CANopen library's own client, abort codes, the guarded
write cut at every step, lost frames, a silent bus, two nodes of one number."""

from __future__ import annotations

import contextlib
import random
import socket
import threading
import time
from collections.abc import Iterator
from typing import Any

import canopen
import pytest
from canopen.objectdictionary import eds as their_eds
from canopen.sdo.exceptions import SdoAbortedError
from fastapi.testclient import TestClient
from hypothesis import settings

from benches import do, port_to
from ninebolt.core.setting.objects import Address
from ninebolt.core.setting.ours import (
    BY_NAME,
    IDENTITY,
    LIVE,
    OURS,
    PARAMS,
    SAVE,
    STORE,
    bms_dictionary,
    physical,
    raw,
)
from ninebolt.core.setting.sets import OUR_PROFILE, Identity, ParamSet, foreign, order
from ninebolt.errors import InputError, LinkError
from ninebolt.formats.build_json import document
from ninebolt.formats.eds import write_eds
from ninebolt.library.demo import moss
from ninebolt.link import guarded
from ninebolt.link.port import Adapter, Port, close, connect
from ninebolt.link.routines import Identified, groups, identify, sample
from ninebolt.services.tunes import recommended_set


@pytest.fixture
def port(bus: int) -> Iterator[Port]:
    do(bus, "repair", name="all")
    do(bus, "load", doc=document(moss()))  # its controller as it came
    do(bus, "hand", throttle=0.0, stand=True, brake=False)
    with port_to(bus) as made:
        made._sdo.RESPONSE_TIMEOUT = 5  # a machine that is held up is no silent device
        yield made


def wanted(**values: float) -> ParamSet:
    return ParamSet(
        "wanted",
        {BY_NAME[n].at: raw(BY_NAME[n], v) for n, v in values.items()},
        Identity(0x9B01, 1, 0x10004),
    )


def followed(bus: int, port: Port) -> list[Identified]:
    """An identification, the bench's time made to pass."""
    out = []
    for step in identify(port, OUR_PROFILE, 0.0):
        out.append(step)
        do(bus, "wait", seconds=0.3)
    return out


def nothing(what: str, at: Address | None) -> None:
    pass


def test_the_library_s_own_client_reads_every_object(bus: int, port: Port, tmp_path: Any) -> None:
    """canopen's RemoteNode, with our EDS: each value as our own port reads it."""
    path = tmp_path / "c.eds"
    path.write_bytes(write_eds(OURS))
    ours = {
        p.at: port.read(p.at) for p in PARAMS
    }  # one after the other: two clients share no channel
    network = canopen.Network()
    network.connect(interface="slcan", channel=f"socket://127.0.0.1:{bus}", sleep_after_open=0)
    try:
        node = network.add_node(0x10, str(path))
        node.sdo.RESPONSE_TIMEOUT = 20  # a loaded machine may be late; the answer comes at once
        for p in PARAMS:
            var = node.sdo[p.index][p.sub] if p.sub else node.sdo[p.index]
            assert var.raw == pytest.approx(ours[p.at]), p.name
        assert node.sdo[0x1008].raw == "Bench controller"
    finally:
        network.disconnect()
    assert their_eds is not None


@pytest.mark.parametrize(
    ("at", "data", "code"),
    [
        ((0x2104, 0), b"\xff\xff", 0x06090031),  # CiA 301: value of parameter written too high
        ((0x2201, 0), b"\x00", 0x06090032),  # too low
        ((0x2104, 0), b"\x01\x02\x03\x04", 0x06070010),  # length does not match
        ((0x1018, 1), b"\x01\x02\x03\x04", 0x06010002),  # attempt to write a read only object
        ((0x2FFF, 0), b"\x01", 0x06020000),  # object does not exist
        ((0x2306, 99), b"\x01", 0x06090011),  # sub-index does not exist
        ((0x1010, 1), b"nope", 0x06090030),  # value range: not the signature "save"
    ],
)
def test_the_standard_s_abort_codes(
    bus: int, port: Port, at: Address, data: bytes, code: int
) -> None:
    """By the library's client, so that no word of ours is in between."""
    network = canopen.Network()
    network.connect(interface="slcan", channel=f"socket://127.0.0.1:{bus}", sleep_after_open=0)
    try:
        node = network.add_node(canopen.RemoteNode(0x10, canopen.ObjectDictionary()))
        node.sdo.RESPONSE_TIMEOUT = 20  # a loaded machine may be late; the answer comes at once
        with pytest.raises(SdoAbortedError) as got:
            node.sdo.download(*at, data)
        assert got.value.code == code
    finally:
        network.disconnect()
    with pytest.raises(LinkError) as ours:
        port.write_bytes(at, data)
    assert ours.value.abort == code


def test_a_write_is_read_back_stored_and_survives_the_power(bus: int, port: Port) -> None:
    before = guarded.read_all(port, OUR_PROFILE)
    assert not before.missing
    steps = guarded.plan(OUR_PROFILE, before, recommended_set(moss()))
    cycle = guarded.write(port, OUR_PROFILE, steps, nothing)
    assert cycle and len(steps) > 20
    do(bus, "cycle")
    stands = guarded.look_again(port, OUR_PROFILE, steps, before.identity)
    assert stands.new == len(steps) and stands.whole
    again = guarded.plan(OUR_PROFILE, guarded.read_all(port, OUR_PROFILE), recommended_set(moss()))
    assert again == ()  # only what differs is written


def test_what_is_not_stored_is_lost_with_the_power(bus: int, port: Port) -> None:
    old = port.read((0x2104, 0))
    port.write((0x2104, 0), int(old) + 10)  # type: ignore[call-overload]
    do(bus, "cycle")
    assert port.read((0x2104, 0)) == old


@pytest.mark.parametrize("cut", range(0, 9))
def test_cut_at_any_step_nothing_is_half_and_unseen(bus: int, port: Port, cut: int) -> None:
    """The power goes at a step of the write: the journal's steps and a fresh read say what stands where, and the
    backup brings all of it back."""
    patient = port._sdo.RESPONSE_TIMEOUT
    rng = random.Random(cut)
    values = {
        n: physical(BY_NAME[n], raw(BY_NAME[n], rng.uniform(20, 40)))
        for n in ("line_a", "phase_a", "lvc_v", "motor_c")
    }
    before = guarded.read_all(port, OUR_PROFILE)
    steps = guarded.plan(OUR_PROFILE, before, wanted(**values))
    seen = 0

    def note(what: str, at: Address | None) -> None:
        nonlocal seen
        seen += 1
        if seen == cut + 1:
            do(bus, "key", on=False)
            port._sdo.RESPONSE_TIMEOUT = 0.1  # silence is what is waited for from here

    with pytest.raises(LinkError) as error:
        guarded.write(port, OUR_PROFILE, steps, note)
        port.read((0x2104, 0))
    assert error.value.silent
    do(bus, "key", on=True)
    port._sdo.RESPONSE_TIMEOUT = patient
    have = {s.at: port.read(s.at) for s in steps}
    stands = guarded.standing(OUR_PROFILE, steps, have)
    stored = seen > 2 * len(steps) + 1  # "stored" was told: the new values are kept
    assert stands.whole and stands.new == (len(steps) if stored else 0)
    back = ParamSet("backup", {s.at: s.old for s in steps}, before.identity)
    guarded.write(
        port,
        OUR_PROFILE,
        guarded.plan(OUR_PROFILE, guarded.read_all(port, OUR_PROFILE), back),
        nothing,
    )
    assert {s.at: port.read(s.at) for s in steps} == {s.at: s.old for s in steps}


WIDE = (settings().max_examples or 0) >= 600  # the long form: ./nb soak
CUTS = 200 if WIDE else 16


def test_random_cuts_never_leave_a_half_set_unseen_or_lose_the_backup(bus: int, port: Port) -> None:
    """Cable or power, at a random step of a write of ten values: a fresh read with the journal's steps sees every
    one as new, old or neither; the backup brings all back."""
    rng = random.Random(77)
    for k in range(CUTS):
        before = guarded.read_all(port, OUR_PROFILE)
        values = {f"curve_{i}_pct": 0.5 * rng.randint(0, 200) for i in range(2, 12)}
        steps = guarded.plan(OUR_PROFILE, before, wanted(**values))
        cut, power, seen = rng.randint(0, 2 * len(steps) + 1), rng.random() < 0.5, 0

        def note(what: str, at: Address | None, cut: int = cut, power: bool = power) -> None:
            nonlocal seen
            seen += 1
            if seen == cut + 1:
                if power:
                    do(bus, "cycle")
                raise ConnectionError("cut")

        with contextlib.suppress(ConnectionError):
            guarded.write(port, OUR_PROFILE, steps, note)
        have = {s.at: port.read(s.at) for s in steps}
        stands = guarded.standing(OUR_PROFILE, steps, have)
        assert stands.new + stands.old == len(steps) and not stands.neither, k
        assert stands.new == sum(have[s.at] == s.new for s in steps)
        back = ParamSet("backup", {s.at: s.old for s in steps}, before.identity)
        undo = guarded.plan(OUR_PROFILE, guarded.read_all(port, OUR_PROFILE), back)
        assert len(undo) == stands.new
        guarded.write(port, OUR_PROFILE, undo, nothing)
        assert {s.at: port.read(s.at) for s in steps} == {s.at: s.old for s in steps}


def test_dangerous_a_laptop_that_slept_in_the_middle_does_not_go_on_writing(port: Port) -> None:
    """Closed with half of the set written, opened an hour later, the bike on its wheels: it asks first."""
    before = guarded.read_all(port, OUR_PROFILE)
    steps = guarded.plan(OUR_PROFILE, before, wanted(line_a=34, phase_a=67, lvc_v=56, motor_c=78))
    now = 0.0

    def note(what: str, at: Address | None) -> None:
        nonlocal now
        if (what, at) == ("verified", steps[1].at):
            now += 3600.0

    with pytest.raises(LinkError, match="held up") as got:
        guarded.write(port, OUR_PROFILE, steps, note, lambda: now)
    assert "3600 s" in got.value.message() and "Look at the bike" in got.value.message()
    stands = guarded.standing(OUR_PROFILE, steps, {s.at: port.read(s.at) for s in steps})
    assert (stands.new, stands.old) == (2, len(steps) - 2)
    back = ParamSet("backup", {s.at: s.old for s in steps}, before.identity)
    left = guarded.plan(OUR_PROFILE, guarded.read_all(port, OUR_PROFILE), back)
    guarded.write(port, OUR_PROFILE, left, nothing)


def test_the_adapter_goes_in_the_middle_and_values_stand_half(bus: int, port: Port) -> None:
    """Not the power, the cable: what was written acts, the rest is old. That is seen."""
    before = guarded.read_all(port, OUR_PROFILE)
    steps = guarded.plan(OUR_PROFILE, before, wanted(line_a=33, phase_a=66, lvc_v=55, motor_c=77))
    half = steps[: len(steps) // 2]
    for s in half:
        port.write(s.at, s.new)
    stands = guarded.standing(OUR_PROFILE, steps, {s.at: port.read(s.at) for s in steps})
    assert not stands.whole and (stands.new, stands.old) == (len(half), len(steps) - len(half))


def test_a_controller_that_resets_in_the_write_is_noticed(bus: int, port: Port) -> None:
    before = guarded.read_all(port, OUR_PROFILE)
    do(bus, "fault", name="reset-in-write", on=True)
    steps = guarded.plan(OUR_PROFILE, before, recommended_set(moss(), "Guest"))
    if len(steps) < 14:
        steps = guarded.plan(
            OUR_PROFILE,
            before,
            wanted(
                **{f"curve_{i}_pct": 5.0 * i for i in range(1, 12)}, line_a=11, phase_a=22, lvc_v=44
            ),
        )
    with pytest.raises(LinkError):
        guarded.write(port, OUR_PROFILE, steps, nothing)
    do(bus, "repair", name="reset-in-write")
    mixed = guarded.standing(OUR_PROFILE, steps, {s.at: port.read(s.at) for s in steps})
    assert mixed.old > 0
    do(bus, "cycle")
    stands = guarded.standing(OUR_PROFILE, steps, {s.at: port.read(s.at) for s in steps})
    assert stands.old == len(steps)


def test_a_turning_wheel_is_not_written(bus: int, port: Port) -> None:
    steps = guarded.plan(OUR_PROFILE, guarded.read_all(port, OUR_PROFILE), recommended_set(moss()))
    guarded.write(port, OUR_PROFILE, steps, nothing)
    do(bus, "cycle")
    do(bus, "hand", throttle=0.4, stand=True)
    do(bus, "wait", seconds=3)
    with pytest.raises(InputError, match="wheel turns"):
        guarded.write(
            port,
            OUR_PROFILE,
            guarded.plan(OUR_PROFILE, guarded.read_all(port, OUR_PROFILE), wanted(line_a=31)),
            nothing,
        )


def test_lost_frames_cost_time_not_values(bus: int, port: Port) -> None:
    calm = guarded.read_all(port, OUR_PROFILE)
    do(bus, "fault", name="lost-frames", on=True)
    lossy = guarded.read_all(port, OUR_PROFILE)
    assert lossy.values == calm.values


@pytest.mark.parametrize(("fault", "may"), [("wrong-identity", False), ("foreign-firmware", True)])
def test_a_set_of_another_controller_is_refused(
    bus: int, port: Port, fault: str, may: bool
) -> None:
    do(bus, "fault", name=fault, on=True)
    have = guarded.read_all(port, OUR_PROFILE)
    with pytest.raises(InputError, match="does not belong"):
        guarded.plan(OUR_PROFILE, have, wanted(line_a=31))
    if may:
        assert guarded.plan(OUR_PROFILE, have, wanted(line_a=31), "Bench controller")
    else:
        with pytest.raises(InputError):
            guarded.plan(OUR_PROFILE, have, wanted(line_a=31), "Bench controller")


def test_nobody_answers(bus: int) -> None:
    network = connect(Adapter(channel=f"socket://127.0.0.1:{bus}", node=0x55))
    try:
        start = time.monotonic()
        with pytest.raises(LinkError, match="Nothing answers") as error:
            Port(network, Adapter(node=0x55), OURS).identity()
        assert error.value.silent and time.monotonic() - start < 60
    finally:
        network.disconnect()


def test_no_adapter() -> None:
    with pytest.raises(LinkError, match="cannot be opened"):
        connect(Adapter(channel="socket://127.0.0.1:9"))
    with pytest.raises(LinkError, match="cannot be opened"):
        connect(Adapter(interface="no-such-interface"))


def test_two_nodes_of_one_number(bus: int, port: Port) -> None:
    """A second controller on the same bus: nothing is believed."""
    network = canopen.Network()
    network.connect(interface="slcan", channel=f"socket://127.0.0.1:{bus}", sleep_after_open=0)
    try:
        twin = canopen.LocalNode(0x10, their_eds.import_eds(_text(write_eds(OURS)), 0x10))
        network.add_node(twin)
        with pytest.raises(LinkError, match="wo devices"):
            for _ in range(5):
                port.identity()
    finally:
        network.disconnect()


def _text(data: bytes) -> Any:
    import io

    out = io.StringIO(data.decode())
    out.name = "x.eds"
    return out


def test_what_it_shows_while_it_is_ridden(bus: int, port: Port) -> None:
    guarded.write(
        port,
        OUR_PROFILE,
        guarded.plan(OUR_PROFILE, guarded.read_all(port, OUR_PROFILE), recommended_set(moss())),
        nothing,
    )
    do(bus, "cycle")
    do(bus, "hand", stand=False)
    do(bus, "hand", throttle=1.0)
    do(bus, "wait", seconds=4)
    seen = sample(port, OUR_PROFILE).values
    truth = do(bus, "state")["state"]
    assert set(seen) == {s.name for s in LIVE}
    assert seen["fault"] == 0 and seen["throttle_pct"] == 100
    assert seen["line_a"] == pytest.approx(truth["line_a"], rel=0.1, abs=2)
    assert seen["speed_m_s"] == pytest.approx(truth["speed_m_s"], rel=0.05)


def test_identification_measures_the_hidden_truth(bus: int, port: Port) -> None:
    found = followed(bus, port)[-1]
    assert found.step == "done" and found.values["hall_order"] == 123456
    assert found.values["r_phase_ohm"] == pytest.approx(0.016, rel=0.05)
    do(bus, "fault", name="hall-order", on=True)
    assert followed(bus, port)[-1].values["hall_order"] == 132465


def test_identification_breaks_off_with_the_wheel_on_the_ground(bus: int, port: Port) -> None:
    do(bus, "hand", stand=False)
    with pytest.raises(LinkError, match="broke off"):
        list(identify(port, OUR_PROFILE, 0.05))


def test_the_bms_shows_its_weak_group(bus: int, port: Port) -> None:
    network = connect(Adapter(channel=f"socket://127.0.0.1:{bus}", node=0x11))
    try:
        bms = Port(network, Adapter(channel="bench", node=0x11), bms_dictionary(23))
        calm = groups(bms, 23).volts
        do(bus, "fault", name="weak-group", on=True)
        weak = groups(bms, 23).volts
        assert max(calm) - min(calm) < 0.02
        assert weak.index(min(weak)) == 2 and max(weak) - min(weak) > 0.1
    finally:
        network.disconnect()


def test_less_comes_before_more() -> None:
    """Whatever is cut, the bike does no more than both sets allow: amps that fall come first, amps that rise last."""
    have = {
        BY_NAME[n].at: v
        for n, v in (("line_a", 500), ("phase_a", 500), ("pole_pairs", 4), ("lvc_v", 5000))
    }
    want = {
        BY_NAME[n].at: v
        for n, v in (("line_a", 900), ("phase_a", 300), ("pole_pairs", 5), ("lvc_v", 6000))
    }
    names = [OUR_PROFILE.meaning(at).name for at in order(OUR_PROFILE, have, want)]  # type: ignore[union-attr]
    assert names.index("phase_a") < names.index("pole_pairs") < names.index("line_a")
    assert names.index("lvc_v") < names.index("line_a")


def test_only_the_same_hardware_can_be_overridden() -> None:
    here = Identity(1, 2, 3, 4, hardware="B")
    assert foreign(here, here) == ("", True)
    assert foreign(Identity(1, 9, 3, 4), here)[1] is False
    assert foreign(Identity(1, 2, 3, 4, hardware="C"), here)[1] is False
    assert foreign(Identity(1, 2, 8, 4), here)[1] is True and foreign(None, here)[1] is True
    assert IDENTITY and SAVE and STORE


def test_an_answer_that_comes_late_is_not_taken_for_the_next_ones(bus: int, port: Port) -> None:
    """The device answers after the client has given up: nothing is believed that belongs to another question."""
    calm = {at: port.read(at) for at in ((0x2104, 0), (0x2202, 0), (0x2101, 0))}
    sdo = port._sdo
    real, late = sdo.on_response, []

    def slow(can_id: int, data: bytearray, timestamp: float) -> None:
        if len(late) < 2:
            late.append(threading.Timer(0.5, real, (can_id, bytearray(data), timestamp)))
            late[-1].start()
        else:
            real(can_id, data, timestamp)

    port._network.unsubscribe(0x590, real)
    port._network.subscribe(0x590, slow)
    try:
        for _ in range(3):
            assert {at: port.read(at) for at in calm} == calm
    finally:
        port._network.unsubscribe(0x590, slow)
        port._network.subscribe(0x590, real)


def test_closing_while_somebody_reads_ends_the_reading_in_words(bus: int) -> None:
    """The live view reads in a thread of its own; the adapter is let go under it."""
    network = connect(Adapter(channel=f"socket://127.0.0.1:{bus}"))
    port, ended = Port(network, Adapter(), OURS), []

    def read_on() -> None:
        try:
            while True:
                sample(port, OUR_PROFILE)
        except Exception as error:  # noqa: BLE001 – whichever it is, it is looked at
            ended.append(error)

    reader = threading.Thread(target=read_on)
    reader.start()
    time.sleep(0.2)
    close(network)
    reader.join(10)
    assert len(ended) == 1 and isinstance(ended[0], LinkError), ended


@pytest.mark.parametrize("said", [b"$GPRMC,,V*2D\r\n", b"[1]\n", b"\xff\xfe\n", b"9" * 3000])
def test_another_program_on_the_control_port_is_named(client: TestClient, said: bytes) -> None:
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        taken = threading.Thread(target=lambda: answered(other, said), daemon=True)
        taken.start()
        port = other.getsockname()[1] - 1
        got = client.post(f"/api/bench?port={port}", json={"do": "state"})
        taken.join(5)
    assert got.status_code == 502 and "no bench bike" in got.json()["message"]


def answered(door: socket.socket, said: bytes) -> None:
    line, _ = door.accept()
    with line:
        line.recv(1000)
        line.sendall(said)
