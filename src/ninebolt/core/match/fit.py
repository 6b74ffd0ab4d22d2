"""How many round cells, or boxes, go into a box-shaped bay, and where. Metres throughout."""

from __future__ import annotations

import math
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Slot:
    """Middle of one body in the face that is drawn: u across, v up. Every layer is alike."""

    u_m: float
    v_m: float


@dataclass(frozen=True, slots=True)
class Fit:
    """One way to fill a bay. axis: the bay's direction along which the bodies' long side lies.

    slots: the places of one layer.
    """

    pattern: str
    axis: str
    capacity: int
    per_layer: int
    layers: int
    face: str
    slots: tuple[Slot, ...]


def _square(a: float, b: float, pitch: float, size: float) -> list[tuple[float, float]]:
    cols = int((a - size) / pitch + 1e-9) + 1 if a >= size else 0
    rows = int((b - size) / pitch + 1e-9) + 1 if b >= size else 0
    return [(size / 2 + i * pitch, size / 2 + j * pitch) for j in range(rows) for i in range(cols)]


def _staggered(a: float, b: float, pitch: float, size: float) -> list[tuple[float, float]]:
    """Rows shifted by half a pitch, rows pitch·√3/2 apart."""
    if a < size or b < size:
        return []
    step = pitch * math.sqrt(3.0) / 2.0
    rows = int((b - size) / step + 1e-9) + 1
    out = []
    for j in range(rows):
        shift = pitch / 2 if j % 2 else 0.0
        cols = int((a - size - shift) / pitch + 1e-9) + 1 if a - shift >= size else 0
        out += [(size / 2 + shift + i * pitch, size / 2 + j * step) for i in range(cols)]
    return out


_FACES = {
    "length": ("width", "height"),
    "height": ("length", "width"),
    "width": ("length", "height"),
}


def fit_round(
    bay: dict[str, float], diameter_m: float, length_m: float, pitch_m: float
) -> list[Fit]:
    """All patterns of round cells in a box with inside sizes bay['length'|'height'|'width'];
    the fullest first."""
    out = []
    for axis, (u, v) in _FACES.items():
        layers = int(bay[axis] / length_m + 1e-9)
        for pattern, place in (("square", _square), ("staggered", _staggered)):
            face = place(bay[u], bay[v], pitch_m, diameter_m)
            out.append(_fit(pattern, axis, face, layers))
        turned = _staggered(bay[v], bay[u], pitch_m, diameter_m)
        out.append(_fit("staggered", axis, [(y, x) for x, y in turned], layers))
    return sorted(out, key=lambda f: -f.capacity)


def _fit(pattern: str, axis: str, face: list[tuple[float, float]], layers: int) -> Fit:
    u, v = _FACES[axis]
    slots = tuple(Slot(x, y) for x, y in face)
    return Fit(pattern, axis, len(face) * layers, len(face), layers, f"{u}-{v}", slots)


def fit_boxes(bay: dict[str, float], size: tuple[float, float, float]) -> list[Fit]:
    """Boxes in all six orientations on a grid; the fullest first."""
    out = []
    a, b, c = size
    for du, dv, dw in ((a, b, c), (a, c, b), (b, a, c), (b, c, a), (c, a, b), (c, b, a)):
        cols = int(bay["length"] / du + 1e-9)
        rows = int(bay["height"] / dv + 1e-9)
        layers = int(bay["width"] / dw + 1e-9)
        face = [((i + 0.5) * du, (j + 0.5) * dv) for j in range(rows) for i in range(cols)]
        out.append(
            Fit(
                f"{du * 1000:.0f}x{dv * 1000:.0f}x{dw * 1000:.0f}",
                "width",
                len(face) * layers,
                len(face),
                layers,
                "length-height",
                tuple(Slot(x, y) for x, y in face),
            )
        )
    return sorted(out, key=lambda f: -f.capacity)
