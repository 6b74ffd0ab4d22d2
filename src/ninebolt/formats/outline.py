"""Outline of a bay from a drawing: DXF polylines and lines, or an SVG's shapes.

The largest closed shape is the outline; it is given in metres about the middle of its extent, with
y up. Curves are drawn as short chords.
"""

from __future__ import annotations

import io
import math
from dataclasses import dataclass
from xml.etree.ElementTree import Element

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
MAX_ENTITIES = 20_000
MAX_USES = 8
MAX_PATH = 400_000
FAR_MM = 20_000.0
DRAWN = ("LWPOLYLINE", "POLYLINE", "LINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE")
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
    drawn = [e for e in doc.modelspace() if e.dxftype() in DRAWN]
    if len(drawn) > MAX_ENTITIES:
        raise FormatError(
            "There is too much in this drawing.",
            where=name,
            got=f"{len(drawn)} lines and curves",
            expected=f"at most {MAX_ENTITIES}",
            todo="Export the outline of the bay alone.",
        )
    for entity in drawn:
        way = dxf_path.make_path(entity)
        if _size_mm(way, scale) > FAR_MM:
            issues.append(
                f"a {entity.dxftype().lower()} larger than {FAR_MM / 1000:.0f} m was left out"
            )
            continue
        points = [(v.x * scale, v.y * scale) for v in way.flattening(CHORD_MM / scale)]
        (shapes if way.is_closed else loose).append(points)
    return shapes + _chained(loose), issues


def _size_mm(way: dxf_path.Path, scale: float) -> float:
    """How far its control points reach (mm); inf where one is no number."""
    reach = [abs(c) * scale for v in way.control_vertices() for c in (v.x, v.y)]
    return max(reach, default=0.0) if all(map(math.isfinite, reach)) else math.inf


def _chained(pieces: list[Points]) -> list[Points]:
    """Open pieces whose ends meet, joined into closed shapes."""
    rest = {i: list(p) for i, p in enumerate(pieces) if len(p) > 1}
    ends: dict[tuple[int, int], list[int]] = {}
    for i, piece in rest.items():
        for end in (piece[0], piece[-1]):
            ends.setdefault(_cell(end), []).append(i)
    out = []
    while rest:
        _, chain = rest.popitem()
        while math.dist(chain[0], chain[-1]) > JOIN_MM:
            more = _next(chain[-1], rest, ends)
            if more is None:
                break
            chain += more[1:]
        if math.dist(chain[0], chain[-1]) <= JOIN_MM:
            out.append(chain)
    return out


def _cell(point: tuple[float, float]) -> tuple[int, int]:
    return round(point[0] / JOIN_MM), round(point[1] / JOIN_MM)


def _next(
    at: tuple[float, float], rest: dict[int, Points], ends: dict[tuple[int, int], list[int]]
) -> Points | None:
    """A piece that goes on from here, turned so that it begins here; taken out of the rest."""
    x, y = _cell(at)
    for place in ((x + i, y + j) for i in (0, -1, 1) for j in (0, -1, 1)):
        for k in ends.get(place, ()):
            piece = rest.get(k)
            if piece is not None and math.dist(at, piece[0]) < JOIN_MM:
                return rest.pop(k)
            if piece is not None and math.dist(at, piece[-1]) < JOIN_MM:
                return rest.pop(k)[::-1]
    return None


# SVG


def _svg(data: bytes, name: str) -> tuple[list[Points], list[str]]:
    """Shapes with their transforms, in millimetres: CSS inches of 96 user units."""
    try:
        tree = ElementTree.fromstring(data)  # refuses entities before the other parser sees them
        _bounded(tree, name)
        drawing = svgelements.SVG.parse(io.BytesIO(data), reify=True, ppi=PPI)
    except FormatError:
        raise
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


def _bounded(tree: Element, name: str) -> None:
    """What a drawing comes to once its references are followed. Raises FormatError."""
    found = list(tree.iter())
    deep = sum(1 for e in found if str(e.tag).endswith("}use") or e.tag == "use")
    if len(found) > MAX_ENTITIES or deep > MAX_USES:
        raise FormatError(
            "There is too much in this drawing.",
            where=name,
            got=f"{len(found)} elements, {deep} of them references",
            expected=f"at most {MAX_ENTITIES}, with at most {MAX_USES} references",
            todo="Draw the outline of the bay as one path.",
        )
    if any("d" in e.attrib and len(e.attrib["d"]) > MAX_PATH for e in found):
        raise FormatError(
            "A path is too long.", where=name, expected=f"at most {MAX_PATH} characters"
        )


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
