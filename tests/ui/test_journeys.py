"""What a user does, through the real interface."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from accessible import PHONE, is_wide, violations

ROOT = Path(__file__).resolve().parents[2]


BOLTS = ("donor", "goal", "pack", "guard", "drive", "gear", "wire", "tune", "prove")


def open_build(page: Page, name: str, bolt: int) -> None:
    """Straight to a bolt, counted from 1."""
    page.goto(f"/build/{name.lower().replace(' ', '-')}/{BOLTS[bolt - 1]}")
    expect(page.get_by_role("heading", level=1, name=BOLTS[bolt - 1])).to_be_visible()


def headline(page: Page) -> Locator:
    return page.get_by_role("group", name="Headline")


def part(page: Page, name: str) -> None:
    page.get_by_role("group", name="Parts").get_by_role("button", name=name).first.click()


def give(page: Page, label: str, text: str) -> None:
    field = page.get_by_label(label, exact=True)
    field.fill(text)
    with page.expect_response("**/changes?*"):
        field.press("Enter")


def take(page: Page, text: str) -> None:
    with page.expect_response("**/changes?*"):
        page.get_by_label("Take one from the library").select_option(label=text)


def visit(page: Page, address: str) -> None:
    """Open a view and wait until it is painted."""
    page.goto(address)
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    page.wait_for_load_state("networkidle")
    expect(page.get_by_role("status").filter(has_text="…")).to_have_count(0)


def go(page: Page, key: str, heading: str) -> None:
    page.evaluate("document.activeElement.blur()")
    page.locator("body").press(key)
    expect(page.get_by_role("heading", level=1, name=heading)).to_be_visible()


def test_a_build_from_nothing_to_a_top_speed(bench: Page) -> None:
    """Create, fill in from labels and the library until all computes."""
    bench.goto("/")
    bench.get_by_label("Name of a new build").fill("Sorrel 84")
    bench.get_by_role("button", name="New build").click()
    expect(bench.get_by_text("Not weighed yet")).to_be_visible()
    with bench.expect_response("**/changes?*"):
        bench.get_by_role("button", name="Add a bay").click()
    give(bench, "Length", "14 in")
    give(bench, "Height", "280")
    give(bench, "Width", "190 mm")
    expect(bench.get_by_role("button", name="Bay 1: open, drag to move")).to_be_visible()
    bench.get_by_role("button", name="Mass as weighed").click()
    give(bench, "Mass as weighed", "205 lb")
    expect(bench.get_by_label("Mass as weighed", exact=True)).to_have_value("92.9864")
    go(bench, "3", "Pack")
    part(bench, "Cell")
    take(bench, "21700 power cell 4.5 Ah")
    part(bench, "Pack")
    give(bench, "In series", "23")
    give(bench, "In parallel", "8")
    expect(bench.get_by_text("184 needed")).to_be_visible()
    go(bench, "5", "Drive")
    part(bench, "Controller")
    take(bench, "Sine controller 84 V 200 A")
    give(bench, "Line amps, setting", "0,18 kA")
    part(bench, "Motor")
    take(bench, "Mid-drive 12 kW")
    go(bench, "6", "Gear")
    part(bench, "Gear")
    give(bench, "Front teeth", "13")
    give(bench, "Rear teeth", "54")
    part(bench, "Rear tyre")
    take(bench, "Enduro rear 120/90-18 R")
    go(bench, "5", "Drive")
    expect(bench.get_by_role("img", name="Thrust over road speed")).to_be_visible()
    expect(headline(bench)).to_contain_text("km/h")
    bench.reload()
    expect(bench.get_by_role("img", name="Thrust over road speed")).to_be_visible()


def test_a_fix_says_what_it_does_and_does_it(bench: Page) -> None:
    """The BMS that opens: the effect is shown before, the finding is gone after, undo brings it
    back."""
    open_build(bench, "Pip 72", 4)
    finding = bench.get_by_role("listitem").filter(has_text="The BMS opens at full throttle")
    expect(finding).to_contain_text("peak at the wheel")
    expect(finding).to_contain_text("stops 9 → 8")
    before = headline(bench).inner_text()
    finding.get_by_role("button", name="Set line amps to 51 A", exact=True).click()
    expect(finding).to_have_count(0)
    expect(headline(bench)).not_to_have_text(before, use_inner_text=True)
    bench.get_by_role("button", name="Undo the last kept change").click()
    expect(finding).to_have_count(1)


def test_what_if_shows_old_and_new_is_dropped_taken_back_and_kept(bench: Page) -> None:
    open_build(bench, "Moss 84", 5)
    bench.locator("body").press("w")
    expect(bench.get_by_text("What if: 0 on trial")).to_be_visible()
    part(bench, "Controller")
    give(bench, "Phase amps, setting", "300")
    strip = bench.get_by_role("group", name="Headline")
    expect(strip).to_contain_text("was 7.9")
    expect(bench.get_by_role("group", name="Figures")).to_contain_text("was 32")
    bench.reload()
    expect(strip).to_contain_text("was 7.9")
    bench.get_by_role("button", name="Drop").click()
    expect(strip).not_to_contain_text("was")
    expect(strip).to_contain_text("7.91")
    bench.get_by_role("button", name="Take the what-if back (1)").click()
    expect(strip).to_contain_text("was 7.9")
    bench.locator("body").press("x")
    expect(strip).not_to_contain_text("was")
    bench.locator("body").press("b")
    bench.get_by_role("button", name="Keep", exact=True).click()
    expect(strip).not_to_contain_text("was")
    expect(strip).to_contain_text("6.1")


def test_a_mark_is_painted_and_breaks_upstream(bench: Page) -> None:
    open_build(bench, "Moss 84", 5)
    bench.get_by_role("button", name="Sign off").click()
    expect(bench.get_by_role("button", name="Drive (signed off)")).to_be_visible()
    go(bench, "3", "Pack")
    bench.get_by_role("button", name="one more in parallel").click()
    expect(bench.get_by_role("button", name="Drive (mark broken")).to_be_visible()
    go(bench, "5", "Drive")
    expect(bench.get_by_role("status").filter(has_text="Mark broken")).to_contain_text(
        "Pack – In parallel: 9 → 10"
    )


def test_parameters_leave_as_dcf(bench: Page) -> None:
    open_build(bench, "Brakka 96", 8)
    with bench.expect_download() as got:
        bench.get_by_role("link", name="DCF").click()
    text = got.value.path().read_text()
    assert "[2104]" in text and "ParameterValue=2000" in text


def test_a_log_is_imported_and_read_beside_the_prediction(bench: Page) -> None:
    open_build(bench, "Pip 72", 9)
    expect(bench.get_by_text("No run is logged yet")).to_be_visible()
    bench.get_by_label("Log file").set_input_files(
        ROOT / "examples/logs/pip-72-tired-pack-s3-controller.csv"
    )
    expect(bench.get_by_text("1 standing start, 20.0 samples a second")).to_be_visible()
    bench.get_by_role("button", name="Import this log").click()
    table = bench.get_by_role("table", name="Splits")
    expect(table.get_by_role("row").filter(has_text="100 m")).to_contain_text("%")
    expect(bench.get_by_role("listitem").filter(has_text="Pack and path resist")).to_be_visible()
    bench.get_by_role("button", name="Rollout off").click()
    expect(bench.get_by_text("with one-foot rollout")).to_be_visible()


def test_a_broken_log_says_where(bench: Page, tmp_path: Path) -> None:
    bad = tmp_path / "bad.csv"
    bad.write_text("time [s],speed [km/h]\n0,0\n0.1,1\n0.05,2\n")
    open_build(bench, "Pip 72", 9)
    bench.get_by_label("Log file").set_input_files(bad)
    expect(bench.get_by_role("alert")).to_contain_text(
        "line 4, column time [s]: Time goes backwards"
    )
    expect(bench.get_by_role("button", name="Import this log")).to_be_disabled()


WRONG = [
    ("abc", "is not a number"),
    ("12 lb", "does not fit here"),
    ("0", "must be above 0"),
    ("-4", "must be above 0"),
    ("30 kV", "check the unit"),
]


def test_a_field_says_what_is_wrong_and_keeps_the_old(bench: Page) -> None:
    open_build(bench, "Moss 84", 5)
    part(bench, "Controller")
    field = bench.get_by_label("Voltage ceiling", exact=True)
    for text, words in WRONG:
        field.fill(text)
        field.press("Enter")
        expect(bench.get_by_role("alert").filter(has_text=words)).to_be_visible()
    bench.reload()
    part(bench, "Controller")
    expect(bench.get_by_label("Voltage ceiling", exact=True)).to_have_value("100")


def test_units_are_chosen_once(bench: Page) -> None:
    open_build(bench, "Brakka 96", 5)
    bench.get_by_role("button", name="Units").click()
    bench.get_by_label("Speed", exact=True).select_option("mph")
    bench.get_by_label("Mass", exact=True).select_option("lb")
    bench.get_by_role("button", name="Close").click()
    strip = bench.get_by_role("group", name="Headline")
    expect(strip).to_contain_text("mph")
    expect(strip).to_contain_text("lb")
    bench.reload()
    expect(strip).to_contain_text("0–60 mph")


def test_sprockets_are_taken_from_the_ladder(bench: Page) -> None:
    open_build(bench, "Brakka 96", 6)
    ladder = bench.get_by_role("group", name="Gear ladder")
    ladder.get_by_role("button", name="14/54").click()
    expect(ladder.get_by_role("button", name="14/54")).to_have_attribute("aria-pressed", "true")


def test_a_sprocket_pair_is_dragged_down_the_ladder(bench: Page) -> None:
    """The fitted pair is taken hold of and let go two rungs further down; the headline follows."""
    open_build(bench, "Moss 84", 6)
    ladder = bench.get_by_role("group", name="Gear ladder")
    rows = ladder.get_by_role("button")
    names = [r.locator("text").first.text_content() or "" for r in rows.all()]
    here = names.index("12/56")
    boxes = [rows.nth(here).bounding_box(), rows.nth(here + 2).bounding_box()]
    assert boxes[0] and boxes[1]
    middle = [(b["x"] + b["width"] / 2, b["y"] + b["height"] / 2) for b in boxes if b]
    bench.mouse.move(*middle[0])
    bench.mouse.down()
    bench.mouse.move(middle[0][0], middle[0][1] + 8, steps=2)
    bench.mouse.move(*middle[1], steps=4)
    bench.mouse.up()
    expect(ladder.get_by_role("button", name=names[here + 2])).to_have_attribute(
        "aria-pressed", "true"
    )


def test_line_amps_are_dragged_across_the_load_path(bench: Page) -> None:
    open_build(bench, "Brakka 96", 4)
    handle = bench.get_by_role("slider", name="Line amps, setting")
    box = handle.bounding_box()
    assert box
    bench.mouse.move(box["x"] + 27, box["y"] + box["height"] / 2)
    bench.mouse.down()
    bench.mouse.move(box["x"] + 27, box["y"] + box["height"] / 2 + 60, steps=4)
    # Past the drawing's edge and back: the drag goes on until the button is let go.
    bench.mouse.move(10, box["y"] + box["height"] / 2 + 60, steps=3)
    bench.mouse.move(box["x"] + 27, box["y"] + box["height"] / 2 + 60, steps=3)
    with bench.expect_response("**/changes?*"):
        bench.mouse.up()
    expect(handle).not_to_have_attribute("aria-valuenow", "280")
    assert int(handle.get_attribute("aria-valuenow") or 0) < 280


def test_a_throttle_point_is_moved_by_keys(bench: Page) -> None:
    open_build(bench, "Brakka 96", 8)
    point = bench.get_by_role("slider", name="Curve point 2")
    before = int(point.get_attribute("aria-valuenow") or 0)
    point.focus()
    with bench.expect_response("**/changes?*"):
        point.press("ArrowUp")
    expect(point).to_have_attribute("aria-valuenow", str(before + 2))


def test_the_throttle_s_curve_is_drawn_at_a_chosen_speed(bench: Page) -> None:
    """Near top speed the volts hold the thrust: the last fifth of the twist does nothing there, and the picture says
    so in newtons, the same as the program's own answer. Points go in and out."""
    open_build(bench, "Brakka 96", 8)
    last, speed = (bench.get_by_role("slider", name=n) for n in ("Curve point 4", "Road speed"))
    rest = bench.request.get("/api/builds/brakka-96/thrust").json()["thrust_n"]
    expect(last).to_have_attribute(
        "aria-valuetext", re.compile(rf"{rest[-1]:,.0f}".replace(",", ".?") + ".N$")
    )
    speed.focus()
    speed.press("End")
    expect(speed).to_have_attribute("aria-valuetext", re.compile("km/h"))
    fast = float(speed.get_attribute("aria-valuenow") or 0)
    pushes = bench.request.get(f"/api/builds/brakka-96/thrust?speed_m_s={fast}").json()["thrust_n"]
    assert pushes[-1] < 0.6 * rest[-1] and pushes[-1] == pytest.approx(pushes[-5])
    expect(last).to_have_attribute("aria-valuetext", re.compile(rf"{pushes[-1]:.0f}.N$"))
    with bench.expect_response("**/changes?*"):
        bench.get_by_role("button", name="Add a point").click()
    expect(bench.get_by_role("slider", name="Curve point 5")).to_be_visible()
    bench.get_by_role("slider", name="Curve point 3").focus()
    with bench.expect_response("**/changes?*"):
        bench.get_by_role("button", name="Take point 3 out").click()
    expect(bench.get_by_role("slider", name="Curve point 5")).to_have_count(0)


def test_from_the_garage_through_the_rail_to_every_bolt(bench: Page) -> None:
    bench.goto("/")
    bench.get_by_role("link", name="Brakka 96", exact=True).click()
    rail = bench.get_by_role("navigation", name="Bolts").get_by_role("button")
    expect(rail).to_have_count(9)
    for place, bolt in enumerate(BOLTS):
        rail.nth(place).click()
        expect(bench.get_by_role("heading", level=1, name=bolt)).to_be_visible()


def test_garage_copies_renames_archives(bench: Page) -> None:
    bench.goto("/")
    card = bench.get_by_role("article", name="Pip 72", exact=True)
    card.get_by_role("button", name="Duplicate").click()
    copy = bench.get_by_role("article", name="Pip 72 (copy)")
    copy.get_by_role("button", name="Rename").click()
    bench.get_by_label("New name").fill("Pip two")
    bench.get_by_label("New name").press("Enter")
    two = bench.get_by_role("article", name="Pip two")
    two.get_by_role("button", name="Archive").click()
    expect(bench.get_by_role("heading", name="Archived")).to_be_visible()
    with bench.expect_download() as got:
        two.get_by_role("link", name="Export").click()
    bench.get_by_label("Build file").set_input_files(
        {
            "name": "again.zip",
            "mimeType": "application/zip",
            "buffer": got.value.path().read_bytes(),
        }
    )
    expect(bench.get_by_role("heading", level=1, name="Donor")).to_be_visible()


def test_a_bad_build_file_is_refused_in_words(bench: Page) -> None:
    bench.goto("/")
    bench.get_by_label("Build file").set_input_files(
        {"name": "bad.json", "mimeType": "application/json", "buffer": b'{"format_version": 9}'}
    )
    expect(bench.get_by_role("alert")).to_contain_text("written by a newer program")


VIEWS = [
    "/",
    "/parts",
    *(
        f"/build/{b}/{x}"
        for b, x in [
            ("brakka-96", "donor"),
            ("brakka-96", "goal"),
            ("moss-84", "pack"),
            ("pip-72", "guard"),
            ("brakka-96", "drive"),
            ("brakka-96", "gear"),
            ("pip-72", "wire"),
            ("brakka-96", "tune"),
            ("brakka-96", "prove"),
        ]
    ),
]


SMALL = """() => [...document.querySelectorAll('button, a[href], select, input')]
    .map(e => [e.closest('label') ?? e, e.innerText || e.ariaLabel])
    .map(([e, t]) => [e.getBoundingClientRect(), t])
    .filter(([r]) => r.width > 2 && r.height > 2 && (r.width < 43.5 || r.height < 43.5))
    .map(([r, t]) => `${t} ${r.width}x${r.height}`)"""
NAMED = ("Brakka 96", "Moss", "Pip")  # links inside a card that is itself a large one


# Each of their tabs has its own reading in test_first_half and test_prove.
READ_TAB_BY_TAB = ("donor", "goal", "pack", "guard", "tune", "prove")


@pytest.mark.parametrize("view", VIEWS)
def test_a_view_is_accessible_large_enough_and_fits_a_phone(
    bench: Page, server: str, view: str
) -> None:
    """axe-core finds nothing in light and no lack of contrast in dark; nothing to press is under
    44 px; nothing is wider than a phone."""
    visit(bench, server + view)
    small = bench.evaluate(SMALL)
    assert [s for s in small if not any(n in s for n in NAMED)] == []
    found = [] if view.endswith(READ_TAB_BY_TAB) else violations(bench, "light")
    bench.emulate_media(color_scheme="dark")
    found += violations(bench, "dark", "runOnly: ['color-contrast'],")
    assert not found, "\n".join(found)
    bench.set_viewport_size(PHONE)  # type: ignore[arg-type]
    bench.wait_for_timeout(200)
    assert not is_wide(bench)


def test_measured_cells_are_sorted(bench: Page) -> None:
    """A tester's file becomes matched groups; a rule moves and they are sorted again."""
    open_build(bench, "Moss 84", 3)
    bench.get_by_role("button", name="What if …").click()
    part(bench, "Pack")
    give(bench, "In series", "14")
    give(bench, "In parallel", "6")
    bench.get_by_label("Cell measurements").set_input_files(ROOT / "examples/cells/salvaged.csv")
    gain = bench.get_by_role("table", name="What sorting gained")
    expect(gain.get_by_role("row").filter(has_text="matched")).to_contain_text("%")
    expect(bench.get_by_text("of the lot's median").first).to_be_visible()
    before = bench.get_by_role("table", name="Groups").get_by_role("row").count()
    bench.get_by_label("capacity at least").fill("1,9 Ah")
    rejected = (
        bench.get_by_role("table", name="Groups")
        .get_by_role("row")
        .filter(has_text="under the limit")
    )
    expect(rejected.first).to_be_visible()
    expect(bench.get_by_role("table", name="Groups").get_by_role("row")).not_to_have_count(before)
    with bench.expect_download() as got:
        bench.get_by_role("link", name="Assignment as CSV").click()
    assert got.value.path().read_text().startswith("cell,group,place")
    with bench.expect_response("**/changes?*"):
        bench.get_by_role("button", name="Take these groups into the build").click()
    bench.get_by_label("capacity at least").fill("2,6 Ah")
    expect(bench.get_by_role("alert")).to_contain_text("Too few cells pass the rules")
    bench.reload()
    bench.get_by_role("tab", name="Groups").click()
    kept = bench.get_by_role("table", name="Groups of the pack").get_by_role("row")
    expect(kept).to_have_count(15)


def test_the_template_leaves_at_full_size(bench: Page) -> None:
    open_build(bench, "Moss 84", 3)
    with bench.expect_download() as got:
        bench.get_by_role("link", name="PDF, A4").click()
    assert got.value.path().read_bytes().startswith(b"%PDF")
