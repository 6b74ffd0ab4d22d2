"""Choosing through the interface: what holds it back, builds and parts side by side, the shelf."""

from __future__ import annotations

from playwright.sync_api import Page, expect


def test_the_choke_tile_opens_what_holds_it_back_and_a_lever_is_tried(
    bench: Page, server: str
) -> None:
    bench.goto(f"{server}/build/moss-84/drive")
    strip = bench.get_by_role("group", name="Headline")
    strip.get_by_role("button").filter(has_text="choke").click()
    panel = bench.get_by_role("region", name="What holds it back")
    expect(panel.get_by_role("img")).to_be_visible()
    lever = panel.get_by_role("button", name="Try Rear sprocket").first
    with bench.expect_response("**/changes?*"):
        lever.click()
    expect(bench.get_by_role("button", name="Drop")).to_be_visible()
    expect(strip).to_contain_text("was")


def test_builds_are_put_side_by_side_in_the_garage(bench: Page) -> None:
    bench.goto("/")
    for name in ("Brakka 96", "Moss 84"):
        card = bench.get_by_role("article", name=name, exact=True)
        card.get_by_role("button", name="Side by side").click()
    table = bench.get_by_role("table", name="Builds side by side")
    expect(table.get_by_role("row").filter(has_text="Top speed")).to_contain_text("best")
    expect(bench.get_by_text("Not alike")).to_be_visible()


def test_the_shelf_is_searched_and_shows_a_pack_s_own_volts(bench: Page, server: str) -> None:
    bench.goto(f"{server}/parts")
    table = bench.get_by_role("table", name="Parts")
    bench.get_by_label("Find").fill("ready 72")
    row = table.get_by_role("row").filter(has_text="Ready-made pack 72 V 30 Ah")
    expect(row).to_contain_text("72 V")
    expect(row).to_contain_text("30 Ah")
    bench.get_by_label("Find").fill("pack")
    bench.get_by_label("Order").select_option("most energy")
    expect(table.get_by_role("row").nth(1)).to_contain_text("96 V 40 Ah")
    picture = bench.get_by_role("group", name="W per kg, peak against Wh per kg")
    picture.get_by_role("button", name="Tool pack 18 V").click(force=True)
    expect(bench.get_by_role("region", name="Tool pack 18 V 5 Ah as a whole")).to_be_visible()


def test_two_parts_are_put_beside_each_other(bench: Page, server: str) -> None:
    bench.goto(f"{server}/parts")
    bench.get_by_label("Kind of part").select_option("motor")
    for name in ("Mid-drive 12 kW", "Mid-drive 20 kW"):
        bench.get_by_role("button", name=f"Put {name} beside another").click()
    two = bench.get_by_role("table", name="Two parts")
    expect(two.get_by_role("row").filter(has_text="On the label")).to_contain_text("× 1.67")


def test_the_keyboard_skips_to_the_work_and_closes_what_is_open(bench: Page, server: str) -> None:
    bench.goto(f"{server}/build/moss-84/drive")
    expect(bench.get_by_role("heading", level=1, name="Drive")).to_be_visible()
    bench.keyboard.press("Tab")
    expect(bench.get_by_role("link", name="Skip to the work")).to_be_focused()
    bench.keyboard.press("Enter")
    expect(bench.get_by_role("heading", level=1, name="Drive")).to_be_focused()
    strip = bench.get_by_role("group", name="Headline")
    strip.get_by_role("button").filter(has_text="choke").click()
    expect(bench.get_by_role("region", name="What holds it back")).to_be_visible()
    bench.keyboard.press("Escape")
    expect(bench.get_by_role("region", name="What holds it back")).to_have_count(0)


def test_tabs_go_round_with_the_arrow_keys_and_to_the_ends(bench: Page, server: str) -> None:
    bench.goto(f"{server}/build/moss-84/goal")
    first, last = (
        bench.get_by_role("tab", name=n) for n in ("Wanted against computed", "Whole builds")
    )
    first.click()
    for key, there in (("ArrowLeft", last), ("ArrowRight", first), ("End", last), ("Home", first)):
        bench.keyboard.press(key)
        expect(there).to_be_focused()
        expect(there).to_have_attribute("aria-selected", "true")


def test_a_part_is_chosen_by_eye_inside_a_build(bench: Page, server: str) -> None:
    bench.goto(f"{server}/build/moss-84/drive")
    bench.get_by_role("button", name="Motor Mid-drive 5 kW").click()
    bench.get_by_role("button", name="Choose by eye").click()
    shelf = bench.get_by_role("group", name="Shelf")
    shelf.get_by_label("Find on the shelf").fill("mid 12")
    shelf.get_by_role("button", name="Mid-drive 12 kW", exact=True).click()
    with bench.expect_response("**/changes?*"):
        shelf.get_by_role("button", name="Take Mid-drive 12 kW").click()
    expect(shelf.get_by_role("button", name="Fitted")).to_be_disabled()


def test_a_name_of_eighty_letters_widens_no_page(bench: Page, server: str) -> None:
    bench.request.patch(f"{server}/api/builds/moss-84", data={"name": "M" * 80})
    bench.set_viewport_size({"width": 390, "height": 844})
    for path in ("/", "/build/moss-84/gear", "/build/moss-84/goal"):
        bench.goto(f"{server}{path}")
        expect(bench.get_by_role("heading", level=1)).to_be_visible()
        bench.wait_for_load_state("networkidle")
        assert bench.evaluate("document.documentElement.scrollWidth") <= 390, path


def test_a_bench_prints_as_a_sheet_without_buttons(bench: Page, server: str) -> None:
    bench.goto(f"{server}/build/moss-84/gear")
    expect(bench.get_by_role("table", name="Sprocket pairs")).to_be_visible()
    bench.emulate_media(media="print")
    for name in ("Undo", "Sign off", "What if", "Take 12/58"):
        expect(bench.get_by_role("button", name=name).first).to_be_hidden()
    expect(bench.get_by_role("tablist")).to_be_hidden()
    expect(bench.get_by_role("table", name="Sprocket pairs")).to_be_visible()
    expect(bench.get_by_role("group", name="Figures")).to_be_visible()


def test_a_what_if_is_put_beside_what_is_kept(bench: Page) -> None:
    bench.goto("/build/moss-84/gear")
    bench.get_by_role("button", name="What if …").click()
    bench.get_by_role("link", name="Beside what is kept").click()
    table = bench.get_by_role("table", name="Builds side by side")
    expect(table).to_contain_text("Moss 84, as kept")
    bench.goto("/build/moss-84/gear")
    bench.get_by_role("button", name="Drop").click()
    bench.get_by_role("button", name="Changes").click()
    bench.get_by_role("link", name="Today's bike beside").first.click()
    expect(table).to_contain_text("Moss 84, change")


def test_a_kept_change_reads_as_it_was_made(bench: Page, server: str) -> None:
    """A log by its name, a value that was only measured by what is known of it now, a flag by yes and no."""
    url = f"{server}/api/builds/moss-84"
    rows = "".join(f"{k / 10},{max(k - 30, 0) / 10}\n" for k in range(200))
    file = {
        "name": "first pull.csv",
        "mimeType": "text/csv",
        "buffer": f"t_s,speed_m_s\n{rows}".encode(),
    }
    assert bench.request.post(f"{url}/logs", multipart={"file": file}).ok
    cda = bench.request.get(url).json()["doc"]["road"]["cda_m2"]
    measured = {**cda, "origin": "measured", "tolerance": 0.02}
    change = {"changes": [{"path": "road.cda_m2", "value": measured}]}
    assert bench.request.post(f"{url}/changes", data=change).ok
    bench.goto("/build/moss-84/gear")
    bench.get_by_role("button", name="Changes").click()
    kept = bench.get_by_role("region", name="Kept changes")
    expect(kept).to_contain_text("→ first pull.csv")
    expect(kept).to_contain_text(f"{cda['origin']}")
    expect(kept).to_contain_text("→ measured ± 2 %")
