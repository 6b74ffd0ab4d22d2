"""Outline of a bay from a drawing: DXF polylines and lines, or an SVG's shapes.

The largest closed shape is the outline; it is given in metres about the middle of its extent, with
y up. Curves are drawn as short chords.
"""

from __future__ import annotations

import io
import math
from dataclasses import dataclass

import ezdxf
import svgelements
from defusedxml import ElementTree
from ezdxf import path as dxf_path
from ezdxf.lldxf.const import DXFError

from ninebolt.core.match.space import area_m2, crosses_itself
from ninebolt.errors import FormatError, TooLargeError

Points = list[tuple[float, float]]
MAX_BYTES = 8_000_000
MAX_CORNERS = 200
CHORD_MM = 0.5
JOIN_MM = 0.2
# $INSUNITS: DXF reference, header variable: code -> millimetres a unit. From memory.
INSUNITS_MM = {1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0}
INCH_MM = 25.4
PPI = 96.0
CHORDS = 24


@dataclass(frozen=True, slots=True)
class OutlineFile:
    """corners: metres about the middle. length_m, height_m: its extent. issues: what was left
    out."""

    corners: tuple[tuple[float, float], ...]
    length_m: float
    height_m: float
    issues: tuple[str, ...]


def read_outline(data: bytes, name: str) -> OutlineFile:
    """The outline in a DXF or SVG file. Raises FormatError, TooLargeError."""
    if len(data) > MAX_BYTES:
        raise TooLargeError(
            "The drawing is too large.",
            where=name,
            got=f"{len(data) / 1e6:.0f} MB",
            expected=f"at most {MAX_BYTES / 1e6:.0f} MB",
        )
    head = data[:2000].lstrip().lower()
    svg = name.lower().endswith(".svg") or b"<svg" in head
    shapes, issues = _svg(data, name) if svg else _dxf(data, name)
    closed = [s for s in (_tidy(s) for s in shapes) if len(s) >= 3]
    if not closed:
        raise FormatError(
            "There is no closed shape in this drawing.",
            where=name,
            expected="a closed polyline, rectangle, circle or path round the bay",
            todo="Close the outline in the drawing program and export it again.",
        )
    best = max(closed, key=lambda s: area_m2(tuple(s)))
    if len(closed) > 1:
        issues.append(f"{len(closed)} closed shapes; the largest was taken")
    return _centred(best, name, issues)


def _centred(mm: Points, name: str, issues: list[str]) -> OutlineFile:
    xs, ys = [p[0] for p in mm], [p[1] for p in mm]
    length, height = max(xs) - min(xs), max(ys) - min(ys)
    if not min(length, height) >= 5.0 or max(length, height) > 3000.0:
        raise FormatError(
            "The outline has an unlikely size for a bay.",
            where=name,
            got=f"{length:.1f} x {height:.1f} mm",
            expected="5 mm to 3 m",
            todo="Check the unit that the drawing was exported in.",
        )
    if len(mm) > MAX_CORNERS:
        keep = math.ceil(len(mm) / MAX_CORNERS)
        issues.append(f"{len(mm)} corners; every {keep}th was kept")
        mm = mm[::keep]
    mx, my = (max(xs) + min(xs)) / 2, (max(ys) + min(ys)) / 2
    corners = tuple((round((x - mx) / 1000, 5), round((y - my) / 1000, 5)) for x, y in mm)
    if crosses_itself(corners):
        raise FormatError(
            "The outline crosses itself.",
            where=name,
            got=f"{len(corners)} corners",
            expected="one closed line round the bay",
        )
    return OutlineFile(corners, length / 1000, height / 1000, tuple(issues))


def _tidy(points: Points) -> Points:
    """Without repeated corners and without corners on a straight line."""
    out: Points = []
    for p in points:
        if not out or math.dist(p, out[-1]) > 1e-3:
            out.append(p)
    if len(out) > 1 and math.dist(out[0], out[-1]) < 1e-3:
        out.pop()
    n = len(out)
    return [p for i, p in enumerate(out) if n < 4 or not _straight(out[i - 1], p, out[(i + 1) % n])]


def _straight(a: tuple[float, float], b: tuple[float, float], c: tuple[float, float]) -> bool:
    cross = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
    forth = (b[0] - a[0]) * (c[0] - b[0]) + (b[1] - a[1]) * (c[1] - b[1])
    return abs(cross) < 1e-6 and forth >= 0


# DXF


def _dxf(data: bytes, name: str) -> tuple[list[Points], list[str]]:
    try:
        doc = ezdxf.read(io.StringIO(data.decode("utf-8", "replace")))
    except (DXFError, ValueError, KeyError, IndexError, AttributeError, TypeError) as error:
        raise FormatError(
            "This is not a DXF drawing that can be read.",
            where=name,
            got=str(error)[:80],
            expected="DXF text (R12 or newer) or SVG",
        ) from error
    unit = INSUNITS_MM.get(int(doc.header.get("$INSUNITS", 0)))
    issues = [] if unit else ["the drawing names no unit; millimetres were taken"]
    scale = unit or 1.0
    shapes: list[Points] = []
    loose: list[Points] = []
    for entity in doc.modelspace():
        kind = entity.dxftype()
        if kind not in ("LWPOLYLINE", "POLYLINE", "LINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE"):
            continue
        way = dxf_path.make_path(entity)
        points = [(v.x * scale, v.y * scale) for v in way.flattening(CHORD_MM / scale)]
        (shapes if way.is_closed else loose).append(points)
    return shapes + _chained(loose), issues


def _chained(pieces: list[Points]) -> list[Points]:
    """Open pieces whose ends meet, joined into closed shapes."""
    rest, out = [list(p) for p in pieces if len(p) > 1], []
    while rest:
        chain = rest.pop()
        grown = True
        while grown and math.dist(chain[0], chain[-1]) > JOIN_MM:
            grown = False
            for i, piece in enumerate(rest):
                if math.dist(chain[-1], piece[0]) < JOIN_MM:
                    chain += rest.pop(i)[1:]
                elif math.dist(chain[-1], piece[-1]) < JOIN_MM:
                    chain += rest.pop(i)[-2::-1]
                else:
                    continue
                grown = True
                break
        if math.dist(chain[0], chain[-1]) <= JOIN_MM:
            out.append(chain)
    return out


# SVG


def _svg(data: bytes, name: str) -> tuple[list[Points], list[str]]:
    """Shapes with their transforms, in millimetres: CSS inches of 96 user units."""
    try:
        ElementTree.fromstring(data)  # refuses entities before the other parser sees them
        drawing = svgelements.SVG.parse(io.BytesIO(data), reify=True, ppi=PPI)
    except Exception as error:
        raise FormatError(
            "This is not an SVG drawing that can be read.", where=name, got=str(error)[:80]
        ) from error
    shapes: list[Points] = []
    for element in drawing.elements():
        if isinstance(element, svgelements.Shape):
            for part in svgelements.Path(element).as_subpaths():
                shapes += _chords(svgelements.Path(part))
    sized = drawing.width is not None and b"width" in data[:4000]
    return shapes, [] if sized else ["the drawing gives no width; 96 units an inch were taken"]


def _chords(way: svgelements.Path) -> list[Points]:
    """A sub-path as chords, y up; empty if it is not closed."""
    out: Points = []
    ends = (svgelements.Arc, svgelements.CubicBezier, svgelements.QuadraticBezier)
    for piece in way:
        if isinstance(piece, ends):
            out += [_mm(piece.point(k / CHORDS)) for k in range(1, CHORDS + 1)]
        elif piece.end is not None:
            out.append(_mm(piece.end))
    closed = len(out) > 2 and math.dist(out[0], out[-1]) < JOIN_MM
    return [out] if closed else []


def _mm(point: svgelements.Point) -> tuple[float, float]:
    return float(point.x) * INCH_MM / PPI, -float(point.y) * INCH_MM / PPI
