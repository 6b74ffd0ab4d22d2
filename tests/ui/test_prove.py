"""Prove through the interface: commission in order, find a fault, plan and ride a comparison, learn from a run."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from accessible import every_tab_holds
from ninebolt.bench.ride import coast_down
from ninebolt.formats.ride_csv import write_ride
from ninebolt.library.demo import moss

AT = pytest.mark.parametrize("width", [1280, 390])


def prove(
    bench: Page, server: str, tab: str, build: str = "moss-84", width: int | None = None
) -> None:
    if width:
        bench.set_viewport_size({"width": width, "height": 844})
    bench.goto(f"{server}/build/{build}/prove")
    bench.get_by_role("tab", name=tab).click()


@AT
def test_gates_are_entered_in_their_order(bench: Page, server: str, width: int) -> None:
    prove(bench, server, "First power", width=width)
    expect(bench.get_by_text("0 of 28 gates are passed").first).to_be_visible()
    bench.get_by_role("button", name=re.compile("Plus is plus")).click()
    expect(bench.get_by_text("A gate before it is not passed")).to_be_visible()
    bench.get_by_role("button", name=re.compile("Groups stand together")).click()
    bench.get_by_label("Reading, V").fill("12 mV")
    bench.get_by_role("button", name="Enter", exact=True).click()
    expect(bench.get_by_text("1 of 28 gates are passed").first).to_be_visible()
    bench.get_by_role("button", name=re.compile("Plus is plus")).click()
    expect(bench.get_by_text("Must read 64.4 V to 97.1 V")).to_be_visible()
    bench.get_by_label("Reading, V").fill("-92")
    bench.get_by_role("button", name="Enter", exact=True).click()
    expect(bench.get_by_role("complementary").get_by_text("Failed: Plus is plus")).to_be_visible()


@AT
def test_a_fault_is_narrowed_down(bench: Page, server: str, width: int) -> None:
    prove(bench, server, "Faults", width=width)
    bench.get_by_label("What it does").select_option("cuts out under load")
    expect(bench.get_by_text("Read next: Greatest minus least group")).to_be_visible()
    bench.get_by_label("Reading, V").fill("0.3")
    bench.get_by_role("button", name="Take it").click()
    expect(bench.get_by_text("One group has little left: change the group;")).to_be_visible()


@AT
def test_a_comparison_is_planned_ridden_and_judged(bench: Page, server: str, width: int) -> None:
    prove(bench, server, "Compare", width=width)
    bench.get_by_label("Setups, ; between them").fill("12 front; 13 front")
    bench.get_by_role("button", name="Plan it").click()
    expect(bench.get_by_text("trials of each show a gap")).to_be_visible()
    for setup, value in (
        ("12 front", "8.21"),
        ("13 front", "7.93"),
        ("12 front", "8.19"),
        ("13 front", "7.9"),
        ("12 front", "8.24"),
        ("13 front", "7.95"),
    ):
        bench.get_by_role("group", name="Setup of this run").get_by_role(
            "button", name=re.compile("^" + setup)
        ).click()
        bench.get_by_label("Value of the run").fill(value)
        with bench.expect_response("**/trials"):
            bench.get_by_role("button", name="Take the run").click()
        expect(bench.get_by_label("Value of the run")).to_have_value("")
    expect(
        bench.get_by_text(
            re.compile("13 front is better than 12 front|12 front is worse than 13 front")
        )
    ).to_be_visible()
    bench.get_by_role("button", name="Discard …").first.click()
    bench.get_by_label("Reason").fill("missed the line")
    bench.get_by_role("button", name="Discard", exact=True).click()
    expect(bench.get_by_text("discarded: missed the line")).to_be_visible()


@AT
def test_the_model_learns_from_a_log(bench: Page, server: str, width: int) -> None:
    prove(bench, server, "Learn", width=width)
    runs = bench.get_by_role("group", name="Runs from rest")
    runs.get_by_role("button", name=re.compile("gps")).click()
    bench.get_by_role("button", name="What do they say?").click()
    expect(bench.get_by_role("table", name="Learned from runs")).to_contain_text("Drag area")
    take = bench.get_by_role("button", name=re.compile("into the build as measured"))
    with bench.expect_response("**/changes?*"):
        take.click()
    doc = bench.request.get(f"{server}/api/builds/moss-84").json()["doc"]
    assert doc["road"]["cda_m2"]["origin"] == "measured"


def test_the_model_learns_from_rolling_out(bench: Page, server: str) -> None:
    """Two coast-downs are imported; alone they tell air and rolling, and a braked stop is refused in words."""
    for wind in (1.0, -1.0):
        data = write_ride(coast_down(moss(), 3, [], 17.0, wind))
        got = bench.request.post(
            f"{server}/api/builds/moss-84/logs",
            multipart={
                "file": {"name": f"roll{wind:+.0f}.csv", "mimeType": "text/csv", "buffer": data}
            },
        )
        assert got.ok
    prove(bench, server, "Learn")
    rolls = bench.get_by_role("group", name="Coast-downs")
    rolls.get_by_role("button", name="roll+1.csv").click()
    rolls.get_by_role("button", name="roll-1.csv").click()
    bench.get_by_role("button", name="What do they say?").click()
    expect(bench.get_by_text(re.compile("Rolled in roll"))).to_have_count(2)
    expect(bench.get_by_text(re.compile("In what wind 2 of the coast-downs"))).to_be_visible()
    rolls.get_by_role("button", name=re.compile("gps")).click()
    bench.get_by_role("button", name="What do they say?").click()
    expect(bench.get_by_text(re.compile("No coast-down was found"))).to_be_visible()


def test_no_ride_without_a_helmet_and_in_quarantine(bench: Page, server: str) -> None:
    prove(bench, server, "Ride it?", "brakka-96")
    expect(bench.get_by_text(re.compile("Not now: .*helmet"))).to_be_visible()
    bench.get_by_label("What happened").fill("fell at the gate")
    bench.get_by_role("button", name="Quarantine the bike").click()
    expect(bench.get_by_text("In quarantine: fell at the gate")).to_be_visible()
    expect(bench.get_by_role("complementary").get_by_text("Not to be ridden")).to_be_visible()
    bench.get_by_role("button", name="lift it").click()
    expect(bench.get_by_text("In quarantine: fell")).to_have_count(0)


@pytest.mark.parametrize("bolt", ["tune", "prove"])
def test_every_tab_is_accessible_and_fits_a_phone(bench: Page, server: str, bolt: str) -> None:
    bench.goto(f"{server}/build/moss-84/{bolt}")
    bench.wait_for_load_state("networkidle")
    every_tab_holds(bench, 6)


def test_a_log_is_looked_at_closely_and_laid_over_another(bench: Page, server: str) -> None:
    """Values at the cursor from the picture's own text; closer, along, back; what held it; time lost."""
    prove(bench, server, "Traces", "brakka-96")
    bench.get_by_label("Log", exact=True).select_option(label="brakka-96-simulated-controller.csv")
    strips = bench.get_by_role("img", name="Channels of the log")
    strips.focus()
    bench.keyboard.press("ArrowRight")
    expect(strips).to_have_accessible_name(re.compile(r"at .*speed .*pack volts 1.*V, line amps"))
    expect(bench.get_by_text(re.compile(r"0.s to 2[\d.]+.s"))).to_be_visible()
    bench.get_by_role("button", name="Closer").click()
    expect(bench.get_by_text(re.compile(r"0.s to 2[\d.]+.s"))).to_have_count(0)
    bench.get_by_role("button", name="All of it").click()
    expect(bench.get_by_text(re.compile(r"0.s to 2[\d.]+.s"))).to_be_visible()
    held = bench.get_by_role("img", name="By the log")
    expect(held).to_have_accessible_name(re.compile("By the log: .*phase.*Predicted: .*phase"))
    bench.get_by_label("Log", exact=True).select_option(label="brakka-96-simulated-gps.csv")
    expect(bench.get_by_text("The log does not show what held it.")).to_be_visible()
    bench.get_by_role("tab", name="Overlay").click()
    expect(bench.get_by_text("neither is ahead")).to_be_visible()
    bench.get_by_label("Channel").select_option(label="line amps")
    expect(bench.get_by_role("img", name="line amps of each run over time")).to_be_visible()


def test_a_time_from_a_film(bench: Page, server: str) -> None:
    prove(bench, server, "Compare")
    for label, value in (
        ("it rolls at", "10"),
        ("at the mark", "14.2"),
        ("frames a second", "30"),
        ("claimed", "3.5"),
    ):
        bench.get_by_label(label).fill(value)
    bench.get_by_role("button", name="Take the time").click()
    expect(
        bench.get_by_text("are not told")
    ).to_be_visible()  # in slow motion it would be another time
    bench.get_by_label("slowed by").fill("1")
    bench.get_by_role("button", name="Take the time").click()
    expect(bench.get_by_text("are contradicted")).to_be_visible()
    bench.get_by_role("button", name="The mark can be read").click()
    bench.get_by_role("button", name="Take the time").click()
    expect(bench.get_by_text("Unverified: the mark")).to_be_visible()


def test_a_dropped_connection_loses_no_run(bench: Page, server: str) -> None:
    """Runs tapped while nothing is answered stay in the browser, over a reload, and are sent once."""
    prove(bench, server, "Compare", "brakka-96")
    bench.get_by_label("Setups, ; between them").fill("offline A; offline B")
    bench.get_by_label("Called").fill("Dropped")
    bench.get_by_role("button", name="Plan it").click()
    bench.get_by_role("button", name=re.compile("Dropped")).click()
    bench.route("**/trials", lambda route: route.abort())
    for value in ("15.1", "15.3"):
        bench.get_by_label("Value of the run").fill(value)
        bench.get_by_role("button", name="Take the run").click()
    expect(bench.get_by_text("2 runs are kept here, not sent yet")).to_be_visible()
    bench.reload()
    bench.get_by_role("tab", name="Compare").click()
    bench.get_by_role("button", name=re.compile("Dropped")).click()
    expect(bench.get_by_text("2 runs are kept here, not sent yet")).to_be_visible()
    bench.unroute("**/trials")
    expect(bench.get_by_text("kept here")).to_have_count(0)
    runs = bench.get_by_role("table", name="Runs")
    expect(runs.get_by_text("15.1")).to_have_count(1)
    expect(runs.get_by_text("15.3")).to_have_count(1)


def test_a_run_that_the_server_could_not_take_is_sent_from_any_page(
    bench: Page, server: str
) -> None:
    """A full disk is no refusal: the run stays, and goes from whatever page is open once there is room."""
    prove(bench, server, "Compare", "brakka-96")
    plan(bench, "full A; full B", "Full disk")
    failed = {"code": "store", "message": "The garage cannot be written."}
    bench.route("**/trials", lambda route: route.fulfill(status=500, json=failed))
    bench.get_by_label("Value of the run").fill("15.7")
    bench.get_by_role("button", name="Take the run").click()
    expect(bench.get_by_text("1 run is kept here, not sent yet")).to_be_visible()
    bench.get_by_role("button", name="Garage").click()
    expect(bench.get_by_role("heading", name="Garage")).to_be_visible()
    with bench.expect_response(lambda r: r.url.endswith("/trials") and r.ok):
        bench.unroute("**/trials")
    url = f"{server}/api/builds/brakka-96/sessions"
    taken = [t["value"] for s in bench.request.get(url).json() for t in s["trials"]]
    assert taken.count(15.7) == 1


def test_a_gate_entered_out_of_reach_is_sent_when_the_connection_is_back(
    bench: Page, server: str
) -> None:
    """On a phone beside the bike: kept over a reload, sent once, and the next gate opens."""
    bench.set_viewport_size({"width": 390, "height": 844})
    bench.route("**/gates/*", lambda route: route.abort())
    prove(bench, server, "First power", "moss-84")
    bench.get_by_role("button", name="It is so").click()
    waits = bench.get_by_text('"it is so" is kept here, not sent yet')
    expect(waits).to_be_visible()
    bench.reload()
    bench.get_by_role("tab", name="First power").click()
    expect(waits).to_be_visible()
    with bench.expect_response(lambda r: "/gates/" in r.url and r.ok) as came:
        bench.unroute("**/gates/*")
    sent = (
        came.value.request.post_data_json
    )  # for the build that it was looked at on, and as long ago as it was
    assert (
        sent["ago_s"] > 0
        and sent["seq"] == bench.request.get(f"{server}/api/builds/moss-84").json()["seq"] - 1
    )
    expect(waits).to_have_count(0)
    expect(bench.get_by_text("1 of 28 gates are passed").first).to_be_visible()


def test_a_page_that_is_closed_before_the_answer_keeps_its_gate(bench: Page, server: str) -> None:
    """The connection hangs, and the phone goes into the pocket."""
    bench.route("**/gates/*", lambda route: None)
    prove(bench, server, "First power", "moss-84")
    with bench.expect_request("**/gates/*"):
        bench.get_by_role("button", name="It is so").click()
    bench.goto("about:blank")
    bench.unroute("**/gates/*")
    prove(bench, server, "First power", "moss-84")
    expect(bench.get_by_text("1 of 28 gates are passed").first).to_be_visible()


def test_a_run_that_is_refused_is_not_lost(bench: Page, server: str) -> None:
    """The session went while the phone was out of reach: the run stays, with its value and the reason, until it is
    taken or let go by hand."""
    prove(bench, server, "Compare", "brakka-96")
    plan(bench, "gone A; gone B", "Removed")
    url = f"{server}/api/builds/brakka-96/sessions"
    made = next(s["id"] for s in bench.request.get(url).json() if s["name"] == "Removed")
    bench.route("**/trials", lambda route: route.abort())
    for value in ("15.8", "15.9"):
        bench.get_by_label("Value of the run").fill(value)
        bench.get_by_role("button", name="Take the run").click()
    assert bench.request.delete(f"{url}/{made}").ok
    bench.unroute("**/trials")
    kept = bench.get_by_role("alert").filter(has_text="Kept here, not taken: gone A, 15.8")
    expect(kept).to_be_visible()
    bench.reload()
    bench.get_by_role("tab", name="Compare").click()
    expect(kept).to_be_visible()
    assert bench.request.post(f"{url}/{made}/back").ok
    with bench.expect_response("**/trials"):
        kept.get_by_role("button", name="Try again").click()
    expect(kept).to_have_count(0)
    other = bench.get_by_role("alert").filter(has_text="15.9")
    other.get_by_role("button", name="Let it go").click()
    expect(other).to_have_count(0)


def test_a_roll_on_and_a_way_between_marks_are_timed_in_a_log(bench: Page, server: str) -> None:
    prove(bench, server, "Traces", "brakka-96")
    bench.get_by_label("Roll-on from").fill("30")
    bench.get_by_label("Roll-on to").fill("60")
    bench.get_by_role("button", name="Find each").click()
    table = bench.get_by_role("table", name="Times from 30 km/h to 60 km/h")
    expect(table.get_by_role("row").nth(1)).to_contain_text("s")
    bench.get_by_label("Roll-on to").fill("20")
    bench.get_by_role("button", name="Find each").click()
    expect(bench.get_by_role("alert")).to_contain_text("roll-on goes from")


def plan(bench: Page, setups: str, called: str) -> None:
    """Plan a session of the protocol that is chosen, and open it."""
    bench.get_by_label("Setups, ; between them").fill(setups)
    bench.get_by_label("Called").fill(called)
    bench.get_by_role("button", name="Plan it").click()
    bench.get_by_role("button", name=re.compile(f"^{called}")).click()


def test_a_run_takes_its_value_from_its_log(bench: Page, server: str) -> None:
    """The mark is chosen, the time stands in the field; speeds are entered in the unit that is shown."""
    prove(bench, server, "Compare", "moss-84")
    plan(bench, "12 front; 13 front", "From logs")
    bench.get_by_label("Its log").select_option(index=1)
    bench.get_by_label("From its log").select_option("1/4 mile")
    value = bench.get_by_label("Value of the run").input_value()
    assert 21.0 < float(value) < 23.0
    bench.get_by_label("Which tyre").fill("knobbly")
    bench.get_by_role("button", name="Take the run").click()
    expect(bench.get_by_role("table", name="Runs")).to_contain_text("knobbly")
    expect(bench.get_by_label("Which tyre")).to_have_value("knobbly")
    bench.get_by_label("Protocol").select_option("top speed, flat, both ways")
    plan(bench, "12 front; 13 front", "Top speeds")
    expect(bench.get_by_text("Speed, km/h", exact=True)).to_be_visible()
    bench.get_by_label("Value of the run").fill("90")
    bench.get_by_role("button", name="Take the run").click()
    expect(bench.get_by_role("table", name="Runs")).to_contain_text("90 km/h")
    doc = bench.request.get(f"{server}/api/builds/moss-84/sessions").json()
    assert doc[0]["trials"][0]["value"] == pytest.approx(25.0)
    bench.get_by_role("button", name="Remove this session …").click()
    bench.get_by_role("button", name="Remove it with its run").click()
    expect(bench.get_by_role("button", name=re.compile("^Top speeds"))).to_have_count(0)
    bench.get_by_role("button", name="Put Top speeds back").click()
    bench.get_by_role("button", name=re.compile("^Top speeds")).click()
    expect(bench.get_by_role("table", name="Runs")).to_contain_text("90 km/h")


def test_a_range_loop_is_a_way_in_kilometres(bench: Page, server: str) -> None:
    """Planned and ridden in the unit a rider knows; farther is better."""
    prove(bench, server, "Compare", "moss-84")
    bench.get_by_label("Protocol").select_option("range loop")
    expect(bench.get_by_text("Gap to be seen, km", exact=True)).to_be_visible()
    plan(bench, "knobbly; road", "Loop")
    bench.get_by_label("Its log").select_option(index=1)
    bench.get_by_label("From its log").select_option("way of the ride")
    expect(bench.get_by_label("Value of the run")).to_have_value("0.52081")  # kilometres, of 521 m
    bench.get_by_label("Its log", exact=True).select_option(index=0)
    for setup, km in (("knobbly", "30"), ("road", "33"), ("road", "33.4"), ("knobbly", "30.5")):
        bench.get_by_role("button", name=re.compile(f"^{setup}")).first.click()
        bench.get_by_label("Value of the run").fill(km)
        bench.get_by_role("button", name="Take the run").click()
        expect(bench.get_by_role("table", name="Runs")).to_contain_text(f"{km} km")
    expect(
        bench.get_by_text(re.compile(r"road is better than knobbly by 2\.95\skm"))
    ).to_be_visible()
    expect(bench.get_by_role("table", name="Setups")).to_contain_text("33.4 km")


def test_a_photo_is_kept_at_a_gate(bench: Page, server: str, tmp_path: Path) -> None:
    """A real picture: taken, shown, still there after a reload, deleted by a second press."""
    shot = tmp_path / "torque.png"
    prove(bench, server, "First power")
    bench.screenshot(path=str(shot), clip={"x": 0, "y": 0, "width": 300, "height": 200})
    bench.get_by_text("Bolts are torqued and marked").first.click()
    bench.get_by_label("Photo of Bolts are torqued and marked").set_input_files(str(shot))
    photo = bench.get_by_role("img", name="Photo 1 of Bolts are torqued and marked")
    expect(photo).to_be_visible()
    expect(photo).to_have_js_property("complete", True)
    assert photo.evaluate("e => e.naturalWidth") > 100
    prove(bench, server, "First power")
    bench.get_by_text("Bolts are torqued and marked").first.click()
    expect(photo).to_be_visible()
    bench.get_by_role("button", name="Delete Photo 1").click()
    bench.get_by_role("button", name="Delete it").click()
    expect(photo).to_have_count(0)


NEEDS_NO_RUN = {
    "drive": ("Read a label", "Rewind", "Measure the motor"),
    "gear": ("Brakes and tyres", "Springs and seat", "Stance", "Chain"),
    "pack": ("Checks and sums",),
    "prove": (
        "Figures",
        "Traces",
        "First power",
        "Ride it?",
        "Claims",
        "Faults",
        "Compare",
        "Book",
    ),
    "tune": ("Values", "Controller", "Live", "Identify", "Packs and purposes", "Record"),
}


@pytest.mark.parametrize("bolt", NEEDS_NO_RUN)
def test_what_needs_no_run_is_there_before_one_computes(
    bench: Page, server: str, bolt: str
) -> None:
    """A motor's constant is measured while it is not known; a bike is commissioned, and a fault found, all the same."""
    said: list[str] = []
    bench.on("pageerror", lambda e: said.append(str(e)))
    new = bench.request.post(f"{server}/api/builds", data={"name": "New"}).json()
    bench.goto(f"{server}/build/{new.get('id') or new['card']['id']}/{bolt}")
    for tab in NEEDS_NO_RUN[bolt]:
        bench.get_by_role("tab", name=tab, exact=True).click()
        expect(bench.get_by_role("tabpanel", name=tab, exact=True)).to_be_visible()
        text = bench.get_by_role("main").inner_text()
        assert not [w for w in ("NaN", "undefined", "[object", "{{") if w in text], tab
    assert said == []


def test_what_stands_and_what_nobody_looked_at_is_over_the_gates(bench: Page, server: str) -> None:
    """Before a pack is connected, and before a run is taken: the stops of the other bolts, and what is open."""
    url = f"{server}/api/builds/moss-84/changes"
    gone = {"path": "guard.fuse.presence", "value": "not there"}
    assert bench.request.post(url, data={"changes": [gone]}).ok
    prove(bench, server, "First power", "moss-84")
    expect(bench.get_by_role("note").filter(has_text="No power, no ride")).to_contain_text("fuse")
    unknown = [{"path": "guard.plug.dc_v", "value": None}]
    assert bench.request.post(url, data={"changes": unknown}).ok
    expect(
        bench.get_by_text(re.compile("To be known before first power: .*DC voltage"))
    ).to_be_visible()
