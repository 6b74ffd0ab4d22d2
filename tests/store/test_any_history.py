"""Any order of changes, trials, undo, redo, copies and restarts, against a model in memory."""

from __future__ import annotations

import copy
import tempfile
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from ninebolt.core.codec import set_path
from ninebolt.errors import ConflictError, FieldError
from ninebolt.services import garage, workshop
from ninebolt.services.house import House

# Control characters are left out of a text, halves of a pair refused.
plain = st.characters(exclude_categories=["Cs", "Cc"], exclude_characters="\ufffe\uffff")
good_changes = st.one_of(
    st.tuples(st.just("pack.series"), st.integers(1, 40)),
    st.tuples(st.just("pack.parallel"), st.integers(1, 40)),
    st.tuples(st.just("gear.rear_teeth"), st.integers(20, 80)),
    st.tuples(st.just("note"), st.text(plain, max_size=20).map(str.strip)),
    st.tuples(st.just("pack.cell.name"), st.sampled_from(["A", "B", "C"])),
)
bad_changes = st.sampled_from(
    [("pack.series", 0), ("pack.series", "many"), ("nowhere", 1), ("marks", []), ("note", 7)]
)


class Model:
    """A tree of revisions, where the head stands, and a trial on top of it."""

    def __init__(self, doc: dict[str, Any]) -> None:
        self.docs = [doc]
        self.parent: list[int | None] = [None]
        self.head = 0
        self.trial: list[tuple[str, Any]] | None = None

    @property
    def base(self) -> dict[str, Any]:
        return self.docs[self.head]

    @property
    def shown(self) -> dict[str, Any]:
        doc = copy.deepcopy(self.base)
        for path, value in self.trial or []:
            doc = set_path(doc, path, value)
        return doc

    def commit(self, doc: dict[str, Any]) -> None:
        if doc != self.base:
            self.docs.append(doc)
            self.parent.append(self.head)
            self.head = len(self.docs) - 1

    @property
    def newest_child(self) -> int | None:
        return max((i for i, p in enumerate(self.parent) if p == self.head), default=None)


class Histories(RuleBasedStateMachine):
    """Each rule does the same to the stored build and to the model."""

    @initialize()
    def begin(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.house = House.open(Path(self.folder.name))
        self.build = garage.create(self.house, "Sorrel 84")
        self.model = Model(workshop.bench(self.house, self.build).doc)

    def teardown(self) -> None:
        if hasattr(self, "folder"):
            self.folder.cleanup()

    @rule(change=good_changes)
    def change(self, change: tuple[str, Any]) -> None:
        path, value = change
        workshop.change(self.house, self.build, [{"path": path, "value": value}])
        if self.model.trial is None:
            self.model.commit(set_path(copy.deepcopy(self.model.base), path, value))
        else:
            self.model.trial.append((path, value))

    @rule(first=good_changes, bad=bad_changes)
    def change_half_of_it_badly(self, first: tuple[str, Any], bad: tuple[str, Any]) -> None:
        """A good and a bad change in one: neither is kept."""
        changes = [{"path": p, "value": v} for p, v in (first, bad)]
        with pytest.raises(FieldError):
            workshop.change(self.house, self.build, changes)

    @rule(old=st.integers(10_000, 20_000))
    def change_from_an_old_page(self, old: int) -> None:
        with pytest.raises(ConflictError):
            workshop.change(
                self.house, self.build, [{"path": "note", "value": "late"}], version=str(old)
            )

    @rule()
    def open_a_trial(self) -> None:
        workshop.open_trial(self.house, self.build)
        if self.model.trial is None:
            self.model.trial = []

    @rule()
    def keep_the_trial(self) -> None:
        if self.model.trial is None:
            with pytest.raises(ConflictError):
                workshop.keep_trial(self.house, self.build)
            return
        workshop.keep_trial(self.house, self.build)
        shown, self.model.trial = self.model.shown, None
        self.model.commit(shown)

    @rule()
    def drop_the_trial(self) -> None:
        workshop.drop_trial(self.house, self.build)
        self.model.trial = None

    @rule(redo=st.booleans())
    def step_back_or_forward(self, redo: bool) -> None:
        m = self.model
        target = m.newest_child if redo else m.parent[m.head]
        if target is None or m.trial is not None:
            with pytest.raises(ConflictError):
                workshop.undo(self.house, self.build, redo)
            return
        workshop.undo(self.house, self.build, redo)
        m.head = target

    @precondition(lambda self: self.model.trial is None)
    @rule()
    def go_on_with_a_copy(self) -> None:
        """A copy holds what the original holds, and has no history of its own."""
        self.build = garage.duplicate(self.house, self.build)
        doc = workshop.bench(self.house, self.build).doc
        assert {**doc, "name": ""} == {**self.model.base, "name": ""}
        self.model = Model(doc)

    @precondition(lambda self: self.model.trial is None)
    @rule()
    def send_it_to_another_garage(self) -> None:
        """Out into a file and in again: the same build with every state that it had."""
        name, data = garage.export(self.house, self.build, with_logs=True)
        self.build = garage.import_build(self.house, data, name)

    @precondition(lambda self: self.model.trial is None)
    @rule()
    def send_the_plan_alone(self) -> None:
        """As one document: it begins anew."""
        name, data = garage.export(self.house, self.build, with_logs=False)
        self.build = garage.import_build(self.house, data, name)
        doc = workshop.bench(self.house, self.build).doc
        assert doc == self.model.base
        self.model = Model(doc)

    @rule()
    def restart(self) -> None:
        self.house = House.open(Path(self.folder.name))

    @invariant()
    def what_is_shown_is_what_the_model_holds(self) -> None:
        if not hasattr(self, "model"):
            return
        m, bench = self.model, workshop.bench(self.house, self.build)
        assert bench.doc == m.shown
        assert (bench.trial is None) == (m.trial is None)
        if m.trial is None:
            assert bench.can_undo == (m.parent[m.head] is not None)
            assert bench.can_redo == (m.newest_child is not None)
        assert len(garage.cards(self.house)) >= 1


Histories.TestCase.settings = settings(
    max_examples=12, stateful_step_count=20, derandomize=True, deadline=None
)
TestAnyHistory = Histories.TestCase
