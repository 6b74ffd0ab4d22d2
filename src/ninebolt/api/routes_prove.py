"""Prove: commissioning gates, the fault finder."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Query, Response, UploadFile
from pydantic import Field

from ninebolt.api.answers import BENCH, answer
from ninebolt.api.models import PROBLEMS, Body, Finite
from ninebolt.api.routes_builds import HouseDep, Shown, file_response
from ninebolt.core.bolts.prove.finder import Hunt
from ninebolt.core.logs import claims
from ninebolt.core.logs.claims import Cap, PowerGuess, RangeGuess
from ninebolt.core.logs.protocols import PROTOCOLS
from ninebolt.core.logs.session import SessionVerdict, Trial
from ninebolt.formats.trials_csv import read_trials
from ninebolt.services import acceptance, book, commission, reports, riding, sessions, workshop
from ninebolt.services.acceptance import Accepted
from ninebolt.services.book import Book
from ninebolt.services.calibrate import Calibration, calibrate
from ninebolt.services.riding import ChargeEffect, RideGate
from ninebolt.services.sessions import SessionView, UsualSpread

router = APIRouter(prefix="/api/builds/{build_id}", tags=["prove"], responses=PROBLEMS)
Text = Annotated[str, Field(max_length=400)]


# How long ago something was tapped that comes in later, by the clock it was tapped by. A phone may lie for a season.
AgoS = Annotated[float | None, Field(ge=0, le=1e7)]
Seq = Annotated[int | None, Field(ge=1, le=10**9)]


class GateIn(Body):
    """What was found at a gate: a reading in SI, or a yes or no. Neither clears it. seq: the change after which the
    build stood when it was found, where it may come in later; left out, the newest."""

    value: float | None = None
    passed: bool | None = None
    note: Text = ""
    who: Annotated[str, Field(max_length=80)] = ""
    ago_s: AgoS = None
    seq: Seq = None


class ReadingIn(Body):
    """A reading of the fault finder, in SI; null: it cannot be taken here."""

    place: Annotated[str, Field(max_length=40)]
    value: float | None


class HuntIn(Body):
    """What is wrong with the bike, and what was read so far."""

    symptom: Annotated[str, Field(max_length=60)]
    readings: Annotated[list[ReadingIn], Field(max_length=60)]


@router.post("/gates/{gate}", **BENCH)
def enter_gate(
    house: HouseDep, build_id: str, gate: str, body: GateIn, bolt_shown: Shown = ""
) -> Response:
    """Enter a gate of commissioning; refused behind an open hold point."""
    done = commission.enter(house, build_id, gate, **body.model_dump())
    return answer(done, bolt_shown)


@router.get("/gates.pdf", response_class=Response)
def gates_sheet(house: HouseDep, build_id: str, paper: Literal["a4", "letter"] = "a4") -> Response:
    """Commissioning to print: every gate in its order, what was found, its photos."""
    name, data = commission.sheet(house, build_id, paper)
    return file_response(data, "application/pdf", name)


@router.post("/finder")
def find_fault(house: HouseDep, build_id: str, body: HuntIn) -> Hunt:
    """Suspects after the readings, and the reading that tells most next."""
    return commission.find(
        house, build_id, body.symptom, [(r.place, r.value) for r in body.readings]
    )


class SessionIn(Body):
    """A comparison to be planned. spread: standard deviation of earlier runs; gap: what is hoped to be seen; masses:
    kg of bike and rider by setup."""

    name: Annotated[str, Field(max_length=80)] = ""
    protocol: Annotated[str, Field(max_length=60)] = PROTOCOLS[0]
    setups: Annotated[
        list[Annotated[str, Field(min_length=1, max_length=60)]], Field(min_length=2, max_length=8)
    ]
    trials: Annotated[int, Field(ge=2, le=60)] = 5
    spread: Annotated[float, Field(gt=0, le=1e5)]
    gap: Annotated[float, Field(gt=0, le=1e5)]
    masses: Annotated[dict[str, float], Field(default_factory=dict)]
    riders: Annotated[
        list[Annotated[str, Field(min_length=1, max_length=60)]],
        Field(default_factory=list, max_length=6),
    ]


class TrialIn(Body):
    """One run, with what it was ridden under; left out, it was not written down. seq: the change after which the build
    stood when it was tapped, where it may come in later; left out, the newest."""

    setup: Annotated[str, Field(max_length=60)]
    value: Annotated[float, Field(gt=0, le=1e6)]
    soc: Annotated[float | None, Field(ge=0, le=1)] = None
    mass_kg: Annotated[float | None, Field(gt=0, le=1000)] = None
    wind_m_s: Annotated[float | None, Field(ge=-40, le=40)] = None
    air_c: Annotated[float | None, Field(ge=-40, le=60)] = None
    slope_pct: Annotated[float | None, Field(ge=-30, le=30)] = None
    rider: Annotated[str, Field(max_length=60)] = ""
    front_teeth: Annotated[int | None, Field(ge=5, le=120)] = None
    rear_teeth: Annotated[int | None, Field(ge=5, le=120)] = None
    tyre: Annotated[str, Field(max_length=60)] = ""
    tyre_bar: Annotated[float | None, Field(gt=0, le=10)] = None
    surface: Annotated[str, Field(max_length=60)] = ""
    pressure_hpa: Annotated[float | None, Field(ge=400, le=1100)] = None
    note: Text = ""
    discarded: Text = ""
    key: Annotated[str, Field(max_length=60)] = ""
    log_id: Annotated[str, Field(max_length=40)] = ""
    seq: Seq = None
    ago_s: AgoS = None

    def plain(self) -> Trial:
        return Trial(**self.model_dump(exclude={"ago_s"}))


@router.get("/sessions")
def run_book(house: HouseDep, build_id: str) -> list[SessionView]:
    """Every session of a build, newest first, with what it shows."""
    return sessions.book(house, build_id)


@router.get("/sessions/spread")
def earlier_spread(
    house: HouseDep, build_id: str, protocol: Annotated[str, Query(max_length=60)]
) -> UsualSpread:
    """How far runs of one setup of this bike spread in its earlier sessions."""
    return sessions.usual_spread(house, build_id, protocol)


@router.post("/sessions", status_code=201)
def plan_session(house: HouseDep, build_id: str, body: SessionIn) -> SessionView:
    """Plan a comparison: order, how many trials, what is held alike."""
    return sessions.make(
        house,
        build_id,
        body.name,
        body.protocol,
        body.setups,
        body.trials,
        body.spread,
        body.gap,
        body.masses,
        body.riders,
    )


@router.post("/sessions/{session_id}/trials", status_code=201)
def add_trial(house: HouseDep, build_id: str, session_id: str, body: TrialIn) -> SessionView:
    """Take a run into a session."""
    return sessions.add_trial(house, build_id, session_id, body.plain(), body.ago_s)


@router.post("/sessions/{session_id}/trials/{number}/discard")
def discard_trial(
    house: HouseDep, build_id: str, session_id: str, number: int, why: str
) -> SessionView:
    """Discard a run with its reason; without one it counts again."""
    return sessions.discard(house, build_id, session_id, number, why)


@router.post("/sessions/{session_id}/bind")
def bind_setup(
    house: HouseDep,
    build_id: str,
    session_id: str,
    setup: Annotated[str, Query(max_length=60)],
    seq: Annotated[int | None, Query(ge=1, le=10**9)] = None,
) -> SessionView:
    """Which change of the build a setup is; without one, the build as it stands when a run is taken."""
    return sessions.bind(house, build_id, session_id, setup, seq)


@router.post("/sessions/{session_id}/felt")
def felt_better(
    house: HouseDep, build_id: str, session_id: str, setup: Annotated[str, Query(max_length=60)]
) -> SessionView:
    """Which setup felt better; said beside what the numbers say."""
    return sessions.feel(house, build_id, session_id, setup)


@router.delete("/sessions/{session_id}")
def remove_session(house: HouseDep, build_id: str, session_id: str) -> list[SessionView]:
    """Take a session out of the book; it can be put back."""
    return sessions.remove(house, build_id, session_id)


@router.post("/sessions/{session_id}/back")
def session_back(house: HouseDep, build_id: str, session_id: str) -> list[SessionView]:
    """Put a removed session back into the book."""
    return sessions.remove(house, build_id, session_id, back=True)


@router.get("/sessions/{session_id}/report", response_class=Response)
def session_report(
    house: HouseDep, build_id: str, session_id: str, paper: Literal["a4", "letter"] = "a4"
) -> Response:
    """A session as a PDF that can be handed over, the raw files attached."""
    name, data = reports.session_report(house, build_id, session_id, paper)
    return file_response(data, "application/pdf", name)


@router.get("/sessions/{session_id}/report.html", response_class=Response)
def session_page(house: HouseDep, build_id: str, session_id: str) -> Response:
    """The same as one page that needs nothing else."""
    name, data = reports.session_report(house, build_id, session_id, page=True)
    return file_response(data, "text/html; charset=utf-8", name)


@router.get("/book")
def get_book(
    house: HouseDep,
    build_id: str,
    text: Annotated[str, Query(max_length=80)] = "",
    kind: Annotated[str, Query(max_length=20)] = "",
) -> Book:
    """Everything that was ridden, done and that happened, newest first; best results; what changed in between."""
    return book.book(house, build_id, text, kind)


@router.post("/compare-file")
def compare_file(
    house: HouseDep,
    build_id: str,
    file: UploadFile,
    protocol: Annotated[str, Query(max_length=60)] = "",
) -> SessionVerdict:
    """Trials of a CSV judged by a protocol, or by the first that measures what it holds; nothing is stored."""
    build = workshop.shown_build(house, build_id)
    read = read_trials(file.file.read(), file.filename or "trials.csv")
    return sessions.compared(read, protocol, build)


LogId = Annotated[str, Field(max_length=60)]


class CalibrateIn(Body):
    """Logs of runs from rest, by id; the last is held back where there are two or more. coasting: logs of coast-downs,
    throttle shut and brakes off. motor_turns: false where the chain was off in them."""

    logs: Annotated[list[LogId], Field(max_length=12, default_factory=list)]
    hold_back: bool = True
    coasting: Annotated[list[LogId], Field(max_length=12, default_factory=list)]
    motor_turns: bool = True


@router.post("/calibrate")
def calibrate_model(house: HouseDep, build_id: str, body: CalibrateIn) -> Calibration:
    """What logged runs and coast-downs say of drag, rolling, pack, driveline and grip; nothing is stored."""
    return calibrate(house, build_id, body.logs, body.hold_back, body.coasting, body.motor_turns)


@router.get("/ride-gate")
def may_be_ridden(
    house: HouseDep,
    build_id: str,
    gear: Annotated[list[str] | None, Query()] = None,
    second_person: bool | None = None,
    closed: bool | None = None,
) -> RideGate:
    """What stands between the bike and a ride: gates, interlocks, brakes and tyres, gear, place, a second person."""
    return riding.ride_gate(house, build_id, gear or [], second_person, closed)


@router.get("/acceptance")
def accepted(house: HouseDep, build_id: str) -> list[Accepted]:
    """Every wish and the baseline against what was measured: met, not met, undecided, not measured and how to."""
    return acceptance.acceptance(house, build_id)


@router.get("/charge-effect")
def effect_of_charge(
    house: HouseDep,
    build_id: str,
    first: Annotated[float, Query(gt=0, le=1)] = 0.9,
    second: Annotated[float, Query(gt=0, le=1)] = 0.6,
    protocol: str = PROTOCOLS[0],
) -> ChargeEffect:
    """How much a difference of charge does by itself."""
    return riding.charge_effect(house, build_id, protocol, first, second)


sums = APIRouter(prefix="/api/sums", tags=["sums"], responses=PROBLEMS)


@sums.get("/power-from-time")
def power_of_a_time(
    mass_kg: Finite = 150.0,
    speed_m_s: Finite = 27.0,
    time_s: Finite = 6.0,
    claimed_w: Finite | None = None,
) -> PowerGuess:
    """What a time to a speed asks of power; a claim beside it."""
    return claims.power_from_time(mass_kg, speed_m_s, time_s, claimed_w)


@sums.get("/range-claim")
def claim_of_range(range_m: Finite = 60_000.0, usable_wh: Finite = 3000.0) -> RangeGuess:
    """What a range that 'should be' implies."""
    return claims.range_claim(range_m, usable_wh)


@sums.get("/runtime")
def minutes(
    first_ah: Finite = 30.0, second_ah: Finite = 45.0, mean_a: Finite = 40.0
) -> list[float]:
    """Minutes of two packs at a mean current."""
    return list(claims.runtime_minutes(first_ah, second_ah, mean_a))


@sums.get("/road-cap")
def road_cap(
    sight_m: Finite = 200.0,
    wanted_m_s: Finite = 20.0,
    limit_m_s: Finite | None = None,
    loose: bool = False,
    closed: bool | None = None,
) -> Cap:
    """A speed that can be stopped from within half of what is seen; an open road's limit holds, and a road of which
    nobody says that it is closed is open."""
    return claims.road_cap(sight_m, limit_m_s, wanted_m_s, loose, closed)
