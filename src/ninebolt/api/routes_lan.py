"""Phones in the same network: who is paired, a code to pair one more, the page on which it is typed."""

from __future__ import annotations

import html
from typing import Annotated

from fastapi import APIRouter, Depends, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse

from ninebolt.api.models import PROBLEMS
from ninebolt.errors import InputError
from ninebolt.services.pairing import COOKIE, LanState, Offer, Pairing

router = APIRouter(tags=["lan"], responses=PROBLEMS)
MONTH_S = 30 * 86400


def pairing(request: Request) -> Pairing:
    """The application's own."""
    made: Pairing = request.app.state.pairing
    return made


PairingDep = Annotated[Pairing, Depends(pairing)]


@router.get("/api/lan")
def state(lan: PairingDep) -> LanState:
    """Whether it listens in the network, where, and which browsers are paired."""
    return lan.state()


@router.post("/api/lan/code", status_code=201)
def new_code(lan: PairingDep) -> Offer:
    """A code for one phone, good for two minutes."""
    return lan.offer()


@router.delete("/api/lan/devices/{device}")
def revoke(lan: PairingDep, device: str) -> LanState:
    """A paired browser is refused from now on."""
    return lan.revoke(device)


PAGE = """<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width,initial-scale=1"><title>Pair – Nine Bolt</title>
<body style="font:20px/1.4 system-ui,sans-serif;margin:24px;background:#f2eee3;color:#1b1a17">
<h1 style="font-size:26px">Pair this phone</h1>{said}
<form method="post" action="/api/lan/pair">
<p><label>Code<br><input name="code" value="{code}" maxlength="16" autocapitalize="characters" autocomplete="off"
 style="font:inherit;padding:10px;width:100%;box-sizing:border-box"></label></p>
<p><label>Called<br><input name="name" value="phone" maxlength="40"
 style="font:inherit;padding:10px;width:100%;box-sizing:border-box"></label></p>
<button style="font:inherit;padding:14px 20px;width:100%">Pair</button></form>
<p>What passes between this phone and the laptop is not encrypted. Use a network of your own.</p></body></html>"""


def _page(code: str, said: str = "", status: int = 200) -> HTMLResponse:
    words = f'<p role="alert"><b>{html.escape(said)}</b></p>' if said else ""
    body = PAGE.format(said=words, code=html.escape(code[:16], quote=True))
    # Without a referrer a browser sends a form's origin as null, and that is refused.
    return HTMLResponse(body, status, headers={"Referrer-Policy": "same-origin"})


@router.get("/pair", include_in_schema=False)
def page(code: str = "") -> HTMLResponse:
    """Where a phone types its code. Changes nothing."""
    return _page(code)


@router.post("/api/lan/pair", include_in_schema=False)
def pair(
    request: Request,
    lan: PairingDep,
    code: Annotated[str, Form(max_length=40)] = "",
    name: Annotated[str, Form(max_length=80)] = "phone",
) -> Response:
    """Pair this browser; on to the garage, or back with what was wrong."""
    try:
        token = lan.pair(code, request.headers.get("user-agent", ""), name)
    except InputError as error:
        return _page("", error.message(), 403)
    answer = RedirectResponse("/", 303)
    answer.set_cookie(COOKIE, token, max_age=MONTH_S, httponly=True, samesite="strict", path="/")
    return answer
