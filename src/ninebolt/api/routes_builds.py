"""Garage and workbench."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Depends, Query, Request, Response, UploadFile

from ninebolt.api.answers import BENCH, answer
from ninebolt.api.models import (
    PROBLEMS,
    BuildEdit,
    ChangesIn,
    IdOut,
    NameIn,
    OptionsIn,
    SignIn,
    VersionOut,
    VisitIn,
)
from ninebolt.core.setting.sets import OUR_PROFILE
from ninebolt.errors import NineBoltError
from ninebolt.services import bands, controllers, garage, tunes, workshop
from ninebolt.services.bands import BandView
from ninebolt.services.beside import Beside
from ninebolt.services.choke import ChokeView, choke_view
from ninebolt.services.garage import Card
from ninebolt.services.house import House
from ninebolt.services.workshop import Preview
from ninebolt.store.builds import RevisionRow

router = APIRouter(prefix="/api", tags=["builds"], responses=PROBLEMS)


def the_house(request: Request) -> House:
    """The house this application was made with."""
    house = request.app.state.house
    if not isinstance(house, House):
        raise NineBoltError("The application was started without a data folder.")
    return house


HouseDep = Annotated[House, Depends(the_house)]
# The bolt on screen, whose drawing alone is answered; without it, all nine are.
Shown = Annotated[str, Query(alias="bolt", max_length=20)]
# The state that whoever calls looked at: another one by now is refused.
Seen = Annotated[str | None, Query(max_length=60)]


@router.get("/builds")
def list_builds(house: HouseDep) -> list[Card]:
    """All builds with their headline and states."""
    return garage.cards(house)


@router.post("/builds", status_code=201)
def create_build(house: HouseDep, body: NameIn) -> IdOut:
    """A new empty build."""
    return IdOut(id=garage.create(house, body.name))


@router.post("/builds/import", status_code=201)
def import_build(house: HouseDep, file: UploadFile) -> IdOut:
    """A build from a JSON file, or from a zip with its logs, photos, states, sessions and writes."""
    name = file.filename or "build.json"
    return IdOut(id=garage.import_build(house, file.file.read(), name))


@router.get("/beside")
def side_by_side(
    house: HouseDep,
    ids: Annotated[list[str], Query(alias="id")],
    equal: Annotated[list[str] | None, Query(max_length=10)] = None,
) -> Beside:
    """Builds in one table: what is better where, what is unknown, what was not alike or made so."""
    return garage.side_by_side(house, ids, equal)


@router.get("/builds/{build_id}", **BENCH)
def get_bench(house: HouseDep, build_id: str, bolt_shown: Shown = "") -> Response:
    """The build as shown, with its assessment. Changes nothing."""
    return answer(workshop.bench(house, build_id), bolt_shown)


@router.get("/builds/{build_id}/version")
def get_version(house: HouseDep, build_id: str) -> VersionOut:
    """What a page compares with its own, to learn of changes made elsewhere."""
    return VersionOut(version=workshop.version(house, build_id))


@router.post("/builds/{build_id}/visit", status_code=204)
def visit(house: HouseDep, build_id: str, body: VisitIn) -> None:
    """Remember where the person is working."""
    garage.visit(house, build_id, body.bolt)


@router.delete("/builds/{build_id}", status_code=204)
def delete_build(house: HouseDep, build_id: str, anyway: bool = False) -> None:
    """Delete a build with its revisions and logs, readable or not. anyway: although a write into its controller is not
    finished, whose backup goes with it."""
    garage.delete(house, build_id, anyway)


@router.patch("/builds/{build_id}", **BENCH)
def edit_build(house: HouseDep, build_id: str, body: BuildEdit, bolt_shown: Shown = "") -> Response:
    """Rename or archive."""
    if body.name is not None:
        garage.rename(house, build_id, body.name)
    if body.archived is not None:
        garage.archive(house, build_id, body.archived)
    return answer(workshop.bench(house, build_id), bolt_shown)


@router.post("/builds/{build_id}/duplicate", status_code=201)
def duplicate_build(house: HouseDep, build_id: str) -> IdOut:
    """A copy under a new name."""
    return IdOut(id=garage.duplicate(house, build_id))


@router.get("/builds/{build_id}/export", response_class=Response)
def export_build(house: HouseDep, build_id: str, logs: bool = False) -> Response:
    """The build as JSON, or as a zip with all that became of it: logs, photos, states, sessions, writes."""
    name, data = garage.export(house, build_id, logs)
    kind = "application/zip" if logs else "application/json"
    return file_response(data, kind, name)


MOST_NAME = 80


def _letters(name: str) -> str:
    return "".join(c if c.isalnum() or c in "._-" else "-" for c in name).strip("-.")


def file_response(data: bytes, kind: str, name: str) -> Response:
    """A download by its name, as every file system takes it; in letters of ASCII for who knows no others (RFC 6266)."""
    stem, dot, ending = name.rpartition(".")
    stem, ending = (_letters(stem), dot + _letters(ending)) if dot else (_letters(name), "")
    stem = stem[: MOST_NAME - len(ending)] or "file"
    known = "".join(c if c.isascii() else "-" for c in stem).strip("-") or "file"
    known += "".join(c for c in ending if c.isascii())
    said = f'attachment; filename="{known}"'
    if known != stem + ending:
        said += f"; filename*=UTF-8''{quote(stem + ending)}"
    headers = {"Content-Disposition": said}
    return Response(data, media_type=kind, headers=headers)


@router.post("/builds/{build_id}/changes", **BENCH)
def change_build(
    house: HouseDep, build_id: str, body: ChangesIn, bolt_shown: Shown = ""
) -> Response:
    """Make changes: on trial while a what-if is open, else kept at once."""
    return answer(
        workshop.change(house, build_id, body.plain(), body.reason, body.version), bolt_shown
    )


@router.post("/builds/{build_id}/preview")
def preview_changes(house: HouseDep, build_id: str, body: OptionsIn) -> list[Preview]:
    """What each set of changes would do; nothing is kept."""
    return workshop.preview(house, build_id, body.plain())


@router.post("/builds/{build_id}/trial", **BENCH)
def open_trial(house: HouseDep, build_id: str, bolt_shown: Shown = "") -> Response:
    """Start a what-if."""
    return answer(workshop.open_trial(house, build_id), bolt_shown)


@router.post("/builds/{build_id}/trial/keep", **BENCH)
def keep_trial(
    house: HouseDep, build_id: str, bolt_shown: Shown = "", version: Seen = None
) -> Response:
    """Keep the what-if."""
    return answer(workshop.keep_trial(house, build_id, version), bolt_shown)


@router.delete("/builds/{build_id}/trial", **BENCH)
def drop_trial(house: HouseDep, build_id: str, bolt_shown: Shown = "") -> Response:
    """Drop the what-if."""
    return answer(workshop.drop_trial(house, build_id), bolt_shown)


@router.post("/builds/{build_id}/trial/back", **BENCH)
def trial_back(house: HouseDep, build_id: str, bolt_shown: Shown = "") -> Response:
    """Take the what-if back that was dropped last."""
    return answer(workshop.trial_back(house, build_id), bolt_shown)


@router.post("/builds/{build_id}/undo", **BENCH)
def undo(house: HouseDep, build_id: str, bolt_shown: Shown = "", version: Seen = None) -> Response:
    """Take the last kept change back."""
    return answer(workshop.undo(house, build_id, version=version), bolt_shown)


@router.post("/builds/{build_id}/redo", **BENCH)
def redo(house: HouseDep, build_id: str, bolt_shown: Shown = "", version: Seen = None) -> Response:
    """Make it again."""
    return answer(workshop.undo(house, build_id, redo=True, version=version), bolt_shown)


@router.get("/builds/{build_id}/history")
def history(house: HouseDep, build_id: str) -> list[RevisionRow]:
    """Kept changes, newest first."""
    return workshop.history(house, build_id)


@router.post("/builds/{build_id}/marks/{bolt}", **BENCH)
def sign(
    house: HouseDep,
    build_id: str,
    bolt: str,
    body: SignIn,
    bolt_shown: Shown = "",
    version: Seen = None,
) -> Response:
    """Sign a bolt off."""
    return answer(workshop.sign(house, build_id, bolt, body.note, version), bolt_shown)


@router.delete("/builds/{build_id}/marks/{bolt}", **BENCH)
def unsign(house: HouseDep, build_id: str, bolt: str, bolt_shown: Shown = "") -> Response:
    """Wipe the mark off."""
    return answer(workshop.unsign(house, build_id, bolt), bolt_shown)


@router.get("/builds/{build_id}/choke")
def held_back(house: HouseDep, build_id: str) -> ChokeView:
    """What holds the bike back, where, and what raising it brings."""
    build = workshop.shown_build(house, build_id)
    return choke_view(build, house.ride_of(build))


@router.get("/builds/{build_id}/band")
def band(house: HouseDep, build_id: str) -> BandView:
    """How sure the headline is, and what to measure next."""
    return bands.band_of(house, workshop.bench(house, build_id).doc)


@router.get("/builds/{build_id}/parameters", response_class=Response)
def parameters(
    house: HouseDep,
    build_id: str,
    kind: Annotated[str, Query(max_length=20)] = "dcf",
    anyway: bool = False,
    profile: Annotated[str, Query(max_length=120)] = "",
    controller: Annotated[str, Query(max_length=60)] = OUR_PROFILE.key,
) -> Response:
    """The parameter set for a kind of controller, as DCF, CSV, JSON or a sheet; where a stop stands only when it is
    said that this is known."""
    build = workshop.on_paper(house, build_id)
    media, data = tunes.parameter_file(
        build, kind, anyway, profile, controllers.profile(house, controller)
    )
    return file_response(data, media, f"{garage.file_name(build.name)}.{kind}")
