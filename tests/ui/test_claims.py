"""What people say of a bike, asked on the screen: each number typed as they have it, the answer by hand."""

from __future__ import annotations

from playwright.sync_api import Locator, Page, expect


def form(page: Page, bolt: str, tab: str, title: str) -> Locator:
    if not page.url.endswith(bolt):
        page.goto(f"/build/brakka-96/{bolt}")
        page.get_by_role("tab", name=tab).click()
    return page.get_by_role("region", name=title)


def fill(at: Locator, title: str, **texts: str) -> None:
    for label, text in texts.items():
        at.get_by_label(f"{title}, {label.replace('_', ' ')}", exact=True).fill(text)


def test_claims(bench: Page) -> None:
    """One page, four sums."""
    power_from_a_time(bench)
    range_that_should_be(bench)
    minutes_of_two_packs(bench)
    what_charge_does(bench)


def power_from_a_time(bench: Page) -> None:
    """By hand: 1/2 x 150 x 1.05 x (100 / 3.6)^2 / 6 s = 10.1 kW, with 4 % of drag 10.5."""
    title = "Power from a time"
    at = form(bench, "prove", "Claims", title)
    fill(at, title, kg_with_rider="150", **{"km/h": "100", "s": "6"})
    expect(at.get_by_role("status")).to_contain_text("10.5 to")
    fill(at, title, kW_claimed="3")
    expect(at.get_by_role("status")).to_contain_text("3.0 kW cannot do that")
    fill(at, title, s="0.5")
    expect(at.get_by_role("status")).to_contain_text("It cannot be")
    fill(at, title, s="6,000")
    expect(at.get_by_role("alert")).to_be_visible()  # six thousand or six: asked about


def range_that_should_be(bench: Page) -> None:
    """3,000 Wh over 60 km are 50 Wh/km; over 400 km 7.5, and nothing rides on that."""
    title = "A range that should be"
    at = form(bench, "prove", "Claims", title)
    fill(at, title, km="60", Wh_usable="3000")
    expect(at.get_by_role("status")).to_contain_text("50 Wh/km: usual")
    fill(at, title, km="400")
    expect(at.get_by_role("status")).to_contain_text("impossible")
    fill(at, title, km="0")
    expect(at.get_by_role("alert")).to_contain_text("above 0")


def minutes_of_two_packs(bench: Page) -> None:
    title = "Minutes of two packs"
    at = form(bench, "prove", "Claims", title)
    fill(at, title, Ah_of_the_first="30", Ah_of_the_second="45", A_on_the_mean="40")
    expect(at.get_by_role("status")).to_contain_text("45 and 68 minutes: 23 minutes more")


def what_charge_does(bench: Page) -> None:
    title = "What charge does to a run"
    at = form(bench, "prove", "Claims", title)
    fill(at, title, **{"% first": "90", "% second": "40"})
    expect(at.get_by_role("status")).to_contain_text("by charge alone, in favour of the first")
    fill(at, title, **{"% second": "90"})
    expect(at.get_by_role("status")).to_contain_text("favours neither")


def test_a_cap_for_the_speed_where_it_is_ridden(bench: Page) -> None:
    """Half of 100 m in sight at 5 m/s² after one second: v + v²/10 = 50, v = 17.9 m/s = 64 km/h."""
    title = "How fast at most, there"
    at = form(bench, "prove", "Ride it?", title)
    fill(at, title, m_seen_ahead="100", **{"km/h wanted": "120"})
    expect(at.get_by_role("status")).to_contain_text("An open road without a known limit")
    bench.get_by_label("closed course").check(force=True)
    expect(at.get_by_role("status")).to_contain_text("At most 64.5 km/h")
    at.get_by_label("loose or wet").check(force=True)
    expect(at.get_by_role("status")).not_to_contain_text("64.5 km/h")


def test_an_answer_is_in_the_readers_units(bench: Page) -> None:
    """What was asked with miles an hour and pounds is not answered in kilometres and kilograms."""
    bench.goto("/build/brakka-96/prove")
    for key, value in (("speed", "mph"), ("mass", "lb")):
        got = bench.request.put("/api/preferences", data={"key": key, "value": value})
        assert got.ok, got.text()
    bench.reload()
    bench.get_by_role("tab", name="Claims").click()
    title = "Power from a time"
    at = form(bench, "prove", "Claims", title)
    fill(at, title, kg_with_rider="330 lb", **{"km/h": "60 mph", "s": "6"})
    expect(at.get_by_role("status")).to_contain_text("60 mph in 6 s with 330 lb")


def test_how_far_the_display_is_off(bench: Page) -> None:
    title = "What the display says of the speed"
    at = form(bench, "tune", "Live", title)
    fill(at, title, **{"km/h shown": "88", "km/h measured": "80"})
    expect(at.get_by_role("status")).to_contain_text("10.0 % more than the true speed")
    own = bench.get_by_role("region", name="By what is set in it")
    expect(own.get_by_role("status")).to_have_count(0)  # nothing is asked yet
    fill(own, "By what is set in it", pole_pairs="1")
    expect(own.get_by_role("status")).to_contain_text("more than the true speed")
