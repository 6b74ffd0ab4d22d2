"""What the API takes. What it gives are the services' and the core's own dataclasses."""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

from fastapi import Query
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from ninebolt.errors import InputError
from ninebolt.formats.table import Column

# A number in a query: one that is none is no number.
Finite = Annotated[float, Query(ge=-1e9, le=1e9, allow_inf_nan=False)]
Above = Annotated[float, Query(gt=0, le=1e9, allow_inf_nan=False)]


class Body(BaseModel):
    """Strict by default: a misspelt key is an error, not silence."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class ChangeIn(Body):
    """Replace what stands at path in the build's document."""

    path: Annotated[str, Field(min_length=1, max_length=200)]
    value: Any


class ChangesIn(Body):
    """version: what the page looks at; left out, the newest is taken."""

    changes: Annotated[list[ChangeIn], Field(min_length=1, max_length=200)]
    reason: Annotated[str, Field(max_length=200)] = ""
    version: Annotated[str, Field(max_length=80)] | None = None

    def plain(self) -> list[dict[str, Any]]:
        return [c.model_dump() for c in self.changes]


class OptionsIn(Body):
    """Several sets of changes to look at side by side."""

    options: Annotated[list[list[ChangeIn]], Field(max_length=24)]

    def plain(self) -> list[list[dict[str, Any]]]:
        return [[c.model_dump() for c in option] for option in self.options]


class NameIn(Body):
    """A new build's name."""

    name: str


class BuildEdit(Body):
    """Rename or archive; what is left out stays."""

    name: str | None = None
    archived: bool | None = None


class SignIn(Body):
    """A note on the witness mark."""

    note: Annotated[str, Field(max_length=500)] = ""


class PreferenceIn(Body):
    """One remembered choice."""

    key: Literal["speed", "mass", "length", "temperature", "theme"]
    value: Annotated[str, Field(max_length=20)]


class VisitIn(Body):
    """The bolt that the person is working on."""

    bolt: Annotated[str, Field(max_length=20)]


class VersionOut(BaseModel):
    """Changes whenever a build does, its what-if included."""

    version: str


class IdOut(BaseModel):
    """Id of what was made."""

    id: str


class FieldOut(BaseModel):
    """One field of a part, as forms need it. part: the class inside, for parts and lists.
    typed: the origin of a number that is typed without one. tells: known, it says that the part is there."""

    name: str
    label: str
    kind: str
    quantity: str
    lo: float | None
    hi: float | None
    above: float | None
    assume: float | None
    assume_by: dict[str, float]
    options: list[str]
    part: str
    help: str
    detail: bool
    own: bool
    wish: bool
    typed: Literal["label", "measured"]
    tells: bool


class CountOut(BaseModel):
    """How many there were."""

    count: int


class ProblemOut(BaseModel):
    """Every error looks like this."""

    code: str
    what: str
    where: str
    got: str
    expected: str
    todo: str
    message: str


class ColumnIn(BaseModel):
    """Which column of the file feeds one of ours."""

    name: str
    column: str
    unit: str


def mapping_of(text: str) -> tuple[Column, ...] | None:
    """A mapping as a form sends it; None = guess. Raises InputError."""
    if not text:
        return None
    try:
        rows = TypeAdapter(list[ColumnIn]).validate_json(text)
    except (ValidationError, json.JSONDecodeError) as error:
        raise InputError(
            "The column mapping cannot be read.",
            where="mapping",
            expected="a list of {name, column, unit}",
        ) from error
    return tuple(Column(r.name, r.column, r.unit) for r in rows) or None


def places_of(text: str) -> dict[str, list[float]]:
    """Where meanings live in another controller, from JSON. Raises InputError."""
    if not text:
        return {}
    try:
        return TypeAdapter(dict[str, list[float]]).validate_json(text)
    except ValidationError as error:
        raise InputError(
            "The meanings are not as expected.", where="places", got=error.errors()[0]["msg"],
            expected='{"line_a": [8452, 0, 0.1, 0]}',
        ) from error  # fmt: skip


# What every route may answer beside its own.
PROBLEMS: dict[int | str, dict[str, Any]] = {422: {"model": ProblemOut}, 404: {"model": ProblemOut}}
