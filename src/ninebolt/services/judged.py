"""A set that is not the build's own – a file's, a reading's, the controller's – judged as if it were in force."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ninebolt.core.bolts.assess import assess
from ninebolt.core.bolts.tune.pairs import HALLS
from ninebolt.core.bolts.tune.profiles import build_for
from ninebolt.core.bolts.tune.worn import TASTE, judged_names, worn
from ninebolt.core.build import Build
from ninebolt.core.finding import WEIGHT, Finding, listed
from ninebolt.core.setting.ours import BY_NAME
from ninebolt.core.setting.sets import ParamSet, Profile
from ninebolt.errors import ConflictError


@dataclass(frozen=True, slots=True)
class Remark:
    """What a set would bring into the build. name: the parameter it is about, '' where it is several."""

    name: str
    severity: str
    title: str
    reason: str


@dataclass(frozen=True, slots=True)
class SetVerdict:
    """remarks: findings that the build has only with this set, the gravest first; open: labels of what nothing in the
    build says whether it is right."""

    remarks: tuple[Remark, ...]
    open: tuple[str, ...]

    @property
    def stops(self) -> tuple[str, ...]:
        """What must be known before such a set is written."""
        return tuple(r.title for r in self.remarks if r.severity == "stop")


def meant(kind: Profile, given: ParamSet) -> dict[str, float]:
    """Physical values by parameter, of the stored numbers that have a meaning."""
    return {
        spec.name: float(kind.shown(spec.name, stored))
        for at, stored in given.values.items()
        if (spec := kind.meaning(at)) is not None and not isinstance(stored, str | bytes)
    }


def of_profile(build: Build, given: ParamSet) -> Build:
    """The build as the profile sees it that a set says it belongs to; the build itself where there is none such."""
    name = given.belongs.get("profile", "")
    return build_for(build, name) if any(p.name == name for p in build.tune.profiles) else build


def judged(build: Build, values: Mapping[str, float]) -> SetVerdict:
    """values: physical, by parameter."""
    before = {f.key for f in _all(build)}
    new = [f for f in _all(worn(build, values)) if f.key not in before]
    new.sort(key=lambda f: WEIGHT[f.severity])
    known = judged_names(build)
    unsaid = [n for n in values if n not in known and n not in TASTE]
    halls = sum(n in HALLS for n in unsaid)
    labels = [BY_NAME[n].label for n in unsaid if n not in HALLS]
    return SetVerdict(
        tuple(Remark(_about(f), f.severity, f.title, f.reason) for f in new),
        tuple([*labels, *([f"{halls} hall edge{'s' if halls > 1 else ''}"] if halls else [])]),
    )


def _all(build: Build) -> list[Finding]:
    return [f for b in assess(build).bolts for f in b.findings if f.severity != "note"]


def _about(f: Finding) -> str:
    name = f.key.removeprefix("tune.param.")
    return name if name in BY_NAME else ""


def must_be_known(build: Build, kind: Profile, given: ParamSet) -> None:
    """Raises ConflictError where a set would bring a stop into the build that it is written for."""
    found = judged(of_profile(build, given), meant(kind, given)).stops
    if found:
        raise ConflictError(
            "This set is not fit for this build.",
            got=listed(found, 3, "; "),
            todo="Mend it, or take the build's own set. To write it all the same, say so.",
        )
