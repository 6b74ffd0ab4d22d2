"""axe-core over a page, and over every tab of a bolt: one reading of what it finds."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Page

AXE = Path(__file__).resolve().parents[1] / "frontend/node_modules/axe-core/axe.min.js"
PHONE = {"width": 390, "height": 844}


def violations(page: Page, where: str, rules: str = "", part: str = "") -> list[str]:
    """What axe-core finds on the page as it is, each with where it was met. rules: more of its options; part: the
    piece of the page that is looked at, all of it if not said."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text())
    here = f"'{part}'" if part else "document"
    result = page.evaluate(f"axe.run({here}, {{{rules} resultTypes: ['violations']}})")
    return [
        f"{where}: {v['id']}: {n['html'][:140]}" for v in result["violations"] for n in v["nodes"]
    ]


# Words and controls that stand past the right edge, where nothing round them can be moved sideways.
PAST = """(() => { const wide = document.documentElement.clientWidth + 1
  const moved = e => { for (let p = e.parentElement; p; p = p.parentElement)
    if (['auto', 'scroll'].includes(getComputedStyle(p).overflowX)) return true; return false }
  const told = 'main :is(input, select, button, a, p, label, h2, h3, td, li), header :is(button, a)'
  return [...document.querySelectorAll(told)]
    .filter(e => { const r = e.getBoundingClientRect()
      return r.width > 1 && r.height > 1 && r.right > wide && !moved(e) })
    .map(e => (e.getAttribute('aria-label') || e.innerText || e.tagName).slice(0, 60)) })()"""


def is_wide(page: Page) -> bool:
    """Whether it is wider than a phone that looks at it, or something on it stands past its edge."""
    past = page.evaluate(PAST)
    return bool(past) or int(page.evaluate("document.documentElement.scrollWidth")) > PHONE["width"]


CUT = """[...document.querySelectorAll('main *, aside *')].filter(e => e.tagName !== 'SELECT' && e.tagName !== 'INPUT'
  && getComputedStyle(e).textOverflow === 'ellipsis' && e.clientWidth && e.scrollWidth > e.clientWidth + 1)
  .map(e => e.innerText)"""


def every_tab_holds(page: Page, least: int) -> None:
    """axe-core finds nothing under any tab, no words are cut, nothing is wider than a phone. least: how many tabs."""
    tabs = page.get_by_role("tab")
    tabs.nth(least - 1).wait_for()
    names = tabs.all_inner_texts()
    found = []
    for name in names:
        page.get_by_role("tab", name=name, exact=True).click()
        page.wait_for_timeout(250)
        # What stands round the tabs stays the same: it is read once.
        found += violations(
            page, name, part="[role=tabpanel]:not([hidden])" if name != names[0] else ""
        )
        found += [f"{name}: cut: {words}" for words in page.evaluate(CUT)]
    assert not found, "\n".join(found)
    page.set_viewport_size(PHONE)  # type: ignore[arg-type]
    for name in names:
        page.get_by_role("tab", name=name, exact=True).click()
        page.wait_for_timeout(150)
        assert not is_wide(page), name
        assert not page.evaluate(CUT), name
