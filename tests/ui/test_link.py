"""The link through the interface: connect, compare, write, off and on, look again; identify; swap; find a fault."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from accessible import violations
from benches import do
from ninebolt.core.setting.ours import OURS
from ninebolt.formats.eds import write_eds
from ninebolt.formats.ride_log import read_log
from ninebolt.services import controllers
from ninebolt.services.house import DATABASE, House


def tune(bench: Page, server: str, tab: str) -> None:
    bench.goto(f"{server}/build/moss-84/tune")
    bench.get_by_role("tab", name=tab).click()


@pytest.fixture(autouse=True)
def fresh(bench: Page, server: str, bench_bike: int) -> None:
    """Moss on the bench, its controller as it came, nothing connected."""
    do(bench_bike, "repair", name="all")
    bench.request.post(f"{server}/api/link/disconnect")
    bench.request.post(f"{server}/api/bench/load/moss-84")
    do(bench_bike, "hand", throttle=0.0, stand=True, brake=False)


def connect(bench: Page) -> None:
    bench.get_by_role("button", name="Connect the bench bike").click()
    expect(bench.get_by_text("Bench controller, serial 9001")).to_be_visible()


def test_read_compare_write_verify(bench: Page, server: str, bench_bike: int) -> None:
    tune(bench, server, "Controller")
    connect(bench)
    table = bench.get_by_role("table", name="Differences")
    expect(table.get_by_role("row", name=re.compile("Line amps 20 A 100 A"))).to_be_visible()
    write = bench.get_by_role("button", name=re.compile(r"^Write \d+ values"))
    expect(write).to_be_disabled()
    bench.get_by_text("The wheel is free or").click()
    write.click()
    expect(bench.get_by_text("A write is open: all")).to_be_visible()
    do(bench_bike, "cycle")
    bench.get_by_role("button", name="It was off and on: look again").click()
    expect(bench.get_by_text("hold after the power cycle")).to_be_visible()
    expect(bench.get_by_text("Nothing differs")).to_be_visible()
    bench.get_by_role("tab", name="Record").click()
    expect(bench.get_by_role("table", name="Read and written")).to_contain_text("verified")
    told = bench.get_by_text("This controller was last written for Moss 84.")
    expect(told).to_have_count(0)
    for page, part in (("tune", "Live"), ("tune", "Controller"), ("prove", "Faults")):
        bench.goto(f"{server}/build/brakka-96/{page}")  # the page of the wrong bike is open
        bench.get_by_role("tab", name=part).click()
        expect(told).to_be_visible()


def test_a_meter_reading_is_used_with_its_unit_or_asked_about_never_dropped(
    bench: Page, server: str, bench_bike: int
) -> None:
    """ "60 V" typed with its unit was taken for nothing, and the write went by what the controller said."""
    tune(bench, server, "Controller")
    connect(bench)
    bench.get_by_text("The wheel is free or").click()
    write = bench.get_by_role("button", name=re.compile(r"^Write \d+ values"))
    meter = bench.get_by_label("Pack by a meter, V")
    meter.fill("sixty")
    expect(write).to_be_disabled()
    expect(bench.get_by_text("'sixty' is not a number")).to_be_visible()
    meter.fill("40 V")
    write.click()
    expect(bench.get_by_text(re.compile("40(\\.0)? V")).first).to_be_visible()
    assert bench.request.get(f"{server}/api/link").json()["pending"] is None


def test_a_press_before_the_page_has_read_the_link_connects_the_bench(
    bench: Page, server: str, bench_bike: int
) -> None:
    """It went to an adapter without a name: the page did not know the bench's place yet."""
    bench.route(re.compile("/api/link$"), lambda route: route.abort())
    tune(bench, server, "Controller")
    with bench.expect_response("**/api/link/connect") as got:
        bench.get_by_role("button", name="Connect the bench bike").click()
    assert got.value.json()["device"]["serial"] == 9001


def test_a_cut_write_offers_both_ways_out(bench: Page, server: str, bench_bike: int) -> None:
    tune(bench, server, "Controller")
    connect(bench)
    do(bench_bike, "fault", name="reset-in-write", on=True)
    bench.get_by_text("The wheel is free or").click()
    bench.get_by_role("button", name=re.compile(r"^Write \d+ values")).click()
    expect(bench.get_by_text("lost what was written")).to_be_visible()
    do(bench_bike, "repair", name="reset-in-write")
    do(bench_bike, "cycle")
    opened = bench.get_by_role("alert").filter(has_text="A write is open")
    for name in ("Finish it", "Put the old values back"):  # each of them writes
        expect(opened.get_by_role("button", name=name)).to_be_disabled()
    opened.get_by_text("The wheel is free or").click()
    opened.get_by_role("button", name="Finish it").click()
    expect(bench.get_by_text("written, read back and stored")).to_be_visible()


def test_an_earlier_reading_goes_back_behind_the_same_hand(
    bench: Page, server: str, bench_bike: int
) -> None:
    """It was written at one press, beside nothing, by a hand that had not said the wheel is free."""
    tune(bench, server, "Controller")
    connect(bench)
    bench.get_by_role("button", name="Read and keep all").click()
    expect(bench.get_by_text("values read and kept")).to_be_visible()
    bench.get_by_text("The wheel is free or").click()
    bench.get_by_role("button", name=re.compile(r"^Write \d+ values")).click()
    expect(bench.get_by_text("A write is open")).to_be_visible()
    do(bench_bike, "cycle")
    bench.get_by_role("button", name="It was off and on: look again").click()
    expect(bench.get_by_text("Nothing differs")).to_be_visible()
    bench.get_by_role("tab", name="Record").click()
    bench.get_by_role("button", name="Write back …").last.click()
    panel = bench.get_by_role("group", name="Write an earlier reading back")
    write = panel.get_by_role("button", name=re.compile(r"^Write \d+ values"))
    expect(panel.get_by_role("table", name="Differences")).to_be_visible()
    expect(write).to_be_disabled()
    panel.get_by_text("The wheel is free or").click()
    expect(panel.get_by_text("With this set a stop stands")).to_be_visible()
    expect(write).to_be_disabled()  # what it came with is not this pack's
    panel.get_by_text("write all the same").click()
    with bench.expect_response("**/link/write") as got:
        write.click()
    assert got.value.request.post_data_json["free"] is True and got.value.ok


def test_a_file_is_judged_and_goes_in_behind_the_same_hand(
    bench: Page, server: str, bench_bike: int
) -> None:
    """600 V of over-voltage on a pack of 97 V looked like any other difference, and a file could not be written."""
    own = bench.request.get(f"{server}/api/builds/moss-84/parameters?kind=dcf&anyway=true").text()
    wild = re.sub(r"(\[2103\][^[]*ParameterValue=)\d+", r"\g<1>60000", own)
    tune(bench, server, "Controller")
    connect(bench)
    bench.get_by_role("tab", name="Record").click()
    for text, judged in ((wild, True), (own, False)):
        bench.get_by_label("Parameter set to compare").set_input_files(
            {"name": "found.dcf", "mimeType": "text/plain", "buffer": text.encode()}
        )
        said = bench.get_by_role("group", name="found.dcf, judged")
        if judged:
            expect(said).to_contain_text("Set to 600 V; at most 100 V")
        else:
            expect(said.get_by_role("img", name="stop")).to_have_count(0)
        bench.get_by_role("button", name="Write it into the controller").click()
        panel = bench.get_by_role("group", name="Write a file")
        panel.get_by_text("The wheel is free or").click()
        write = panel.get_by_role("button", name=re.compile(r"^Write \d+ values"))
        expect(write).to_be_disabled() if judged else expect(write).to_be_enabled()
    with bench.expect_response("**/link/write") as got:
        write.click()
    assert got.value.ok


def test_dangerous_live_values_that_do_not_come_any_more_are_not_shown(
    bench: Page, server: str, bench_bike: int, hung: Callable[[bool], None]
) -> None:
    """What stood there last says nothing of the motor by now: a page of 0 rpm, and no word, while the wheel turns."""
    tune(bench, server, "Controller")
    connect(bench)
    bench.get_by_role("tab", name="Live").click()
    values = bench.get_by_role("group", name="Live values")
    expect(values).to_contain_text(re.compile(r"volts\s*[89]\d"))
    hung(True)
    expect(bench.get_by_text("Nothing was heard for over 1.5 s")).to_be_visible()
    expect(values).not_to_contain_text(re.compile(r"volts\s*\d"))
    hung(False)
    expect(values).to_contain_text(re.compile(r"volts\s*[89]\d"))
    expect(bench.get_by_text("Nothing was heard for over")).to_have_count(0)


def test_dangerous_an_identification_that_is_not_heard_of_may_turn_still(
    bench: Page, server: str, bench_bike: int, hung: Callable[[bool], None]
) -> None:
    tune(bench, server, "Controller")
    connect(bench)
    bench.get_by_role("tab", name="Identify").click()
    bench.get_by_text("The wheel is free, my hand").click()
    bench.get_by_role("button", name="Start", exact=True).click()
    expect(bench.get_by_role("button", name="Stop the motor")).to_be_visible()
    hung(True)
    bench.get_by_role("button", name="Stop the motor").click()
    expect(bench.get_by_text("The motor may turn still: use the disconnect.")).to_be_visible()
    hung(False)  # stopped at last, or done by itself meanwhile: it is heard of again
    expect(bench.get_by_text(re.compile(r"has let the motor go|^Done\."))).to_be_visible()
    expect(bench.get_by_text("The motor may turn still")).to_have_count(0)


def test_live_values_and_a_recorded_ride(bench: Page, server: str, bench_bike: int) -> None:
    tune(bench, server, "Controller")
    connect(bench)
    bench.get_by_text("The wheel is free or").click()
    bench.get_by_role("button", name=re.compile(r"^Write \d+ values")).click()
    expect(bench.get_by_text("A write is open: all")).to_be_visible()
    do(bench_bike, "cycle")
    bench.get_by_role("tab", name="Live").click()
    values = bench.get_by_role("group", name="Live values")
    expect(values).to_contain_text(re.compile(r"volts\s*9[56]"))
    groups = bench.get_by_role("region", name="Groups by the BMS")
    expect(groups.get_by_role("status")).to_contain_text(re.compile(r"Group \d+ is lowest, 4\.1"))
    bench.get_by_role("button", name="Record", exact=True).click()
    expect(bench.get_by_role("button", name="End the recording")).to_be_visible()
    bench.wait_for_timeout(1500)
    do(bench_bike, "hand", stand=False)
    do(bench_bike, "hand", throttle=1.0)
    expect(values).to_contain_text(re.compile(r"speed by its settings\s*1[4-9]"))
    bench.wait_for_timeout(1500)
    do(bench_bike, "hand", throttle=0.0)
    bench.get_by_role("button", name="End the recording").click()
    bench.get_by_role("button", name="Keep it as a log").click()
    expect(bench.get_by_text("are now a log in Prove")).to_be_visible()
    logs = bench.request.get(f"{server}/api/builds/moss-84/logs").json()
    assert logs[0]["name"] == "live.csv"


def test_identified_and_adopted(bench: Page, server: str, bench_bike: int) -> None:
    tune(bench, server, "Controller")
    connect(bench)
    bench.get_by_role("tab", name="Identify").click()
    start = bench.get_by_role("button", name="Start", exact=True)
    expect(start).to_be_disabled()
    bench.get_by_text("The wheel is free, my hand").click()
    start.click()
    halt = bench.get_by_role("button", name="Stop the motor")
    halt.click()
    expect(bench.get_by_text("has let the motor go")).to_be_visible()
    expect(halt).to_have_count(0)
    start.click()
    expect(halt).to_be_visible()
    for _ in range(20):
        do(bench_bike, "wait", seconds=0.5)
    table = bench.get_by_role("table", name="Identified")
    expect(table).to_contain_text("as wired")
    bench.get_by_role("button", name="Take into the build as measured").click()
    expect(bench.get_by_text("Taken. Halls")).to_be_visible()
    doc = bench.request.get(f"{server}/api/builds/moss-84").json()["doc"]
    assert doc["drive"]["motor"]["r_phase_ohm"]["origin"] == "measured"


def test_another_pack_is_refused_before_it_is_connected(bench: Page, server: str) -> None:
    tune(bench, server, "Packs and purposes")
    bench.get_by_label("The pack reads, V").fill("96")
    expect(bench.get_by_text("cannot be the pack of Club's short pack")).to_be_visible()
    bench.get_by_label("The pack reads, V").fill("80")
    expect(bench.get_by_text("it fits Club's short pack")).to_be_visible()


def test_the_fault_finder_takes_what_the_controller_holds(
    bench: Page, server: str, bench_bike: int
) -> None:
    """It came with the cut-off of another pack: read over the link, taken at one press, named."""
    tune(bench, server, "Controller")
    connect(bench)
    bench.goto(f"{server}/build/moss-84/prove")
    bench.get_by_role("tab", name="Faults").click()
    bench.get_by_label("What it does").select_option("cuts out under load")
    known = bench.get_by_role("group", name="Known already")
    row = known.locator("div", has_text="Cut-off in the controller").first
    expect(row).to_contain_text("the parameters in the controller: low-voltage cut-off 40 V")
    row.get_by_role("button", name="Take no").first.click()
    expect(bench.get_by_text("The cut-off is set for another pack: write")).to_be_visible()


def test_a_hidden_fault_is_found(bench: Page, server: str, bench_bike: int) -> None:
    bench.goto(f"{server}/bench")
    bench.get_by_role("button", name="Hide a fault").click()
    expect(bench.get_by_text("Something is wrong")).to_be_visible()
    do(bench_bike, "practice", seed=3)  # the same one on every run
    bench.get_by_role("button", name="Two phases, ohms").click()
    expect(bench.get_by_role("table", name="Readings")).to_be_visible()
    labels = [b.inner_text() for b in bench.get_by_role("heading").all()]
    assert labels
    found = False
    for name in ("swap two phase leads back", "identify again, or move the wires", "mend the hall's wire",
                 "measure and set its ends", "change the group", "replace the plug", "replace the BMS",
                 "clean and refit its case", "free the brake"):  # fmt: skip
        with bench.expect_response(lambda r: '"repair"' in (r.request.post_data or "")) as got:
            bench.get_by_role("button", name=name).click()
        if got.value.json()["right"]:
            found = True
            break
    assert found
    expect(bench.get_by_text("Found:")).to_be_visible()
    expect(bench.get_by_text("points with 1 readings")).to_be_visible()


@pytest.mark.parametrize("path", ["/bench", "/build/moss-84/tune"])
def test_accessible_and_fits_a_phone(bench: Page, server: str, path: str) -> None:
    bench.set_viewport_size({"width": 390, "height": 844})
    bench.goto(f"{server}{path}")
    bench.wait_for_load_state("networkidle") if path != "/bench" else bench.wait_for_timeout(800)
    if "tune" in path:
        bench.get_by_role("tab", name="Controller").click()
        connect(bench)
    assert bench.evaluate("document.documentElement.scrollWidth") <= 390
    assert violations(bench, "phone") == []


def test_a_ride_on_the_bench_is_saved_as_a_file_that_prove_reads(
    bench: Page, server: str, bench_bike: int
) -> None:
    bench.goto(f"{server}/bench")
    bench.get_by_role("button", name="Record", exact=True).click()
    expect(bench.get_by_role("button", name=re.compile("End and save"))).to_be_visible()
    do(bench_bike, "wait", seconds=3)
    with bench.expect_download() as got:
        bench.get_by_role("button", name=re.compile("End and save")).click()
    ride = read_log(got.value.path().read_bytes(), "bench-ride.csv")
    assert {"t_s", "speed_m_s", "bus_v", "line_a", "throttle"} <= set(ride.columns) and len(
        ride.columns["t_s"]
    ) > 250


def test_a_scale_that_is_no_number_is_not_taken_for_one(
    bench: Page, server: str, running: tuple[str, Path], tmp_path: Path
) -> None:
    """Taken for 1 it would be written as ten times the amps: nothing is kept until it is a number, a comma is one."""
    eds = tmp_path / "other.eds"
    eds.write_bytes(write_eds(OURS))
    tune(bench, server, "Controller")
    bench.get_by_role("button", name="Another adapter").click()
    bench.get_by_label("Controller profile").set_input_files(eds)
    bench.get_by_label("Meaning of Line amps, 0x2104:00", exact=True).select_option(
        label="Line amps"
    )
    scale = bench.get_by_label("Scale of Line amps, 0x2104:00", exact=True)
    keep = bench.get_by_role("button", name="Keep this kind of controller")
    for wrong in ("a tenth", "0"):
        scale.fill(wrong)
        keep.click()
        expect(bench.get_by_text("scale and offset are numbers")).to_be_visible()
    kinds = bench.request.get(f"{server}/api/link/profiles").json()
    assert "other" not in {k["name"] for k in kinds}
    scale.fill("0,1")
    bench.get_by_label("Offset of Line amps, 0x2104:00", exact=True).fill("-4")
    shown = bench.get_by_label("Meaning of Line amps, 0x3002:00", exact=True)
    shown.select_option("line_a")
    bench.get_by_label("Scale of Line amps, 0x3002:00", exact=True).fill("1")
    scale.fill("0,1")
    keep.click()
    expect(bench.get_by_text("another object means Line amps already")).to_be_visible()
    shown.select_option(label="–")
    bench.get_by_label("Scale of Motor speed, 0x3004:00", exact=True).fill("2")
    bench.get_by_label("Its fault codes, from its papers").fill(
        "12; volts too low; 1; 2; the pack is empty | a plug"
    )
    with bench.expect_response("**/link/profiles") as got:
        keep.click()
    assert got.value.status == 201
    made = controllers.profiles(House(running[1] / DATABASE))[-1]
    assert (made.places["line_a"].scale, made.places["line_a"].offset) == (0.1, -4.0)
    assert made.shows["rpm"].scale == 2.0 and made.codes[12].causes == (
        "the pack is empty",
        "a plug",
    )
    assert set(made.places) == {"line_a"} and set(made.shows) == {
        "rpm"
    }  # a guess alone has no scale
    expect(bench.get_by_role("status").filter(has_text="were only guessed")).to_be_visible()
    own = bench.request.get(f"{server}/api/builds/moss-84/parameters?kind=dcf&anyway=true").text()
    bench.get_by_role("tab", name="Record").click()
    bench.get_by_label("Parameter set to compare").set_input_files(
        {"name": "found.dcf", "mimeType": "text/plain", "buffer": own.encode()}
    )
    expect(bench.get_by_text("found.dcf beside this build")).to_be_visible()
    expect(bench.get_by_role("table", name="Differences")).to_have_count(0)
    bench.get_by_label("Controller that the file is of").select_option(label="other")
    expect(bench.get_by_role("table", name="Differences")).to_contain_text("Line amps")


def test_an_adapter_is_described_by_its_words_and_remembered(
    bench: Page, server: str, bench_bike: int
) -> None:
    """Another controller has another number on the bus; asked as number 16 it would never answer."""
    tune(bench, server, "Controller")
    bench.get_by_role("button", name="Another adapter").click()
    press = bench.get_by_role("button", name="Connect", exact=True)
    bench.get_by_label("Interface", exact=True).fill("slcan")
    bench.get_by_label("Channel", exact=True).fill(f"socket://127.0.0.1:{bench_bike}")
    for label, wrong, right in (
        ("Node", "200", "0x10"),
        ("Bits a second", "fast", "250000"),
        ("More options", "quick please", "sleep_after_open=0"),
    ):
        field = bench.get_by_label(label, exact=True)
        field.fill(wrong)
        expect(bench.get_by_text(f"{label}: ").first).to_be_visible()
        expect(press).to_be_disabled()
        field.fill(right)
    press.click()
    expect(bench.get_by_role("button", name="Disconnect")).to_be_visible()
    bench.get_by_role("button", name="Disconnect").click()
    tune(bench, server, "Controller")
    bench.get_by_role("button", name="Another adapter").click()
    expect(bench.get_by_label("Node", exact=True)).to_have_value("16")
    expect(bench.get_by_label("More options", exact=True)).to_have_value("sleep_after_open=0")


def test_a_code_is_looked_up_by_its_flashes_without_a_link(bench: Page, server: str) -> None:
    """Two long and one short: a hall. The throttle's code while its plug is off is expected; riding it is real; one
    that is in no table is said to be none."""
    tune(bench, server, "Live")
    codes = bench.get_by_role("region", name="What a code means")
    codes.get_by_label("Long flashes").fill("2")
    codes.get_by_label("Short flashes").fill("1")
    expect(codes.get_by_role("status")).to_contain_text("hall signal wrong")
    expect(codes.get_by_role("status")).to_contain_text("Measure: ")
    codes.get_by_label("Long flashes").fill("")
    codes.get_by_label("Short flashes").fill("")
    codes.get_by_label("Number shown").fill("3")
    expect(codes.get_by_role("status")).to_contain_text("A real fault")
    codes.get_by_label("While").select_option("identification with the throttle unplugged")
    expect(codes.get_by_role("status")).to_contain_text("Expected during identification")
    codes.get_by_label("Number shown").fill("77")
    expect(codes.get_by_role("status")).to_contain_text("Not in this controller's table")
