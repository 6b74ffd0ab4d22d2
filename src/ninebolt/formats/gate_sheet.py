"""Commissioning on paper: every gate in its order, with what must be read, what was, and its photos; room to write by
hand where nothing is entered yet."""

from __future__ import annotations

import io
import warnings
from collections.abc import Sequence
from typing import TYPE_CHECKING

from ninebolt.core.bolts.prove.gates import GateState
from ninebolt.formats.bundle import PhotoFile
from ninebolt.formats.paper import FACE, MARGIN_MM, flow, open_flow
from ninebolt.formats.spoken import say, sentence
from ninebolt.formats.when import with_zone

if TYPE_CHECKING:
    from fpdf import FPDF
    from PIL.Image import Image

BOX_MM = 4.0
PHOTO_MM = 34.0
PHOTO_PX = 480
MOST_PHOTOS = 4  # of a gate, side by side
ROOM_MM = 42.0  # a gate does not begin lower than this over the foot
SEEN = {"passed": "x", "failed": "!"}
BY_HAND = "Reading ................................  Who ....................  When .............................."


def write_gate_sheet(
    title: str, states: Sequence[GateState], photos: Sequence[PhotoFile] = (), paper: str = "a4",
    stands: Sequence[tuple[str, str]] = (),
) -> bytes:  # fmt: skip
    """PDF. stands: what else stands in the build, how heavy and in words. A photo that cannot be read is named in its
    place. Raises InputError for an unknown paper."""
    pdf, wide = open_flow(paper, f"{title}: from the first cold check to the ride")
    passed = sum(s.state == "passed" for s in states)
    pdf.set_font(FACE, size=9)
    flow(
        pdf,
        wide,
        f"{passed} of {len(states)} gates are passed. In this order; nothing after a gate marked HOLD before it is "
        "passed. Over 60 V DC: insulated tools, one hand, eye protection, a second person. Local codes come first.",
    )
    pdf.set_font(FACE, "B", 9)
    for kind, words in stands:
        flow(pdf, wide, f"{kind}. {words}")
    phase = ""
    for number, state in enumerate(states, 1):
        if pdf.get_y() > pdf.h - MARGIN_MM - ROOM_MM:
            pdf.add_page()
        if state.gate.phase != phase:
            phase = state.gate.phase
            pdf.ln(2)
            pdf.set_font(FACE, "B", 12)
            flow(pdf, wide, phase, 6)
        _gate(pdf, wide, number, state, photos)
    return bytes(pdf.output())


def _gate(pdf: FPDF, wide: float, number: int, s: GateState, photos: Sequence[PhotoFile]) -> None:
    gate = s.gate
    pdf.ln(1)
    y = pdf.get_y()
    pdf.set_line_width(0.3)
    pdf.rect(MARGIN_MM, y + 0.4, BOX_MM, BOX_MM)
    pdf.set_font(FACE, "B", 10)
    pdf.text(MARGIN_MM + 1.1, y + 3.5, SEEN.get(s.state, ""))
    pdf.set_x(MARGIN_MM + BOX_MM + 2)
    flow(pdf, wide - BOX_MM - 2, f"{number}. {gate.title}{' - HOLD' if gate.hold else ''}", 5)
    pdf.set_font(FACE, size=9)
    flow(pdf, wide, f"{gate.do} With: {gate.tool}.")
    if gate.caution:
        flow(pdf, wide, f"Caution: {sentence(gate.caution)}")
    if gate.quantity:
        pdf.set_font(FACE, "B", 9)
        flow(pdf, wide, f"Must read {_bounds(gate.low, gate.high, gate.quantity)}")
        pdf.set_font(FACE, size=9)
    if s.at:
        read = f"{say(s.value, gate.quantity)}, " if s.value is not None and gate.quantity else ""
        by = f" by {s.who}" if s.who else ""
        flow(pdf, wide, f"Found: {read}{s.state}, {with_zone(s.at)}{by}. {s.note}")
    else:
        flow(pdf, wide, BY_HAND, 6)
    if s.others:
        flow(
            pdf,
            wide,
            f"Found with another {', '.join(s.others)} than there is now: read it again.",
        )
    if s.state == "failed":
        flow(pdf, wide, f"Look in this order: {'; '.join(gate.causes)}.")
    _photos(pdf, wide, [p for p in photos if p.place == f"gate:{gate.key}"])
    pdf.set_line_width(0.1)
    pdf.line(MARGIN_MM, pdf.get_y() + 0.5, MARGIN_MM + wide, pdf.get_y() + 0.5)


def _bounds(low: float | None, high: float | None, quantity: str) -> str:
    if low is not None and high is not None:
        return f"{say(low, quantity)} to {say(high, quantity)}"
    if low is None and high is None:
        return (
            "what the build does not say yet: no reading passes before the pack's cells are given"
        )
    return f"at least {say(low, quantity)}" if low is not None else f"at most {say(high, quantity)}"


def _photos(pdf: FPDF, wide: float, photos: Sequence[PhotoFile]) -> None:
    shown = [(p, small(p.data)) for p in photos[:MOST_PHOTOS]]
    fit = [(p, image) for p, image in shown if image is not None]
    if fit:
        if pdf.get_y() + PHOTO_MM > pdf.h - MARGIN_MM - 6:
            pdf.add_page()
        top, each = pdf.get_y() + 1, wide / MOST_PHOTOS
        for i, (_, image) in enumerate(fit):
            tall = min(PHOTO_MM, (each - 2) * image.height / image.width)
            pdf.image(image, MARGIN_MM + i * each, top, tall * image.width / image.height, tall)
        pdf.set_y(top + PHOTO_MM + 1)
    lost = [p.name for p, image in shown if image is None]
    if lost:
        flow(pdf, wide, f"A photo that cannot be shown: {', '.join(lost)}.")
    if len(photos) > MOST_PHOTOS:
        flow(pdf, wide, f"{len(photos) - MOST_PHOTOS} more photos are kept with the build.")


def small(data: bytes) -> Image | None:
    """The photo as it was held, in few enough points for paper; None where it is none."""
    from PIL import Image, ImageOps

    with warnings.catch_warnings():
        warnings.simplefilter("error")  # of a picture that would unpack to more than it says
        try:
            with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP")) as found:
                found.draft("RGB", (PHOTO_PX, PHOTO_PX))
                turned = ImageOps.exif_transpose(found)
                turned.thumbnail((PHOTO_PX, PHOTO_PX))
                return turned.convert("RGB")
        except Exception:  # noqa: BLE001 – whatever is wrong with it, the sheet is needed
            return None
