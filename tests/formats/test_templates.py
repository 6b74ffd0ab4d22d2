"""Paper templates: opened by other readers and measured; layouts that stay inside their bay."""

from __future__ import annotations

import io
import math
import re
import xml.etree.ElementTree as ET

import ezdxf
import pytest
from pypdf import PdfReader

from ninebolt.core.build import Build
from ninebolt.errors import InputError
from ninebolt.library.demo import moss
from ninebolt.services.packs import template_file, templates_of

POINT_MM = 25.4 / 72


def test_svg_measures_what_the_bay_measures() -> None:
    root = ET.fromstring(template_file(moss(), "svg")[1])
    assert root.attrib["width"].endswith("mm")
    span = float(root.attrib["viewBox"].split()[2])
    assert float(root.attrib["width"][:-2]) == pytest.approx(span)
    bay = next(e for e in root.iter() if e.attrib.get("id") == "bay-1")
    xs = [float(p.split(",")[0]) for p in bay.attrib["points"].split()]
    assert max(xs) - min(xs) == pytest.approx(330.0)
    circles = [e for e in root.iter() if e.tag.endswith("circle")]
    assert all(float(c.attrib["r"]) == pytest.approx(10.6) for c in circles)


def test_dxf_is_read_by_ezdxf_in_millimetres() -> None:
    doc = ezdxf.read(io.StringIO(template_file(moss(), "dxf")[1].decode()))
    assert doc.units == 4 and not doc.audit().has_errors
    circles = list(doc.modelspace().query("CIRCLE"))
    assert circles and all(c.dxf.radius == pytest.approx(10.6) for c in circles)
    taken = [c for c in circles if c.dxf.layer == "CELLS"]
    assert len(taken) == 207
    numbers = {t.dxf.text for t in doc.modelspace().query("TEXT")}
    assert numbers == {str(g) for g in range(1, 24)}


@pytest.mark.parametrize(("paper", "size"), [("a4", (210.0, 297.0)), ("letter", (215.9, 279.4))])
def test_pdf_pages_and_measuring_bar(paper: str, size: tuple[float, float]) -> None:
    """The bar drawn on each page is 100 mm long in the page's own points; pages cover the bay."""
    reader = PdfReader(io.BytesIO(template_file(moss(), "pdf", paper)[1]))
    page = reader.pages[0]
    assert float(page.mediabox.width) * POINT_MM == pytest.approx(size[0], abs=0.1)
    assert float(page.mediabox.height) * POINT_MM == pytest.approx(size[1], abs=0.1)
    columns = math.ceil(330.0 / (size[0] - 20))
    assert len(reader.pages) == columns * len(templates_of(moss()))
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
    with pytest.raises(InputError, match="nothing to lay out"):
        templates_of(Build())
