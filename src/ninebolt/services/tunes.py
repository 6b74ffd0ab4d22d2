"""A build's parameter set as files."""

from __future__ import annotations

from dataclasses import replace

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import assembled, bare_performance
from ninebolt.core.bolts.assess import assess
from ninebolt.core.bolts.tune.profiles import build_for, in_force
from ninebolt.core.bolts.tune.rows import ParamRow, rows_of
from ninebolt.core.build import Build
from ninebolt.core.finding import listed
from ninebolt.core.setting.ours import BY_NAME, physical, raw
from ninebolt.core.setting.sets import OUR_PROFILE, ParamSet, Profile
from ninebolt.errors import ConflictError, InputError, NotFoundError
from ninebolt.formats.dcf import Setting, set_of
from ninebolt.services.registers import PARAMETERS
from ninebolt.units import QUANTITIES


def standing(build: Build) -> tuple[str, ...]:
    """Titles of the stops that stand in a build."""
    return tuple(f"{f.bolt}: {f.title}" for f in assess(build).stops)


def settings_of(build: Build, profile: str = "") -> list[ParamRow]:
    """The rows of a build's set, or of one of its profiles. Raises InputError while it cannot be derived, or a
    value is outside what the controller takes; NotFoundError for another profile."""
    bike = Bike(build_for(build, profile))
    rows, made = rows_of(bike), assembled(bike)
    if bare_performance(bike) is None:
        raise InputError(
            "The parameter set cannot be derived yet.",
            where="tune",
            got="missing " + ", ".join(made.missing),
            todo="Fill these in first; a half set written to a controller is worse than none.",
        )
    for row in rows:
        spec = BY_NAME[row.name]
        if not row.lo <= physical(spec, raw(spec, row.value)) <= row.hi:
            raise InputError(
                f"{row.label} is outside what the controller takes.",
                where="tune",
                got=f"{row.value:g}",
                expected=f"{row.lo:g} to {row.hi:g}",
            )
    return list(rows)


def recommended_set(
    build: Build, profile: str = "", anyway: bool = False, kind: Profile = OUR_PROFILE
) -> ParamSet:
    """A build's set, or one of its profiles', with whom it belongs to. anyway: although a stop stands, which the set
    then says. Raises as settings_of, and ConflictError where a stop stands and nobody said that it is known."""
    rows = settings_of(build, profile)
    stops = standing(in_force(build_for(build, profile)) if profile else build)
    if stops and not anyway:
        raise ConflictError(
            "A stop stands in this build: its parameters are not fit to be written.",
            got=listed(stops, 3, "; "),
            todo="Clear it first. To take the set away all the same, say so; the file will say it too.",
        )
    made = set_of([Setting(r.name, r.value) for r in rows], build.name, kind)
    return replace(made, stops=stops, belongs=belongs(build, profile))


def belongs(build: Build, profile: str) -> dict[str, str]:
    """Whom a set is for, in words."""
    pack = build_for(build, profile).pack
    cells = f"{pack.series or '?'}S{pack.parallel or '?'}P {pack.cell.name}".strip()
    out = {"build": build.name, "pack": cells, "profile": profile}
    return {k: v for k, v in out.items() if v}


def parameter_file(
    build: Build,
    kind: str,
    anyway: bool = False,
    profile: str = "",
    controller: Profile = OUR_PROFILE,
) -> tuple[str, bytes]:
    """(media type, bytes) of the set as dcf, csv, json or pdf, of what the controller has a place for. Raises as
    recommended_set, and NotFoundError for another kind."""
    rows = [r for r in settings_of(build, profile) if r.name in controller.places]
    if kind not in PARAMETERS:
        raise NotFoundError(
            f"There is no parameter file of kind '{kind}'.", expected=", ".join(PARAMETERS)
        )
    made = recommended_set(build, profile, anyway, controller)
    form, write = PARAMETERS[kind]
    table = [(r.label, r.value, QUANTITIES[r.quantity].units[0].symbol, r.constraint) for r in rows]
    return form.media, write(made, table, controller)
