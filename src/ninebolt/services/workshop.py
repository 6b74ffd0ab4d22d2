"""Work on one build: change, try, keep, drop, undo, sign off."""

from __future__ import annotations

import dataclasses
import sqlite3
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from ninebolt.core.bolts.assess import Assessment, BoltReport, inputs_of
from ninebolt.core.build import BOLTS, Build
from ninebolt.core.codec import get_path
from ninebolt.core.finding import listed
from ninebolt.core.simulate.headline import Headline
from ninebolt.core.trace import digest
from ninebolt.errors import ConflictError, InputError, NotFoundError
from ninebolt.formats.build_json import build_of, document
from ninebolt.services.docs import doc_at, keep_doc, with_changes
from ninebolt.services.done import is_record, own_log
from ninebolt.services.follows import with_what_follows
from ninebolt.services.house import House
from ninebolt.store import builds as table
from ninebolt.store import rides
from ninebolt.store.database import session, snapshot, transaction

PREVIEW_S = 8.0
WHAT_IF = " (what-if, not kept)"


@dataclass(frozen=True, slots=True)
class Dropped:
    """The what-if that was dropped last: how many changes it had, and the head it was dropped on."""

    changes: int
    seq: int


@dataclass(frozen=True, slots=True)
class Bench:
    """Everything the workbench shows of a build.

    doc: the build as shown; a mark is without its inputs, which only its bolt's report needs.
    trial: the changes on trial, None if none is open. dropped: the last one, which can be taken back. before: headline
    and figures without the trial, so that each number can show where it was.
    """

    id: str
    name: str
    seq: int
    version: str
    archived: bool
    doc: dict[str, Any]
    trial: list[dict[str, Any]] | None
    dropped: Dropped | None
    can_undo: bool
    can_redo: bool
    assessment: Assessment
    before: Headline | None
    before_figures: dict[str, float | None]


@dataclass(frozen=True, slots=True)
class Kept:
    """A revision that was just stored."""

    seq: int
    doc: dict[str, Any]
    build: Build


def on_screen(bench: Bench, bolt: str) -> Bench:
    """The bench with the drawing of one bolt only; all of them where no bolt is named."""
    seen = bench.assessment.seen((bolt,) if bolt in BOLTS else BOLTS)
    return dataclasses.replace(bench, assessment=seen)


def bench(house: House, build_id: str) -> Bench:
    """The bench as it stands. Raises NotFoundError."""
    with session(house.path) as db:
        return _bench(house, db, build_id)


def _bench(house: House, db: sqlite3.Connection, build_id: str, kept: Kept | None = None) -> Bench:
    """kept: what was stored a moment ago, which need not be read again if it is still the head."""
    with snapshot(db):
        row = table.get_build(db, build_id)
        version = table.version_of(db, build_id)
        can_undo = table.parent_of(db, build_id, row.head) is not None
        can_redo = table.newest_child(db, build_id, row.head) is not None
        mine = kept is not None and kept.seq == row.head
        base_doc = kept.doc if kept and mine else doc_at(db, build_id, row.head)
        trial = table.get_trial(db, build_id)
        gone = table.get_dropped(db, build_id)
    if kept and mine and trial is None:
        shown = kept.build
    else:
        shown = build_of(with_changes(base_doc, trial or []), row.name)
    before, figures = None, {}
    if trial is not None:
        base = house.assessment(build_of(base_doc, row.name))
        before = base.headline
        figures = {f"{b.bolt}.{f.key}": f.value for b in base.bolts for f in b.figures}
    return Bench(
        row.id,
        shown.name,
        row.head,
        version,
        row.archived,
        {**document(shown), "marks": [{**m, "inputs": None} for m in document(shown)["marks"]]},
        trial,
        Dropped(len(gone[1]), gone[0]) if gone else None,
        can_undo,
        can_redo,
        house.assessment(shown),
        before,
        figures,
    )


def change(
    house: House,
    build_id: str,
    changes: list[dict[str, Any]],
    reason: str = "",
    version: str | None = None,
) -> Bench:
    """Make changes: on the trial if one is open, else kept at once as a revision. What was done and measured
    (done.RECORDS) is kept at once in either case: a fall does not come undone with the what-if that was open.

    version: what the caller looked at (Bench.version); ConflictError if the build has moved on.
    """
    return change_by(house, build_id, lambda _: changes, reason, version)


def change_by(
    house: House,
    build_id: str,
    changes_of: Callable[[Any], list[dict[str, Any]]],
    reason: str = "",
    version: str | None = None,
) -> Bench:
    """As change, the changes made of the document as shown in the same transaction: of two who add to one list none is
    lost."""
    kept = None
    with session(house.path) as db:
        with transaction(db):
            row = table.get_build(db, build_id)
            _as_seen(db, build_id, version)
            base = doc_at(db, build_id, row.head)
            trial = table.get_trial(db, build_id)
            shown = with_changes(base, trial or [])
            changes = with_what_follows(shown, changes_of(shown), trial is not None)
            if trial is None:
                kept = _commit(house, db, build_id, base, changes, reason)
            else:
                done = [c for c in changes if is_record(str(c["path"]))]
                if done:
                    kept = _commit(house, db, build_id, base, done, reason)
                    base = kept.doc if kept else base
                merged = [c for c in _merge(trial, changes) if c not in done]
                house.storable(build_of(with_changes(base, merged), row.name))
                table.put_trial(db, build_id, row.head, merged, house.now())
        return _bench(house, db, build_id, kept)


def _as_seen(db: sqlite3.Connection, build_id: str, version: str | None) -> None:
    """Raises ConflictError where the build is no longer what the caller looked at; None looks at nothing."""
    now = table.version_of(db, build_id)
    if version is not None and version != now:
        raise ConflictError(
            "The build was changed elsewhere, so this was not done.",
            got=f"revision {now}",
            expected=f"revision {version}",
            todo="The newer state is shown now; look at it, and do it again if it is still wanted.",
        )


def _merge(old: list[dict[str, Any]], new: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Later changes replace earlier ones of the same path, and of anything inside it."""
    paths = [str(c["path"]) for c in new]
    kept = [
        c
        for c in old
        if not any(c["path"] == p or str(c["path"]).startswith(p + ".") for p in paths)
    ]
    return kept + [{"path": c["path"], "value": c["value"]} for c in new]


def _commit(
    house: House,
    db: sqlite3.Connection,
    build_id: str,
    base: Any,
    changes: list[dict[str, Any]],
    reason: str,
) -> Kept | None:
    """What was stored; None where the changes change nothing."""
    build = build_of(with_changes(base, changes), "build")
    house.storable(build)
    own_log(db, build_id, base, build)
    made = document(build)
    record = [
        {"path": c["path"], "old": _old(base, c["path"]), "new": _old(made, c["path"])}
        for c in changes
    ]
    if made == base:
        return None
    return Kept(keep_doc(db, build_id, house.now(), reason, record, made), made, build)


def _old(doc: Any, path: str) -> Any:
    try:
        return get_path(doc, path)
    except NotFoundError:
        return None


def open_trial(house: House, build_id: str) -> Bench:
    """Start a what-if; one that is open already stays."""
    with session(house.path) as db:
        with transaction(db):
            row = table.get_build(db, build_id)
            if table.get_trial(db, build_id) is None:
                table.put_trial(db, build_id, row.head, [], house.now())
        return _bench(house, db, build_id)


def keep_trial(house: House, build_id: str, version: str | None = None) -> Bench:
    """Keep what is on trial as one revision. version: as of change."""
    with session(house.path) as db:
        with transaction(db):
            row = table.get_build(db, build_id)
            _as_seen(db, build_id, version)
            trial = table.get_trial(db, build_id)
            if trial is None:
                raise ConflictError("There is no what-if to keep.")
            base = doc_at(db, build_id, row.head)
            if trial:
                # What is on the bike now unticks what was done on the old.
                kept = with_what_follows(base, trial)
                _commit(house, db, build_id, base, kept, "Kept a what-if")
            table.drop_trial(db, build_id)
        return _bench(house, db, build_id)


def drop_trial(house: House, build_id: str) -> Bench:
    """Put away what is on trial; until another one is dropped it can be taken back."""
    with session(house.path) as db:
        with transaction(db):
            row = table.get_build(db, build_id)
            trial = table.get_trial(db, build_id)
            if trial:
                table.put_dropped(db, build_id, row.head, trial, house.now())
            table.drop_trial(db, build_id)
        return _bench(house, db, build_id)


def trial_back(house: House, build_id: str) -> Bench:
    """Put what was dropped last on trial again, on the build as it stands now. Raises ConflictError while another
    what-if is open or where none was dropped, InputError where it does not go onto this build any more."""
    with session(house.path) as db:
        with transaction(db):
            row = table.get_build(db, build_id)
            _none_open(db, build_id, "Keep or drop it first.")
            gone = table.get_dropped(db, build_id)
            if gone is None:
                raise ConflictError("There is no dropped what-if to take back.")
            changes = gone[1]
            house.storable(
                build_of(with_changes(doc_at(db, build_id, row.head), changes), row.name)
            )
            table.put_trial(db, build_id, row.head, changes, house.now())
            table.forget_dropped(db, build_id)
        return _bench(house, db, build_id)


def version(house: House, build_id: str) -> str:
    """What a page compares with its own, to learn of changes made elsewhere."""
    with session(house.path) as db:
        return table.version_of(db, build_id)


def _none_open(db: sqlite3.Connection, build_id: str, todo: str) -> None:
    if table.get_trial(db, build_id) is not None:
        raise ConflictError("A what-if is open.", todo=todo)


def undo(house: House, build_id: str, redo: bool = False, version: str | None = None) -> Bench:
    """Step the build back to the state before its last kept change, or forward again. version: as of change."""
    with session(house.path) as db:
        with transaction(db):
            row = table.get_build(db, build_id)
            _as_seen(db, build_id, version)
            _none_open(db, build_id, "Keep or drop it first.")
            find = table.newest_child if redo else table.parent_of
            target = find(db, build_id, row.head)
            if target is None:
                raise ConflictError(f"There is nothing to {'redo' if redo else 'undo'}.")
            table.move_head(db, build_id, target, house.now())
            _log_back(db, build_id, doc_at(db, build_id, target))
        return _bench(house, db, build_id)


def _log_back(db: sqlite3.Connection, build_id: str, doc: Any) -> None:
    """A log that the state points at again is in the list again."""
    log_id = doc["prove"]["log_id"]
    if log_id:
        with suppress(NotFoundError):
            rides.set_removed(db, build_id, log_id, None)


def sign(
    house: House, build_id: str, bolt: str, note: str = "", version: str | None = None
) -> Bench:
    """Paint the witness mark: record exactly the inputs that the bolt's computation used. version: as of change;
    nobody signs what they have not seen."""
    if bolt not in BOLTS:
        raise NotFoundError(f"There is no bolt '{bolt}'.", expected=", ".join(BOLTS))
    with session(house.path) as db:
        with transaction(db):
            row = table.get_build(db, build_id)
            _as_seen(db, build_id, version)
            _none_open(db, build_id, "Keep or drop it, then sign off.")
            base = doc_at(db, build_id, row.head)
            build = build_of(base, row.name)
            _signable(house.assessment(build).bolt(bolt))
            inputs = inputs_of(build, bolt, house.ride_of(build), house.shelf())
            mark = {
                "bolt": bolt,
                "digest": digest(inputs),
                "signed_at": house.now(),
                "note": note,
                "inputs": inputs,
            }
            _set_marks(house, db, build_id, base, bolt, [mark], f"Signed off {bolt}")
        return _bench(house, db, build_id)


def _signable(report: BoltReport) -> None:
    stops = [f.title for f in report.findings if f.severity == "stop"]
    if stops:
        raise ConflictError(
            "A bolt with a stop cannot be signed off.",
            got=listed(stops, 3, "; "),
            todo="Clear the stop first.",
        )
    if report.missing:
        raise ConflictError(
            "Not enough is known to sign this bolt off.", got=listed(report.missing, 6)
        )


def unsign(house: House, build_id: str, bolt: str) -> Bench:
    """Wipe a witness mark off."""
    with session(house.path) as db:
        with transaction(db):
            row = table.get_build(db, build_id)
            base = doc_at(db, build_id, row.head)
            _set_marks(house, db, build_id, base, bolt, [], f"Wiped the mark off {bolt}")
        return _bench(house, db, build_id)


def _set_marks(
    house: House,
    db: sqlite3.Connection,
    build_id: str,
    base: Any,
    bolt: str,
    marks: list[dict[str, Any]],
    reason: str,
) -> None:
    others = [m for m in base["marks"] if m["bolt"] != bolt]
    keep_doc(db, build_id, house.now(), reason, [], {**base, "marks": others + marks})


@dataclass(frozen=True, slots=True)
class Preview:
    """What a set of changes would do to the headline; error if it cannot be made."""

    headline: Headline | None
    states: dict[str, str]
    stops: int
    error: str = ""


def preview(house: House, build_id: str, options: list[list[dict[str, Any]]]) -> list[Preview]:
    """The effect of each option on the build as shown (trial included), nothing kept."""
    name, kept, trial = _read(house, build_id)
    doc = with_changes(kept, trial)
    out = []
    end = time.monotonic() + PREVIEW_S
    for changes in options[:24]:
        if time.monotonic() > end:
            out.append(Preview(None, {}, 0, "Not looked at: this takes too long. Ask for fewer."))
            continue
        try:
            made: Build = build_of(with_changes(doc, changes), name)
            a = house.assessable(made)
        except InputError as error:
            out.append(Preview(None, {}, 0, error.message()))
            continue
        out.append(Preview(a.headline, {b.bolt: b.state for b in a.bolts}, len(a.stops)))
    return out


def history(house: House, build_id: str) -> list[table.RevisionRow]:
    """Kept changes, newest first."""
    with session(house.path) as db:
        table.get_build(db, build_id)
        return table.revisions(db, build_id)


def _read(house: House, build_id: str) -> tuple[str, Any, list[dict[str, Any]]]:
    """(name, document as kept, changes on trial) of one moment. Raises NotFoundError."""
    with session(house.path) as db, snapshot(db):
        row = table.get_build(db, build_id)
        return row.name, doc_at(db, build_id, row.head), table.get_trial(db, build_id) or []


def shown_build(house: House, build_id: str) -> Build:
    """The build with its trial, as the bench shows it."""
    name, doc, trial = _read(house, build_id)
    return build_of(with_changes(doc, trial), name)


def kept_build(house: House, build_id: str) -> Build:
    """The build without what is on trial: the bike that is there."""
    name, doc, _ = _read(house, build_id)
    return build_of(doc, name)


def on_paper(house: House, build_id: str) -> Build:
    """The build as shown, for a file that leaves the house: one that is only tried is named so."""
    name, doc, trial = _read(house, build_id)
    build = build_of(with_changes(doc, trial), name)
    return dataclasses.replace(build, name=f"{build.name}{WHAT_IF}") if trial else build


def only_kept(house: House, build_id: str, todo: str) -> None:
    """What a what-if must not touch. Raises ConflictError while one tries anything."""
    if _read(house, build_id)[2]:
        raise ConflictError("A what-if is open: this is not the bike that is there.", todo=todo)
