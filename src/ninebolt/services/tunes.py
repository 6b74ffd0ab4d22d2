"""A build's parameter set as files."""

from __future__ import annotations

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import assembled, bare_performance
from ninebolt.core.bolts.assess import assess
from ninebolt.core.bolts.tune.rows import rows_of
from ninebolt.core.build import Build
from ninebolt.core.drive.parameters import BY_NAME, raw
from ninebolt.errors import ConflictError, InputError, NotFoundError
from ninebolt.formats.dcf import Setting
from ninebolt.services.registers import PARAMETERS
from ninebolt.units import QUANTITIES


def standing(build: Build) -> tuple[str, ...]:
    """Titles of the stops that stand in a build."""
    return tuple(f"{f.bolt}: {f.title}" for f in assess(build).stops)


def parameter_file(build: Build, kind: str, anyway: bool = False) -> tuple[str, bytes]:
    """(media type, bytes) of the set as dcf, csv or json. anyway: although a stop stands, which the file then
    says. Raises InputError when nothing is known yet, NotFoundError for another kind, ConflictError where a stop
    stands and nobody said that it is known."""
    bike = Bike(build)
    rows, made = rows_of(bike), assembled(bike)
    if bare_performance(bike) is None:
        raise InputError(
            "The parameter set cannot be derived yet.",
            where="tune",
            got="missing " + ", ".join(made.missing),
            todo="Fill these in first; a half set written to a controller is worse than none.",
        )
    for row in rows:
        if not row.lo <= raw(BY_NAME[row.name], row.value) * BY_NAME[row.name].scale <= row.hi:
            raise InputError(
                f"{row.label} is outside what the controller takes.",
                where="tune",
                got=f"{row.value:g}",
                expected=f"{row.lo:g} to {row.hi:g}",
            )
    if kind not in PARAMETERS:
        raise NotFoundError(
            f"There is no parameter file of kind '{kind}'.", expected=", ".join(PARAMETERS)
        )
    stops = standing(build)
    if stops and not anyway:
        raise ConflictError(
            "A stop stands in this build: its parameters are not fit to be written.",
            got="; ".join(stops[:3]),
            todo="Clear it first. To take the set away all the same, say so; the file will say it too.",
        )
    form, write = PARAMETERS[kind]
    settings = [Setting(r.name, r.value) for r in rows]
    table = [(r.label, r.value, QUANTITIES[r.quantity].units[0].symbol, r.constraint) for r in rows]
    return form.media, write(settings, table, build.name, stops)
