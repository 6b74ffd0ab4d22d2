"""Paper templates: opened by other readers and measured; layouts that stay inside their bay."""

from __future__ import annotations

import io
import math
import re
import xml.etree.ElementTree as ET

import ezdxf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from ninebolt.core.build import Build
from ninebolt.core.match.fit import fit_boxes, fit_round
from ninebolt.errors import InputError
from ninebolt.library.demo import moss
from ninebolt.services.packs import template_file, template_of

POINT_MM = 25.4 / 72


def test_svg_measures_what_the_bay_measures() -> None:
    root = ET.fromstring(template_file(moss(), "svg")[1])
    assert root.attrib["width"].endswith("mm")
    span = float(root.attrib["viewBox"].split()[2])
    assert float(root.attrib["width"][:-2]) == pytest.approx(span)
    bay = next(e for e in root.iter() if e.attrib.get("id") == "bay")
    assert float(bay.attrib["width"]) == pytest.approx(320.0)
    circles = [e for e in root.iter() if e.tag.endswith("circle")]
    assert all(float(c.attrib["r"]) == pytest.approx(10.6) for c in circles)


def test_dxf_is_read_by_ezdxf_in_millimetres() -> None:
    doc = ezdxf.read(io.StringIO(template_file(moss(), "dxf")[1].decode()))
    assert doc.units == 4 and not doc.audit().has_errors
    circles = list(doc.modelspace().query("CIRCLE"))
    assert len(circles) == 112 and circles[0].dxf.radius == pytest.approx(10.6)
    taken = [c for c in circles if c.dxf.layer == "CELLS"]
    assert len(taken) == min(112, 207)


@pytest.mark.parametrize(("paper", "size"), [("a4", (210.0, 297.0)), ("letter", (215.9, 279.4))])
def test_pdf_pages_and_measuring_bar(paper: str, size: tuple[float, float]) -> None:
    """The bar drawn on each page is 100 mm long in the page's own points; pages cover the bay."""
    reader = PdfReader(io.BytesIO(template_file(moss(), "pdf", paper)[1]))
    page = reader.pages[0]
    assert float(page.mediabox.width) * POINT_MM == pytest.approx(size[0], abs=0.1)
    assert float(page.mediabox.height) * POINT_MM == pytest.approx(size[1], abs=0.1)
    columns = math.ceil(320.0 / (size[0] - 20))
    assert len(reader.pages) == columns
    for one in reader.pages:
        lines = re.findall(
            r"([\d.]+) ([\d.]+) m ([\d.]+) ([\d.]+) l", one.get_contents().get_data().decode()
        )
        spans = [
            math.dist((float(a), float(b)), (float(c), float(d))) * POINT_MM for a, b, c, d in lines
        ]
        assert max(spans) == pytest.approx(100.0, abs=0.05)
        assert "100 mm" in one.extract_text()


def test_same_build_same_pdf() -> None:
    assert template_file(moss(), "pdf") == template_file(moss(), "pdf")


def test_nothing_to_print_is_said() -> None:
    with pytest.raises(InputError, match="nothing to print"):
        template_of(Build())


sizes = st.floats(0.05, 0.5)


@given(sizes, sizes, sizes, st.floats(0.014, 0.035), st.floats(0.05, 0.08), st.floats(0, 0.002))
def test_round_cells_stay_inside_and_apart(
    length: float, height: float, width: float, d: float, tall: float, wall: float
) -> None:
    """In every pattern: no two closer than the pitch, none through a wall."""
    bay = {"length": length, "height": height, "width": width}
    for fit in fit_round(bay, d, tall, d + wall)[:3]:
        u, v = fit.face.split("-")
        assert fit.capacity == fit.layers * len(fit.slots) or fit.layers == 0
        assert fit.layers * tall <= bay[fit.axis] + 1e-9
        for s in fit.slots:
            assert d / 2 - 1e-9 <= s.u_m <= bay[u] - d / 2 + 1e-9
            assert d / 2 - 1e-9 <= s.v_m <= bay[v] - d / 2 + 1e-9
        for i, a in enumerate(fit.slots[:40]):
            for b in fit.slots[i + 1 : 80]:
                assert math.dist((a.u_m, a.v_m), (b.u_m, b.v_m)) >= d + wall - 1e-9


@given(sizes, sizes, sizes)
def test_no_pattern_beats_the_volume(length: float, height: float, width: float) -> None:
    """Bodies never fill more than there is (packing density of circles: π/√12, Thue 1910)."""
    bay = {"length": length, "height": height, "width": width}
    d, tall = 0.0212, 0.0703
    best = fit_round(bay, d, tall, d)[0]
    assert best.capacity * math.pi / 4 * d * d * tall <= length * height * width
    boxes = fit_boxes(bay, (0.15, 0.06, 0.014))[0]
    assert boxes.capacity * 0.15 * 0.06 * 0.014 <= length * height * width + 1e-12
