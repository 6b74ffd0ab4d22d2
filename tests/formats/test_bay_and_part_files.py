"""Outlines, parts, charge logs, labels: written and read by other programs where there are any."""

from __future__ import annotations

import io
import math

import ezdxf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pypdf import PdfReader
from shapely.geometry import Polygon

from ninebolt.bench.tester import charge_csv, salvaged_cells
from ninebolt.core.codec import encode
from ninebolt.core.logs.charging import watch
from ninebolt.core.match.sort import sort_cells
from ninebolt.core.parts.kinds import KINDS
from ninebolt.errors import FieldError, FormatError, NineBoltError
from ninebolt.formats.charge_csv import read_charge
from ninebolt.formats.labels import write_labels
from ninebolt.formats.outline import read_outline
from ninebolt.formats.parts_file import (
    PartRow,
    read_parts,
    write_parts_csv,
    write_parts_json,
)
from ninebolt.library.catalogue import items
from ninebolt.library.demo import moss
from ninebolt.services.packs import template_file

SHAPE = [(0, 0), (320, 0), (320, 140), (200, 230), (0, 230)]
AREA = Polygon(SHAPE).area / 1e6


def dxf(units: int, scale: float, how: str) -> bytes:
    doc = ezdxf.new("R2010", units=units)
    space = doc.modelspace()
    points = [(x * scale, y * scale) for x, y in SHAPE]
    if how == "polyline":
        space.add_lwpolyline(points, close=True)
    else:  # loose lines, in no order and some the other way round
        pairs = list(zip(points, [*points[1:], points[0]], strict=True))
        for i in (3, 0, 4, 1, 2):
            a, b = pairs[i]
            space.add_line(*((b, a) if i % 2 else (a, b)))
    space.add_text("not part of the shape", height=5)
    space.add_circle((50 * scale, 50 * scale), 10 * scale)
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode()


def area(corners: tuple[tuple[float, float], ...]) -> float:
    return float(Polygon(corners).area)


# Outlines


@pytest.mark.parametrize("how", ["polyline", "lines"])
@pytest.mark.parametrize(("units", "scale"), [(4, 1.0), (5, 0.1), (6, 0.001), (1, 1 / 25.4)])
def test_dxf_outline_in_any_unit(units: int, scale: float, how: str) -> None:
    """Written by ezdxf in mm, cm, m and inches: the same bay, about its middle, y up."""
    got = read_outline(dxf(units, scale, how), "bay.dxf")
    assert (got.length_m, got.height_m) == pytest.approx((0.320, 0.230), abs=1e-5)
    assert area(got.corners) == pytest.approx(AREA, rel=1e-3) and len(got.corners) == 5
    xs = [p[0] for p in got.corners]
    assert max(xs) == pytest.approx(-min(xs))
    top_right = max(got.corners, key=lambda p: p[0] + p[1])
    assert top_right[1] < got.height_m / 2  # the cut corner is up and to the front


def test_dxf_without_a_unit_says_so() -> None:
    got = read_outline(dxf(0, 1.0, "polyline"), "bay.dxf")
    assert got.length_m == pytest.approx(0.32) and any("unit" in i for i in got.issues)


POINTS = " ".join(f"{x},{230 - y}" for x, y in SHAPE)
POLYGON = f'<polygon points="{POINTS}"/>'
XMLNS = "http://www.w3.org/2000/svg"


def svg(width: str, height: str, box: str, body: str) -> bytes:
    return (
        f'<svg xmlns="{XMLNS}" width="{width}" height="{height}" viewBox="{box}">{body}</svg>'
    ).encode()


def turned(angle: int, body: str) -> str:
    return f'<g transform="rotate({angle} 200 200)">{body}</g>'


SVGS = {
    "viewBox in mm": svg("320mm", "230mm", "0 0 320 230", POLYGON),
    "scaled group": svg("320mm", "230mm", "0 0 640 460", f'<g transform="scale(2)">{POLYGON}</g>'),
    "rotated and back": svg("400mm", "400mm", "0 0 400 400", turned(90, turned(-90, POLYGON))),
    "relative path": svg(
        "320mm", "230mm", "0 0 320 230", '<path d="m0 0 h200 l120 90 v140 h-320 z"/>'
    ),
    "pixels": svg(f"{320 / 25.4 * 96}", f"{230 / 25.4 * 96}", "0 0 320 230", POLYGON),
}


@pytest.mark.parametrize("name", SVGS)
def test_svg_outline(name: str) -> None:
    got = read_outline(SVGS[name], "bay.svg")
    assert (got.length_m, got.height_m) == pytest.approx((0.320, 0.230), abs=1e-5)
    assert area(got.corners) == pytest.approx(AREA, rel=1e-3)


def test_svg_curves_become_chords() -> None:
    """A circle of 200 mm across: its area within 1 %, its extent exact."""
    circle = svg("200mm", "200mm", "0 0 200 200", '<circle cx="100" cy="100" r="100"/>')
    got = read_outline(circle, "round.svg")
    assert area(got.corners) == pytest.approx(math.pi * 0.01, rel=0.01)
    assert got.length_m == pytest.approx(0.2, abs=1e-4)


@settings(max_examples=25)
@given(st.floats(20, 900), st.floats(20, 900))
def test_a_rectangle_keeps_its_size(w: float, h: float) -> None:
    rect = svg(f"{w}mm", f"{h}mm", f"0 0 {w} {h}", f'<rect width="{w}" height="{h}"/>')
    got = read_outline(rect, "x.svg")
    assert (got.length_m * 1000, got.height_m * 1000) == pytest.approx((w, h), abs=0.02)


def test_the_printed_template_reads_back_as_the_bay() -> None:
    """The SVG that the cardboard is cut from holds the outline that was entered."""
    got = read_outline(template_file(moss(), "svg")[1], "template.svg")
    bay = moss().donor.bays[0].outline
    assert area(got.corners) == pytest.approx(Polygon(bay).area, rel=1e-3)
    assert (got.length_m, got.height_m) == pytest.approx((0.33, 0.24), abs=1e-5)


SQUARE = "0 0 100 100"
ENTITY = f'<?xml version="1.0"?><!DOCTYPE s [<!ENTITY a "aa">]><svg xmlns="{XMLNS}">&a;</svg>'
BAD_DRAWINGS = {
    "empty": (b"", "bay.dxf"),
    "words": (b"this is no drawing", "bay.dxf"),
    "binary": (bytes(range(256)) * 8, "bay.dxf"),
    "broken svg": (b"<svg><rect", "bay.svg"),
    "entity": (ENTITY.encode(), "bay.svg"),
    "no shape": (svg("100mm", "100mm", SQUARE, ""), "x.svg"),
    "open line": (svg("100mm", "100mm", SQUARE, '<path d="M0 0L90 0L90 90"/>'), "x.svg"),
    "crossed": (
        svg("100mm", "100mm", SQUARE, '<polygon points="0,0 90,90 90,0 0,80"/>'),
        "x.svg",
    ),
    "a street": (
        svg("99999mm", "100mm", "0 0 99999 100", '<rect width="99999" height="100"/>'),
        "x.svg",
    ),
}


@pytest.mark.parametrize("name", BAD_DRAWINGS)
def test_bad_drawings_are_refused_by_name(name: str) -> None:
    data, file = BAD_DRAWINGS[name]
    with pytest.raises(FormatError) as caught:
        read_outline(data, file)
    assert file in caught.value.message()


# Parts


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_parts_round_trip(kind: str) -> None:
    """JSON loses nothing; CSV loses curves and lists only."""
    rows = [PartRow(x.id, kind, x.part) for x in items(kind)]
    assert read_parts(write_parts_json(kind, rows), "p.json") == rows
    back = read_parts(write_parts_csv(kind, rows), "p.csv")
    assert [r.id for r in back] == [r.id for r in rows]
    for a, b in zip(rows, back, strict=True):
        assert encode(a.part) == encode(b.part)


def test_csv_takes_units_commas_and_origins() -> None:
    text = (
        "name;capacity_ah;r0_ohm;r0_ohm origin;r0_ohm tolerance;mass_kg;inner_series\n"
        "Odd lot 26650;4,2 Ah;9,5 mΩ;measured;0,03;92 g;1\n"
    )
    (row,) = read_parts(text.encode(), "lot.csv", "cell")
    doc = encode(row.part)
    assert doc["capacity_ah"]["amount"] == pytest.approx(4.2)
    assert doc["r0_ohm"] == {"amount": 0.0095, "origin": "measured", "tolerance": 0.03}
    assert doc["mass_kg"]["amount"] == pytest.approx(0.092)


BAD_PARTS: dict[str, tuple[bytes, str, str]] = {
    "empty": (b"", "cell", "empty"),
    "no kind": (b"name,capacity_ah\nA,2\n", "", "no kind of part"),
    "no name": (b"name,capacity_ah\n,2\n", "cell", "needs a name"),
    "column": (b"name,colour\nA,red\n", "cell", "no column 'colour'"),
    "number": (b"name,capacity_ah\nA,lots\n", "cell", "line 2"),
    "unit": (b"name,capacity_ah\nA,3 kg\n", "cell", "not a unit"),
    "range": (b"name,capacity_ah\nA,-3\n", "cell", "above 0"),
    "json list": (b'{"kind": "cell"}', "", "not a file of parts"),
    "json kind": (b'{"kind": "sail", "items": []}', "", "no kind of part"),
    "json field": (b'{"kind": "cell", "items": [{"name": "A", "colour": 1}]}', "", "colour"),
    "flag": (b"name,keyed\nA,maybe\n", "plug", "yes or no"),
    "nothing": (b'{"kind": "cell", "items": []}', "", "no parts"),
}


@pytest.mark.parametrize("name", BAD_PARTS)
def test_bad_parts_files_say_what_and_where(name: str) -> None:
    data, kind, words = BAD_PARTS[name]
    with pytest.raises((FormatError, FieldError)) as caught:
        read_parts(data, "lot.csv", kind)
    assert words in caught.value.message()


# Charge logs


def test_the_bench_s_charge_log_is_read_and_judged() -> None:
    """One small group runs ahead, one leaks; charging should have stopped before the end."""
    report = watch(read_charge(charge_csv(20, 5), "charge.csv"), 4.2)
    assert len(report.groups) == 20 and report.stop_s is not None
    words = {o.group: o.words for o in report.outliers}
    assert any("ahead" in w for w in words.values()) and any(
        "lags" in w or "rise" in w for w in words.values()
    )
    assert report.last[0][0] == 1 and len(report.last) == 20
    assert report.spread_v == pytest.approx(report.high_v[-1] - report.low_v[-1], abs=0.02)


def made(rows: list[list[float]], groups: int) -> bytes:
    head = "time [s]," + ",".join(f"group {i + 1} [V]" for i in range(groups))
    return (head + "\n" + "\n".join(",".join(map(str, r)) for r in rows) + "\n").encode()


def test_stop_is_where_a_group_passes_full_or_the_spread_grows() -> None:
    level = made([[t, 4.0 + t * 0.001, 4.0 + t * 0.001] for t in range(0, 200, 10)], 2)
    assert watch(read_charge(level, "a.csv"), 4.2).stop_s is None
    over = made([[t, 4.1 + t * 0.001, 4.1 + t * 0.0009] for t in range(0, 200, 10)], 2)
    got = watch(read_charge(over, "a.csv"), 4.2)
    assert got.stop_s == pytest.approx(110) and "passed full" in got.stop_words
    apart = made([[t, 3.6 + t * 0.0019, 3.6] for t in range(0, 100, 10)], 2)
    assert watch(read_charge(apart, "a.csv"), 4.2).stop_s == pytest.approx(60)


def test_millivolts_and_minutes_are_understood() -> None:
    text = b"elapsed [min];cell 1 [mV];cell 2 [mV]\n0;3600;3610\n5;3700;3712\n"
    log = read_charge(text, "c.csv")
    assert log.t_s.tolist() == [0, 300] and log.volts[1].tolist() == pytest.approx([3.7, 3.712])


BAD_CHARGE = {
    "no time": (b"group 1,group 2\n3.6,3.6\n", "not a charge log"),
    "one group": (b"time,group 1\n0,3.6\n", "not a charge log"),
    "backwards": (b"time,group 1,group 2\n5,3.6,3.6\n2,3.6,3.6\n", "backwards"),
    "pack volts": (b"time,group 1,group 2\n0,72,3.6\n", "cannot be a group"),
    "word": (b"time,group 1,group 2\n0,full,3.6\n", "not a number"),
}


@pytest.mark.parametrize("name", BAD_CHARGE)
def test_bad_charge_logs(name: str) -> None:
    data, words = BAD_CHARGE[name]
    with pytest.raises(NineBoltError, match=words):
        read_charge(data, "c.csv")


# Labels


@pytest.mark.parametrize(("paper", "width"), [("a4", 210.0), ("letter", 215.9)])
def test_labels_name_every_group_and_cell_once_on_label_and_map(paper: str, width: float) -> None:
    sorting = sort_cells(salvaged_cells(100, 2), 14, 6)
    reader = PdfReader(io.BytesIO(write_labels(sorting, "Pip 72", paper)))
    assert float(reader.pages[0].mediabox.width) * 25.4 / 72 == pytest.approx(width, abs=0.1)
    text = " ".join(p.extract_text() for p in reader.pages)
    words = text.split()
    for g in sorting.groups:
        assert f"Group {g.number}" in text
        for cell in g.cells:
            assert words.count(cell) == 2, cell
    assert "build map" in text
