"""The live link: connect, read, compare, the guarded write, what a running controller shows; and the bench bike."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import asdict, dataclass
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Depends, Form, Query, Request, UploadFile
from fastapi.responses import StreamingResponse
from pydantic import Field

from ninebolt.api.models import PROBLEMS, Above, Body, Finite, places_of
from ninebolt.api.routes_builds import HouseDep
from ninebolt.api.routes_packs import JobsDep
from ninebolt.core.setting.codes import Code, expected
from ninebolt.core.setting.display import DisplayError
from ninebolt.core.setting.firmware import Item, Plan, allowed
from ninebolt.core.setting.objects import TYPES, spelled
from ninebolt.core.setting.ours import NODE_CONTROLLER, PARAMS, SHOWABLE
from ninebolt.core.setting.sets import Profile
from ninebolt.errors import InputError
from ninebolt.formats.build_json import document
from ninebolt.formats.eds import read_eds
from ninebolt.services import bench_line, controllers, rides, settings, workshop
from ninebolt.services.connection import Adapter, Connection
from ninebolt.services.finder_known import KnownReading, known
from ninebolt.services.groups_now import GroupsNow, groups_now
from ninebolt.services.identified import (
    FoundValue,
    Turned,
    adopted,
    beside,
    beside_build,
    same_motor,
)
from ninebolt.services.jobs import Progress
from ninebolt.services.link_shown import LinkState, Written
from ninebolt.services.recorded import as_log
from ninebolt.services.registers import IDENTIFYING
from ninebolt.services.settings import HistoryItem, SetComparison, Source, SwapPlan
from ninebolt.services.standing import none_stands

router = APIRouter(prefix="/api", tags=["link"], responses=PROBLEMS)


def connection(request: Request) -> Connection:
    made: Connection = request.app.state.link
    return made


LinkDep = Annotated[Connection, Depends(connection)]
Name = Annotated[str, Field(max_length=120)]


OptionName = Annotated[str, Field(pattern="^[a-z][a-z0-9_]{0,39}$")]
OptionValue = Annotated[str, Field(max_length=200)] | bool | int | float


class ConnectIn(Body):
    """How the bus is reached, in the CAN library's words; a channel left out is the bench bike beside this server.
    more: what else the interface takes by name (host and port of a bus on the network, an index, a speed)."""

    interface: Annotated[str, Field(max_length=40)] = "slcan"
    channel: Annotated[str | None, Field(min_length=1, max_length=200)] = None
    bitrate: Annotated[int, Field(ge=10_000, le=1_000_000)] = 250_000
    node: Annotated[int, Field(ge=1, le=127)] = NODE_CONTROLLER
    more: Annotated[dict[OptionName, OptionValue], Field(max_length=20)] = Field(
        default_factory=dict
    )
    profile: Name = "bench"


class SourceIn(Body):
    """Where a set comes from."""

    kind: Literal["set", "controller", "reading", "file"]
    name: Name = ""
    text: Annotated[str, Field(max_length=4_000_000)] = ""

    def plain(self) -> Source:
        return Source(self.kind, self.name, self.text)


class CompareIn(Body):
    first: SourceIn
    second: SourceIn


class WriteIn(Body):
    """free: the wheel is free or the chain off. typed: the controller's name, to write a set of another revision.
    volts: of the connected pack, by a meter. anyway: although a stop stands in the build.
    seen: of the comparison that was looked at."""

    source: SourceIn
    why: Annotated[str, Field(max_length=200)] = ""
    free: bool = False
    typed: Name = ""
    volts: Annotated[float | None, Field(ge=0, le=2000)] = None
    anyway: bool = False
    seen: Annotated[str, Field(max_length=40)] = ""


class SettleIn(Body):
    """anyway: although the connected pack or the build does not suit these values."""

    finish: bool
    free: bool = False
    anyway: bool = False


class BenchIn(Body):
    """A request to the bench bike's control line, as it takes it."""

    do: Annotated[str, Field(max_length=40)]
    more: Annotated[dict[str, Any], Field(default_factory=dict)]


@dataclass(frozen=True, slots=True)
class ReadingOut:
    """A reading that was kept."""

    id: str
    at: str
    why: str
    count: int


@dataclass(frozen=True, slots=True)
class StepOut:
    """One object that a write would change."""

    at: str
    label: str
    name: str
    old: float | int | str
    new: float | int | str
    power: bool


@dataclass(frozen=True, slots=True)
class ProfileOut:
    """A kind of controller. unseen: what cannot be seen of it while it runs."""

    key: str
    name: str
    objects: int
    mapped: int
    unseen: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ObjectOut:
    """An object of a dictionary file. unread: why it will not be written. guess: a meaning, '' where none is near."""

    at: str
    name: str
    type: str
    access: str
    low: float | None
    high: float | None
    unread: str
    guess: str


@dataclass(frozen=True, slots=True)
class FirmwareOut:
    """The list before a change of firmware, and whether it may begin."""

    items: tuple[Item, ...]
    allowed: bool


@dataclass(frozen=True, slots=True)
class CodeOut:
    """A fault code. expected: it belongs to what is being done, and is no fault by itself. where: what to measure, in
    words."""

    code: Code
    expected: bool
    where: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Meaning:
    """Something that an object of another controller may mean."""

    name: str
    label: str
    group: str
    quantity: str


@dataclass(frozen=True, slots=True)
class IdentifyOut:
    """An identification that runs or ran."""

    id: str
    state: str
    step: str
    values: dict[str, float]
    error: str
    build: str  # whose motor it is, '' where nobody said
    rows: list[FoundValue]


@router.get("/link")
def link_state(link: LinkDep) -> LinkState:
    """Who is connected; a write that was cut, and what stands where."""
    return link.state()


@router.post("/link/connect")
def link_connect(link: LinkDep, body: ConnectIn) -> LinkState:
    """Connect and ask who is there; nothing is written."""
    channel = link.bench if body.channel is None else body.channel
    return link.open(
        Adapter(body.interface, channel, body.bitrate, body.node, body.more), body.profile
    )


@router.post("/link/disconnect")
def link_disconnect(link: LinkDep) -> LinkState:
    """Let go of the adapter."""
    link.close()
    return link.state()


@router.get("/link/profiles")
def link_profiles(house: HouseDep) -> list[ProfileOut]:
    """Kinds of controllers that are known."""
    return [_profile_out(p) for p in controllers.profiles(house)]


@router.post("/link/profiles", status_code=201)
def add_profile(
    house: HouseDep,
    file: UploadFile,
    name: Annotated[str, Form(max_length=80)] = "",
    places: Annotated[str, Form(max_length=100_000)] = "",
    codes: Annotated[str, Form(max_length=40_000)] = "",
) -> ProfileOut:
    """Keep another controller's dictionary file, where the meanings live: name to [index, sub, scale, offset], and its
    fault codes, a line each: number; what it says; long flashes; short flashes; causes with | between them."""
    where = places_of(places)
    p = controllers.add(
        house, name or file.filename or "controller", file.file.read(), where, codes
    )
    return _profile_out(p)


def _profile_out(p: Profile) -> ProfileOut:
    return ProfileOut(p.key, p.name, len(p.dictionary.objects), len(p.places), p.unseen)


@router.post("/link/dictionary")
def dictionary(file: UploadFile) -> list[ObjectOut]:
    """The objects of a dictionary file, with what each may mean by its name; nothing is stored."""
    d = read_eds(file.file.read(), file.filename or "device.eds")
    meant = controllers.guesses(d)
    return [
        ObjectOut(
            spelled(o.at),
            o.name,
            TYPES[o.type].name,
            o.access,
            o.low,
            o.high,
            o.unread,
            meant.get(o.at, ""),
        )
        for o in d.objects.values()
    ]


@router.get("/link/meanings")
def meanings() -> list[Meaning]:
    """What objects can be mapped to."""
    shows = [Meaning(n, s.label, "while it runs", s.quantity) for n, s in SHOWABLE.items()]
    return [*(Meaning(p.name, p.label, p.group, p.quantity) for p in PARAMS), *shows]


@router.get("/link/codes")
def fault_codes(
    house: HouseDep, doing: Annotated[str, Query(max_length=60)] = "", profile: Name = "bench"
) -> list[CodeOut]:
    """Fault codes of a kind of controller: causes in order, what to measure. doing: what is going on just now."""
    table = controllers.profile(house, profile).codes
    return [CodeOut(c, expected(c, doing), controllers.where_to_measure(c)) for c in table.values()]


@router.post("/builds/{build_id}/link/read", status_code=201)
def link_read(
    house: HouseDep,
    link: LinkDep,
    build_id: str,
    why: Annotated[str, Field(max_length=200)] = "read",
) -> ReadingOut:
    """Read everything and keep it."""
    workshop.version(house, build_id)
    r = link.read(build_id, why)
    return ReadingOut(r.id, r.at, r.why, len(r.values))


@router.post("/builds/{build_id}/link/plan")
def link_plan(house: HouseDep, link: LinkDep, build_id: str, body: WriteIn) -> list[StepOut]:
    """What a write would change now, in its order; nothing is written."""
    _, kind, _ = link.there()
    want = settings.set_from(house, link, build_id, body.source.plain(), kind, body.anyway)
    name = body.source.name if body.source.kind == "set" else ""
    steps = link.plan(build_id, want, body.typed, body.volts, name)
    out = []
    for s in steps:
        spec, obj = kind.meaning(s.at), kind.dictionary.objects[s.at]
        old, new = (_shown(kind, spec, v) for v in (s.old, s.new))
        out.append(StepOut(f"0x{s.at[0]:04X}:{s.at[1]:02X}", spec.label if spec else obj.name,
                           spec.name if spec else "", old, new, s.power))  # fmt: skip
    return out


def _shown(kind: Any, spec: Any, value: Any) -> float | int | str:
    if isinstance(value, bytes):
        return value.hex()
    if spec is None or isinstance(value, str):
        return value  # type: ignore[no-any-return]
    return float(kind.shown(spec.name, value))


@router.post("/builds/{build_id}/link/write")
def link_write(house: HouseDep, link: LinkDep, build_id: str, body: WriteIn) -> Written:
    """The guarded write: read, keep, compare, write in a safe order, read back, store."""
    _, kind, _ = link.there()
    want = settings.to_write(house, link, build_id, body.source.plain(), kind, body.anyway)
    name = body.source.name if body.source.kind == "set" else ""
    why = body.why or f"{want.name}{f', {name}' if name else ''}"
    return link.write(build_id, want, why, body.typed, body.volts, name, body.free, seen=body.seen)


@router.post("/link/writings/{writing_id}/look")
def link_look(link: LinkDep, writing_id: str) -> Written:
    """After the power was off: does everything hold?"""
    return link.after_cycle(writing_id)


@router.post("/link/writings/{writing_id}/settle")
def link_settle(link: LinkDep, writing_id: str, body: SettleIn) -> Written:
    """Finish a write that was cut, or put back what stood before."""
    return link.settle(writing_id, body.finish, body.free, body.anyway)


@router.post("/builds/{build_id}/settings/compare")
def settings_compare(
    house: HouseDep, link: LinkDep, build_id: str, body: CompareIn
) -> SetComparison:
    """Two sets in words and numbers, with what each difference does."""
    return settings.compare(house, link, build_id, body.first.plain(), body.second.plain())


@router.get("/builds/{build_id}/finder/known")
def known_readings(
    house: HouseDep, link: LinkDep, build_id: str, settings: bool = False
) -> list[KnownReading]:
    """Readings that the fault finder need not ask for: of the connected controller and the chosen log, or of the
    controller's parameters."""
    return list(known(house, link, build_id, settings))


@router.get("/builds/{build_id}/settings/twist")
def settings_twist(house: HouseDep, build_id: str) -> list[float]:
    """Where in the throttle the rider of the chosen log was, by tenths; empty where no log holds a throttle."""
    return list(settings.twist(house, build_id))


@router.get("/builds/{build_id}/settings/history")
def settings_history(house: HouseDep, build_id: str) -> list[HistoryItem]:
    """Every read and write, with the runs made in between."""
    workshop.version(house, build_id)
    return settings.history(house, build_id)


@router.get("/builds/{build_id}/settings/swap")
def settings_swap(
    house: HouseDep, build_id: str, before: str = "", after: str = "", volts: Finite | None = None
) -> SwapPlan:
    """Changing packs or purpose: what differs, in which order, whether the measured pack fits."""
    return settings.plan_swap(house, build_id, before, after, volts)


@router.get("/builds/{build_id}/settings/firmware")
def settings_firmware(
    house: HouseDep,
    link: LinkDep,
    build_id: str,
    wanted: Annotated[str, Query(max_length=60)] = "",
    image_hardware: Annotated[str, Query(max_length=60)] = "",
    media_checked: bool | None = None,
    way_back: bool | None = None,
    supply_v: Finite | None = None,
    wheel_free: bool | None = None,
    charger_off: bool | None = None,
) -> FirmwareOut:
    """Before the firmware is changed: what must be in place, with what the connection and the readings know."""
    items = settings.firmware(
        house, link, build_id,
        Plan("", wanted, image_hardware, "", media_checked, False, way_back, supply_v, None, wheel_free, charger_off),
    )  # fmt: skip
    return FirmwareOut(items, allowed(items))


@router.get("/builds/{build_id}/settings/display")
def settings_display(
    house: HouseDep,
    build_id: str,
    wheel_m: Above | None = None,
    ratio: Above | None = None,
    pole_pairs: Above | None = None,
    shown_m_s: Above | None = None,
    true_m_s: Above | None = None,
) -> DisplayError:
    """How far the display is off: by what the controller holds, or by a speed that was measured beside it."""
    return settings.display(
        workshop.shown_build(house, build_id), wheel_m, ratio, pole_pairs, shown_m_s, true_m_s
    )


@router.post("/builds/{build_id}/settings/file")
def settings_file(
    house: HouseDep,
    build_id: str,
    file: UploadFile,
    controller: Annotated[str, Query(max_length=60)] = "",
) -> SetComparison:
    """A file's set beside the build's; nothing is stored. controller: of which kind, else as the file says."""
    data, name = file.file.read(), file.filename or "set.dcf"
    return settings.file_beside(house, build_id, data, name, controller)


@router.get("/link/live", response_class=StreamingResponse)
def link_live(link: LinkDep) -> StreamingResponse:
    """Looks as they come, ten a second, as server-sent events."""

    def events() -> Iterator[str]:
        for seen in link.stream():
            body = {"error": seen} if isinstance(seen, str) else asdict(seen)
            yield f"data: {json.dumps(body)}\n\n"

    return StreamingResponse(
        events(), media_type="text/event-stream", headers={"Cache-Control": "no-cache"}
    )


@router.get("/builds/{build_id}/link/groups")
def link_groups(house: HouseDep, link: LinkDep, build_id: str) -> GroupsNow:
    """The groups as the BMS on the same bus shows them."""
    return groups_now(house, link, build_id)


@router.post("/link/record")
def link_record(
    link: LinkDep, on: bool, gps: Annotated[str, Query(max_length=120)] = ""
) -> LinkState:
    """Begin or end to keep what is shown. gps: a receiver beside it, a port or socket://host:port."""
    link.record(on, gps)
    return link.state()


@router.post("/builds/{build_id}/link/log", status_code=201)
def link_log(house: HouseDep, link: LinkDep, build_id: str) -> ReadingOut:
    """What was recorded, as a log of this build."""
    workshop.version(house, build_id)
    name, data = as_log(link.recorded())
    rides.import_log(house, build_id, name, data, None)
    if link.sentences:  # the satellites' speed is the one to be believed, so it is shown
        rides.import_log(house, build_id, "live-gps.nmea", link.sentences, None)
    return ReadingOut("", house.now(), name, len(link.recorded()))


@router.post("/link/identify", status_code=201)
def link_identify(
    house: HouseDep, link: LinkDep, jobs: JobsDep, free: bool = False,
    build: Annotated[str, Query(max_length=60)] = "", anyway: bool = False,
) -> IdentifyOut:  # fmt: skip
    """Start the identification: wheel free, hand off, a hand on the disconnect. build: whose motor it is; while a stop
    stands there it is not turned, unless somebody says so (anyway)."""
    link.there()
    if not free:
        raise InputError(
            "The wheel will turn.",
            where="free",
            todo="Wheel free or chain off, hand on the disconnect; then say so.",
        )
    if build and not anyway:
        none_stands(
            house, workshop.kept_build(house, build),
            "The motor is not turned under power while a stop stands in the build.",
            "Clear it first. To do it all the same, say so.", power=True,
        )  # fmt: skip
    job = house.new_id()
    return _identified(house, jobs.start(job, IDENTIFYING, link.identification(job, build)))


@router.get("/link/identify/{job_id}")
def link_identified(house: HouseDep, jobs: JobsDep, job_id: str) -> IdentifyOut:
    """Where it stands; at its end what it found beside the build whose motor it is."""
    return _identified(house, jobs.look(job_id))


def _identified(house: HouseDep, p: Progress) -> IdentifyOut:
    if not isinstance(p.result, Turned):
        return IdentifyOut(p.id, p.state, "not started", {}, p.error, "", [])
    found, whose = p.result.found, p.result.build_id
    rows = beside_build(house, whose, found.values)
    return IdentifyOut(p.id, p.state, found.step, found.values, p.error, whose, rows)


@router.post("/builds/{build_id}/link/adopt/{job_id}")
def link_adopt(house: HouseDep, jobs: JobsDep, build_id: str, job_id: str) -> list[FoundValue]:
    """Take what the identification measured into the build whose motor it is; what was left out says why."""
    p = jobs.look(job_id)
    if not isinstance(p.result, Turned) or not p.result.found.values:
        raise InputError("That identification has measured nothing.", got=p.state)
    workshop.only_kept(house, build_id, "Keep or drop it, then take over what was measured.")
    build, values = workshop.shown_build(house, build_id), p.result.found.values
    same_motor(p.result, build_id, build)
    workshop.change(house, build_id, adopted(build, values), "Identified on the controller")
    return beside(build, values)


@router.post("/bench")
def bench_do(link: LinkDep, body: BenchIn, port: int | None = None) -> dict[str, Any]:
    """One request to the bench bike that runs beside this server."""
    return bench_line.ask(port or link.bench_port, {**body.more, "do": body.do})


@router.post("/bench/load/{build_id}")
def bench_load(
    house: HouseDep, link: LinkDep, build_id: str, port: int | None = None
) -> dict[str, Any]:
    """Put a build on the bench."""
    doc = document(workshop.shown_build(house, build_id))
    return bench_line.ask(port or link.bench_port, {"do": "load", "doc": doc})
