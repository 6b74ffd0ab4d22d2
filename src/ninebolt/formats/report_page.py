"""A report as one page of HTML that needs nothing else: no script, no style or picture from elsewhere, the raw files
inside it."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from html import escape

from ninebolt.formats.report import DASHES, Attached, Chapter, Table, thinned

WIDE, HIGH = 760.0, 260.0
LEFT, UNDER = 64.0, 34.0
STYLE = """
body{font:16px/1.45 system-ui,sans-serif;margin:0 auto;max-width:820px;padding:24px;color:#1d1d22;background:#fff}
h1{font-size:26px;line-height:1.2}h2{font-size:19px;margin:28px 0 6px}p{margin:4px 0}
table{border-collapse:collapse;width:100%;font-size:14px}
th,td{text-align:left;padding:5px 8px 5px 0;border-bottom:1px solid #c9c2b4}th{font-weight:600}
svg{width:100%;height:auto;margin-top:8px}a{color:#4a1f9e}li{margin:3px 0}
@media print{body{padding:0}a{color:inherit}}
"""


def write_page(title: str, chapters: Sequence[Chapter], files: Sequence[Attached]) -> bytes:
    """UTF-8 HTML."""
    out = [
        '<!doctype html><html lang="en"><head><meta charset="utf-8">',
        '<meta name="viewport" content="width=device-width,initial-scale=1">',
        f"<title>{escape(title)}</title><style>{STYLE}</style></head><body>",
        f"<h1>{escape(title)}</h1>",
    ]
    for chapter in chapters:
        out.append(f"<section><h2>{escape(chapter.title)}</h2>")
        out += [f"<p>{escape(words)}</p>" for words in chapter.words]
        if chapter.table is not None:
            out += _table(chapter.table)
        if chapter.traces:
            out += _traces(chapter)
        out.append("</section>")
    out.append("<ul>")
    for file in files:
        data = base64.b64encode(file.data).decode()
        name = escape(file.name, quote=True)
        out.append(
            f'<li><a download="{name}" href="data:application/octet-stream;base64,{data}">{name}</a>, '
            f"{len(file.data)} bytes</li>"
        )
    out.append("</ul></body></html>")
    return "\n".join(out).encode()


def _table(made: Table) -> list[str]:
    head = "".join(f"<th>{escape(h)}</th>" for h in made.heads)
    rows = ["<tr>" + "".join(f"<td>{escape(c)}</td>" for c in r) + "</tr>" for r in made.rows]
    return [f"<table><thead><tr>{head}</tr></thead><tbody>", *rows, "</tbody></table>"]


def _traces(chapter: Chapter) -> list[str]:
    """All runs over one another; each by its own dashes and its name."""
    end = max((t.t_s[-1] for t in chapter.traces if len(t.t_s)), default=1.0) or 1.0
    top = max((max(t.speed, default=0.0) for t in chapter.traces), default=1.0) or 1.0
    w, h = WIDE - LEFT - 8.0, HIGH - UNDER - 8.0
    names = escape(f"Speed over time: {', '.join(t.name for t in chapter.traces)}", quote=True)
    out = [
        f'<svg viewBox="0 0 {WIDE:g} {HIGH:g}" role="img" aria-label="{names}"'
        ' font-size="13" fill="none" stroke="#1d1d22">',
        f'<rect x="{LEFT:g}" y="8" width="{w:g}" height="{h:g}" stroke="#8a8375"/>',
    ]
    text = '<text stroke="none" fill="#3c3a42"'
    for k in range(5):
        x, y = LEFT + w * k / 4, 8.0 + h * (1 - k / 4)
        out.append(
            f'{text} x="{x:.1f}" y="{h + 26:.1f}" text-anchor="middle">{end * k / 4:.1f} s</text>'
        )
        said = f"{top * k / 4:.0f} {escape(chapter.unit)}" if k else "0"
        out.append(f'{text} x="{LEFT - 6:g}" y="{y + 4:.1f}" text-anchor="end">{said}</text>')
    for i, t in enumerate(chapter.traces[: len(DASHES)]):
        dash, gap = (4.0 * x for x in DASHES[i])
        dashed = f' stroke-dasharray="{dash:g} {gap:g}"' if dash else ""
        points = " ".join(
            f"{LEFT + w * a / end:.1f},{8.0 + h * (1 - b / top):.1f}" for a, b in thinned(t)
        )
        y = 24.0 + 17.0 * i
        out.append(f'<polyline points="{points}" stroke-width="1.6"{dashed}/>')
        out.append(f'<path d="M{LEFT + 8:g} {y - 4:g}h34" stroke-width="1.6"{dashed}/>')
        out.append(f'{text} x="{LEFT + 48:g}" y="{y:g}">{escape(t.name[:90])}</text>')
    out.append("</svg>")
    return out
