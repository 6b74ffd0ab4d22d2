"""Take the pictures in docs/screenshots again, from the demo garage."""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright
from serving import demo_server

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "tests"))
from chromium import chromium  # noqa: E402

OUT = ROOT / "docs" / "screenshots"
PORT = 8797
VIEWS = {
    "garage": "/",
    "parts": "/parts",
    "donor": "/build/brakka-96/donor",
    "goal": "/build/brakka-96/goal",
    "pack": "/build/moss-84/pack",
    "guard": "/build/pip-72/guard",
    "drive": "/build/brakka-96/drive",
    "gear": "/build/brakka-96/gear",
    "wire": "/build/pip-72/wire",
    "tune": "/build/brakka-96/tune",
    "prove": "/build/brakka-96/prove",
    "bench": "/bench",
}
# A tab under a bolt, opened before the picture.
TABS = {
    "tune-controller": "Controller",
    "prove-gates": "First power",
    "prove-compare": "Compare",
    "prove-traces": "Traces",
}


# Nothing is still being computed: no bench being cleared, no effect of a fix still open.
DONE = """() => document.querySelector('h1')
    && ![...document.querySelectorAll('[role=status], p')].some(e =>
        e.innerText.trim() === '…' || (e.role === 'status' && e.innerText.endsWith(' …')))"""


def settle(page: Page, path: str) -> None:
    """Wait until all is painted; on a build's pages until its bands are there."""
    page.wait_for_function(DONE)
    if "/build/" in path and page.viewport_size and page.viewport_size["width"] > 600:
        page.get_by_text("±").first.wait_for()
    page.wait_for_load_state("networkidle")
    page.wait_for_function(DONE)
    page.wait_for_timeout(300)


def picture(browser: Browser, name: str, path: str, size: tuple[int, int], scheme: str) -> None:
    context = browser.new_context(
        viewport={"width": size[0], "height": size[1]},
        color_scheme="dark" if scheme == "dark" else "light",
    )
    page = context.new_page()
    if name == "prove-compare":  # two states of the build, back at the first
        api = f"http://127.0.0.1:{PORT}/api/builds/brakka-96"
        change = {"changes": [{"path": "gear.front_teeth", "value": 12}], "reason": "12 in front"}
        page.request.post(f"{api}/changes", data=change)
        page.request.post(f"{api}/undo")
    page.goto(f"http://127.0.0.1:{PORT}{path}")
    if name == "bench":
        page.get_by_text("Hide a fault").wait_for()
        page.wait_for_timeout(1200)
    else:
        settle(page, path)
    if name in TABS:
        open_tab(page, name)
    if name == "pack-hand":
        page.get_by_role("button", name="Lay out by hand").click()
        page.wait_for_timeout(500)
        settle(page, path)
    page.screenshot(path=OUT / f"{name}.png")
    context.close()


def open_tab(page: Page, name: str) -> None:
    """The tab of a picture, with something in it to see."""
    page.get_by_role("tab", name=TABS[name]).click()
    if name == "tune-controller":
        page.get_by_role("button", name="Connect the bench bike").click()
        page.get_by_role("table", name="Differences").wait_for()
    if name == "prove-traces":
        page.get_by_label("Log", exact=True).select_option(
            label="brakka-96-simulated-controller.csv"
        )
        page.get_by_text("over distance").wait_for()
        page.get_by_role("img", name="By the log").wait_for()
    if name == "prove-compare":
        page.get_by_label("Setups, ; between them").fill("12 front; 13 front")
        with page.expect_response("**/sessions"):
            page.get_by_role("button", name="Plan it").click()
        api = f"http://127.0.0.1:{PORT}/api/builds/brakka-96"
        session = page.request.get(f"{api}/sessions").json()[0]["id"]
        now = page.request.get(api).json()["seq"]
        for setup, seq in (("13 front", now), ("12 front", now + 1)):
            page.request.post(
                f"{api}/sessions/{session}/bind", params={"setup": setup, "seq": str(seq)}
            )
        for setup, value in zip(
            ("12", "13") * 4,
            ["8.21", "7.93", "8.19", "7.90", "8.24", "7.95", "8.2", "7.92"],
            strict=True,
        ):
            page.get_by_role("group", name="Setup of this run").get_by_role(
                "button", name=f"{setup} front"
            ).click()
            page.get_by_label("Value of the run").fill(value)
            with page.expect_response("**/trials"):
                page.get_by_role("button", name="Take the run").click()
        page.get_by_role("table", name="Setups").scroll_into_view_if_needed()
    if name != "prove-compare":
        page.get_by_role("tab", name=TABS[name]).evaluate("e => e.scrollIntoView({block: 'start'})")
    page.wait_for_timeout(600)


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    chosen = sys.argv[1:] or [*VIEWS, "pack-hand", "drive-dark", "guard-phone", *TABS]
    path = chromium()
    with demo_server(PORT, bench=True), sync_playwright() as p:
        browser = p.chromium.launch(executable_path=path)
        for name in chosen:
            view = VIEWS[name.split("-")[0]]
            size = (390, 844) if name.endswith("phone") else (1280, 800)
            picture(browser, name, view, size, "dark" if name.endswith("dark") else "light")
            print(name)
        browser.close()


if __name__ == "__main__":
    main()
