"""Donor, Goal, Pack, Guard and the parts shelf, through the real interface."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET
from pathlib import Path

import pytest
from playwright.sync_api import LocatorAssertions, Page, expect

from accessible import every_tab_holds
from ninebolt.bench.tester import charge_csv, salvaged_cells
from ninebolt.formats.cells_csv import write_cells

ROOT = Path(__file__).resolve().parents[2]


def open_bolt(page: Page, server: str, build: str, bolt: str) -> None:
    page.goto(f"{server}/build/{build}/{bolt}")
    expect(page.get_by_role("heading", level=1, name=bolt.capitalize())).to_be_visible()


def tab(page: Page, name: str) -> None:
    page.get_by_role("tab", name=name).click()


def give(page: Page, label: str, text: str) -> None:
    field = page.get_by_label(label, exact=True)
    field.fill(text)
    with page.expect_response("**/changes?*"):
        field.press("Enter")


def findings(page: Page) -> LocatorAssertions:
    """To be waited on: the page paints after the answer has come."""
    return expect(page.get_by_role("list", name="Findings"))


# Donor


def test_a_bay_is_drawn_corner_by_corner_and_a_corner_is_dragged(bench: Page, server: str) -> None:
    open_bolt(bench, server, "brakka-96", "donor")
    bench.get_by_role("button", name="Draw a bay").click()
    view = bench.get_by_role("group", name="Side view")
    box = view.bounding_box()
    assert box
    corners = [(0.45, 0.25), (0.62, 0.25), (0.62, 0.45), (0.45, 0.5)]
    for u, v in corners:
        bench.mouse.click(box["x"] + u * box["width"], box["y"] + v * box["height"])
    with bench.expect_response("**/changes?*"):
        bench.keyboard.press("Enter")
    expect(bench.get_by_role("button", name="Bay 2: open, drag to move")).to_be_visible()
    expect(bench.get_by_label("Name", exact=True)).to_have_value("Bay 2")
    outline = bench.get_by_label("Length", exact=True)
    before = outline.input_value()
    mark = bench.locator('[data-corner="1-1"]')
    at = mark.bounding_box()
    assert at
    bench.mouse.move(at["x"] + at["width"] / 2, at["y"] + at["height"] / 2)
    bench.mouse.down()
    bench.mouse.move(at["x"] + at["width"] / 2 + 60, at["y"] + at["height"] / 2, steps=5)
    with bench.expect_response("**/changes?*"):
        bench.mouse.up()
    expect(outline).not_to_have_value(before)


def test_an_outline_is_imported_and_a_bad_one_is_refused(
    bench: Page, server: str, tmp_path: Path
) -> None:
    open_bolt(bench, server, "brakka-96", "donor")
    svg = tmp_path / "tail.svg"
    svg.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="240mm" height="120mm" '
        'viewBox="0 0 240 120"><polygon points="0,0 240,20 240,120 0,120"/></svg>'
    )
    bench.get_by_label("Outline of a bay").set_input_files(svg)
    expect(bench.get_by_role("button", name="tail: open, drag to move")).to_be_visible()
    bad = tmp_path / "bad.dxf"
    bad.write_text("nothing")
    bench.get_by_label("Outline of a bay").set_input_files(bad)
    expect(bench.get_by_role("alert")).to_contain_text("bad.dxf")


def test_the_scale_is_taken_into_the_ledger(bench: Page, server: str) -> None:
    open_bolt(bench, server, "moss-84", "donor")
    bench.get_by_role("group", name="Parts").get_by_role("button", name="Donor").click()
    give(bench, "Front axle on the scale", "33 kg")
    give(bench, "Rear axle on the scale", "41,5")
    bench.get_by_role("button", name="Close").click()
    with bench.expect_response("**/changes?*"):
        bench.get_by_role(
            "button", name="Take the scale's word into the ledger", exact=True
        ).click()
    table = bench.get_by_role("table", name="Mass ledger")
    expect(table.get_by_role("row").filter(has_text="Scale correction")).to_contain_text("measured")
    expect(table.get_by_role("row").filter(has_text="Bike without rider")).to_contain_text("74.5")


def test_candidates_side_by_side(bench: Page, server: str) -> None:
    open_bolt(bench, server, "brakka-96", "donor")
    tab(bench, "Candidates")
    table = bench.get_by_role("table", name="Candidates")
    row = table.get_by_role("row").filter(has_text="Verdict")
    expect(row).to_contain_text("go")
    expect(row).to_contain_text("not enough known")
    expect(table.get_by_role("row").filter(has_text="Mass it was made for")).to_contain_text("best")
    with bench.expect_response("**/changes?*"):
        bench.get_by_role("button", name="Add a candidate").click()
    expect(table.get_by_role("columnheader", name="Candidate 4")).to_be_visible()
    tab(bench, "Salvaged parts")
    motor = bench.get_by_role("table", name="What is known of Van motor from the ferry yard")
    expect(motor.get_by_role("row").filter(has_text="Rpm per volt")).to_contain_text("missing")


def test_before_and_now_of_an_electric_donor(bench: Page, server: str) -> None:
    open_bolt(bench, server, "moss-84", "donor")
    tab(bench, "Before and now")
    top = bench.get_by_role("table", name="Before and now").get_by_role("row").nth(1)
    expect(top).to_contain_text("70.6 km/h")
    expect(top).to_contain_text("+37 %")
    limits = bench.get_by_role("table", name="What limits the stock bike")
    expect(limits.get_by_role("row").nth(1)).to_contain_text("BMS, continuous")


# Goal


def test_a_wish_out_of_reach_says_what_would_have_to_give(bench: Page, server: str) -> None:
    open_bolt(bench, server, "brakka-96", "goal")
    verdict = bench.get_by_role("status", name="Verdict")
    expect(verdict).to_contain_text("falls short")
    bench.get_by_role("group", name="Parts").get_by_role("button", name="Goal").click()
    give(bench, "Ride on one charge", "400 km")
    gives = bench.get_by_role("table", name="What would have to give")
    expect(gives.get_by_role("row").filter(has_text="cells in parallel")).to_contain_text("no room")
    expect(verdict).to_contain_text("Not with this bay")
    tab(bench, "60, 72")
    rows = bench.get_by_role("table", name="Voltage classes").get_by_role("row")
    expect(rows).to_have_count(5)
    expect(rows.nth(4)).to_contain_text("96 V")


# Pack


def test_a_block_is_dragged_into_the_wall_and_back_by_keys(bench: Page, server: str) -> None:
    open_bolt(bench, server, "pip-72", "pack")
    with bench.expect_response("**/changes?*"):
        bench.get_by_role("button", name="Lay out by hand").click()
    block = bench.get_by_role("button", name=re.compile("^block 1"))
    expect(block).to_have_attribute("data-hits", "")
    box = block.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    bench.mouse.move(x, y)
    bench.mouse.down()
    bench.mouse.move(x + 120, y, steps=6)
    expect(block).to_have_attribute("data-hits", "wall")  # while it moves
    with bench.expect_response("**/changes?*"):
        bench.mouse.up()
    findings(bench).to_contain_text("stands in wall by")
    block.focus()
    outline = block.locator("rect")
    for _ in range(20):
        if block.get_attribute("data-hits") == "":
            break
        at = outline.get_attribute("x") or ""
        block.press("Shift+ArrowLeft")
        expect(outline).not_to_have_attribute("x", at)  # each step is seen before the next
    expect(block).to_have_attribute("data-hits", "")
    with bench.expect_response("**/changes?*"):
        bench.get_by_role("button", name="By rule again").click()
    expect(bench.get_by_role("button", name="Lay out by hand")).to_be_visible()


def test_modules_are_put_down_one_by_one(bench: Page, server: str) -> None:
    open_bolt(bench, server, "brakka-96", "pack")
    bench.get_by_role("group", name="Parts").get_by_role("button", name="Cell").click()
    with bench.expect_response("**/changes?*"):
        bench.get_by_label("Take one from the library").select_option(
            label="Pouch cell 16 Ah, high rate"
        )
    with bench.expect_response("**/changes?*"):
        bench.get_by_role("button", name="Lay out by hand").click()
    bodies = bench.get_by_role("button", name=re.compile("^body "))
    expect(bodies.nth(4)).to_be_visible()
    count = bodies.count()
    with bench.expect_response("**/changes?*"):
        bench.get_by_role("button", name="Add a module").click()
    expect(bodies).to_have_count(count + 1)
    bench.get_by_role("button", name="Close").click()
    findings(bench).to_contain_text("collide")


def test_the_printed_svg_measures_what_the_screen_says(bench: Page, server: str) -> None:
    open_bolt(bench, server, "moss-84", "pack")
    expect(bench.get_by_text("length 330 mm")).to_be_visible()
    with bench.expect_download() as got:
        bench.get_by_role("link", name="SVG").click()
    root = ET.fromstring(got.value.path().read_text())
    assert root.attrib["width"].endswith("mm")
    scale = float(root.attrib["width"][:-2]) / float(root.attrib["viewBox"].split()[2])
    bay = next(e for e in root.iter() if e.attrib.get("id") == "bay-1")
    xs = [float(p.split(",")[0]) * scale for p in bay.attrib["points"].split()]
    assert max(xs) - min(xs) == pytest.approx(330.0, abs=0.05)


def test_an_option_is_taken_in_one_press(bench: Page, server: str) -> None:
    open_bolt(bench, server, "moss-84", "pack")
    row = bench.get_by_role("table", name="What goes in").get_by_role("row").nth(2)
    name = row.get_by_role("button").get_attribute("aria-label") or ""
    with bench.expect_response("**/changes?*"):
        row.get_by_role("button").click()
    series, parallel = re.findall(r"\d+", name)
    expect(bench.get_by_text(f"{series}s", exact=True)).to_be_visible()
    expect(bench.get_by_text(f"{parallel}p", exact=True)).to_be_visible()
    findings(bench).not_to_contain_text("does not go in")


def test_cells_are_sorted_with_columns_and_rules_that_move(
    bench: Page, server: str, tmp_path: Path
) -> None:
    cells = tmp_path / "cells.csv"
    data = write_cells(salvaged_cells(200, 6), 14).replace(b"capacity [mAh]", b"held [mAh]")
    cells.write_bytes(data)
    open_bolt(bench, server, "pip-72", "pack")
    with bench.expect_response("**/changes?*"):
        bench.get_by_role("button", name="one fewer in parallel").click()
    for _ in range(4):
        with bench.expect_response("**/changes?*"):
            bench.get_by_role("button", name="one fewer in parallel").click()
    bench.get_by_label("Cell measurements").set_input_files(cells)
    expect(bench.get_by_role("alert")).to_contain_text("No column holds the capacity")
    bench.get_by_role("button", name="Columns").click()
    bench.get_by_label("capacity", exact=True).select_option("held [mAh]")
    table = bench.get_by_role("table", name="What sorting gained")
    expect(table.get_by_role("row").filter(has_text="matched")).to_be_visible()
    out = bench.get_by_role("table", name="Groups").get_by_role("row").filter(has_text="out")
    before = out.count()
    bench.get_by_label("capacity at least").fill("1,9 Ah")
    expect(out).not_to_have_count(before)
    expect(bench.get_by_text("Done: step")).to_be_visible()
    with bench.expect_download() as got:
        bench.get_by_role("link", name="Labels and map").click()
    assert got.value.path().read_bytes().startswith(b"%PDF")


def test_assembly_steps_are_ticked_and_stay(bench: Page, server: str) -> None:
    open_bolt(bench, server, "moss-84", "pack")
    tab(bench, "Assembly")
    step = bench.get_by_role("checkbox", name="Measure every cell or module")
    with bench.expect_response("**/changes?*"):
        step.check(force=True)
    bench.reload()
    tab(bench, "Assembly")
    expect(step).to_be_checked()
    leads = bench.get_by_role("table", name="Balance leads").get_by_role("row")
    expect(leads).to_have_count(25)  # 24 leads and the head


def test_a_charge_log_amps_and_a_percentage(bench: Page, server: str, tmp_path: Path) -> None:
    log = tmp_path / "charge.csv"
    log.write_bytes(charge_csv(20, 5))
    open_bolt(bench, server, "pip-72", "pack")
    tab(bench, "Checks and sums")
    bench.get_by_label("Charge log").set_input_files(log)
    expect(bench.get_by_text("Stop charging:")).to_be_visible()
    with bench.expect_response("**/changes?*"):
        bench.get_by_role("button", name="Take the last row as group voltages").click()
    bench.get_by_label("Amps at a power").fill("3 kW")
    expect(bench.get_by_text("through each of 12 cells")).to_be_visible()
    bench.get_by_label("A percentage and its base").fill("30 % 40")
    bench.get_by_role("button", name="Work it out").click()
    expect(bench.get_by_role("alert")).to_contain_text("A percentage of what?")
    bench.get_by_label("A percentage and its base").fill("30 % more than 40")
    bench.get_by_role("button", name="Work it out").click()
    expect(bench.get_by_text("would be 12")).to_be_visible()


# Guard


def test_a_link_is_swapped_in_one_press_and_says_what_it_does(bench: Page, server: str) -> None:
    open_bolt(bench, server, "pip-72", "guard")
    bench.get_by_role("group", name="Parts").get_by_role("button", name="BMS").click()
    swaps = bench.get_by_role("group", name="Swaps")
    expect(swaps).to_contain_text("stops")
    button = swaps.get_by_role("button", name="Swap for BMS 20s 100 A", exact=True)
    with bench.expect_response("**/changes?*"):
        button.click()
    expect(bench.get_by_label("Name", exact=True)).to_have_value("BMS 20s 100 A")
    expect(bench.get_by_label("Is it there?")).to_have_value("fitted")
    bench.get_by_role("button", name="Close").click()
    findings(bench).not_to_contain_text("The BMS opens at full throttle")


def test_unknown_a_part_that_nobody_looked_at_says_how_it_is_counted(
    bench: Page, server: str
) -> None:
    """Its ratings are known, so the chain counts on it: the form beside it must not say otherwise."""
    open_bolt(bench, server, "brakka-96", "guard")
    bench.get_by_role("group", name="Parts").get_by_role("button", name="DC fuse").click()
    there = bench.get_by_label("Is it there?")
    counted = bench.get_by_text("Counted as fitted")
    expect(there).to_have_value("not looked at")
    expect(counted).to_be_visible()
    there.select_option("not there")
    expect(counted).to_have_count(0)


def test_isolation_is_measured_step_by_step(bench: Page, server: str) -> None:
    open_bolt(bench, server, "moss-84", "guard")
    tab(bench, "Isolation, measured")
    expect(bench.get_by_text("Next: pack voltage")).to_be_visible()
    readings = [
        ("Pack voltage", "90"),
        ("Minus pole to frame", "52"),
        ("Plus pole to frame", "38"),
        ("Known resistor", "45 kΩ"),
        ("The larger reading, with the resistor across it", "4,5"),
    ]
    for label, text in readings:
        give(bench, label, text)
    # R0 (V / V1' - V / V1) / V = 45000 (1/4.5 - 1/52)
    expect(bench.get_by_text(f"{45000 * (1 / 4.5 - 1 / 52):.0f} Ω/V")).to_be_visible()


def test_a_bypass_asks_for_what_stands_in(bench: Page, server: str) -> None:
    open_bolt(bench, server, "brakka-96", "guard")
    bench.get_by_role("group", name="Parts").get_by_role("button", name="BMS").click()
    with bench.expect_response("**/changes?*"):
        bench.get_by_label("Discharge path").select_option("bypassed")
    bench.get_by_role("button", name="Close").click()
    findings(bench).to_contain_text("What must stand in for the BMS is not there")
    bench.get_by_role("group", name="Parts").get_by_role("button", name="In place of").click()
    for label in ("Cell voltages can", "A cell temperature", "Charging still", "I have read"):
        with bench.expect_response("**/changes?*"):
            bench.get_by_label(re.compile(f"^{label}")).select_option("yes")
    bench.get_by_role("button", name="Close").click()
    findings(bench).not_to_contain_text("What must stand in")
    findings(bench).to_contain_text("Discharge goes around the BMS")


# Parts shelf


def test_a_part_is_copied_changed_used_and_taken_off(bench: Page, server: str) -> None:
    bench.goto(f"{server}/parts")
    bench.get_by_label("Kind of part").select_option("plug")
    bench.get_by_role("button", name="Open Flat-contact plug 175 A").click()
    bench.get_by_role("button", name="Make a copy of mine").click()
    name = "Flat-contact plug 175 A (mine)"
    expect(bench.get_by_role("heading", level=2, name=name)).to_be_visible()
    field = bench.get_by_label("Continuous current", exact=True)
    field.fill("190 A")
    with bench.expect_response("**/library/plug/*"):
        field.press("Enter")
    bench.reload()
    bench.get_by_label("Kind of part").select_option("plug")
    expect(bench.get_by_role("row").filter(has_text="(mine)")).to_contain_text("190 A")
    open_bolt(bench, server, "moss-84", "guard")
    bench.get_by_role("group", name="Parts").get_by_role("button", name="Main plug").click()
    with bench.expect_response("**/changes?*"):
        bench.get_by_label("Take one from the library").select_option(label=f"{name} (yours)")
    expect(bench.get_by_label("How one sees that it is home")).to_have_value("witness line")
    bench.goto(f"{server}/parts")
    bench.get_by_label("Kind of part").select_option("plug")
    bench.get_by_role("button", name=f"Open {name}").click()
    bench.get_by_role("button", name="Take it off the shelf").click()
    expect(bench.get_by_role("row").filter(has_text="(mine)")).to_have_count(0)


def test_parts_come_from_a_file_or_are_refused_with_the_line(
    bench: Page, server: str, tmp_path: Path
) -> None:
    bench.goto(f"{server}/parts")
    good = tmp_path / "lot.csv"
    good.write_text("name;capacity_ah;r0_ohm\nBarn lot;2,3 Ah;31 mΩ\n")
    bench.get_by_label("Parts file").set_input_files(good)
    expect(bench.get_by_role("row").filter(has_text="Barn lot (yours)")).to_contain_text("31 mΩ")
    bad = tmp_path / "bad.csv"
    bad.write_text("name;capacity_ah\nBarn lot;lots\n")
    bench.get_by_label("Parts file").set_input_files(bad)
    expect(bench.get_by_role("alert")).to_contain_text("bad.csv, line 2")


TABS = [("brakka-96", "donor"), ("moss-84", "goal"), ("pip-72", "pack"), ("pip-72", "guard")]


@pytest.mark.parametrize(("build", "bolt"), TABS)
def test_every_tab_is_accessible_and_fits_a_phone(
    bench: Page, server: str, build: str, bolt: str
) -> None:
    """axe-core finds nothing under any tab, and nothing is wider than a phone."""
    open_bolt(bench, server, build, bolt)
    every_tab_holds(bench, 2)


def test_an_opened_part_comes_into_view_on_a_phone(bench: Page, server: str) -> None:
    bench.set_viewport_size({"width": 390, "height": 844})
    bench.goto(f"{server}/build/moss-84/goal")
    bench.get_by_role("main").get_by_role("button", name="Goal", exact=True).click()
    expect(
        bench.get_by_role("complementary").get_by_role("heading", name="Goal")
    ).to_be_in_viewport()
