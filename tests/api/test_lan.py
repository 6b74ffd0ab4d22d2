"""The phone at the strip: off by default, paired by a short code, everything else refused."""

from __future__ import annotations

import re
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from fastapi.testclient import TestClient

from ninebolt.api.app import make_app
from ninebolt.services.house import House
from ninebolt.services.pairing import CODE_S, TRIES, Pairing

LAN = "http://192.168.7.2:8790"
AGENT = {"user-agent": "phone 1"}
ORIGIN = {"origin": LAN}


class Clock:
    now = 0.0

    def __call__(self) -> float:
        return self.now


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def both(house: House, clock: Clock) -> Iterator[tuple[TestClient, TestClient]]:
    """(the laptop, a phone in its network)."""
    app = make_app(house, pairing=Pairing(house, LAN, clock))
    with (
        TestClient(app, base_url="http://127.0.0.1:8790") as laptop,
        TestClient(app, base_url=LAN, headers=AGENT, follow_redirects=False) as phone,
    ):
        yield laptop, phone


def code_of(laptop: TestClient) -> str:
    got = laptop.post("/api/lan/code")
    assert got.status_code == 201, got.text
    return str(got.json()["code"])


def paired(laptop: TestClient, phone: TestClient) -> None:
    got = phone.post("/api/lan/pair", data={"code": code_of(laptop)}, headers=ORIGIN)
    assert got.status_code == 303, got.text
    cookie = got.headers["set-cookie"]
    assert "HttpOnly" in cookie and "samesite=strict" in cookie.lower()


def test_ordinary_a_phone_is_paired_and_answered(both: tuple[TestClient, TestClient]) -> None:
    laptop, phone = both
    assert phone.get("/api/builds").status_code == 403
    assert phone.get("/pair").status_code == 200
    paired(laptop, phone)
    assert phone.get("/api/builds").status_code == 200
    made = phone.post("/api/builds", json={"name": "At the strip"}, headers=ORIGIN)
    assert made.status_code == 201, made.text
    assert [d["name"] for d in laptop.get("/api/lan").json()["devices"]] == ["phone"]


def test_the_picture_holds_the_address(both: tuple[TestClient, TestClient]) -> None:
    """ISO/IEC 18004 symbols by the library; the text under it is what it holds."""
    offer = both[0].post("/api/lan/code").json()
    assert offer["url"] == f"{LAN}/pair?code={offer['code']}" and offer["qr"].startswith("<svg")
    assert re.fullmatch(r"[A-HJ-NP-Z2-9]{8}", offer["code"])


def test_dangerous_a_revoked_phone_stays_out_when_another_is_paired_beside_it(
    house: House, clock: Clock, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Both change one list; whoever read it first must not put the lost phone back."""
    pairing = Pairing(house, LAN, clock)
    lost = pairing.pair(pairing.offer().code, "phone 1", "lost").partition(".")[0]
    code, read = pairing.offer().code, Pairing._rows

    def slowly(self: Pairing) -> list[dict[str, Any]]:
        rows = read(self)
        time.sleep(0.05)
        return rows

    monkeypatch.setattr(Pairing, "_rows", slowly)
    with ThreadPoolExecutor(2) as two:
        for done in (two.submit(pairing.revoke, lost), two.submit(pairing.pair, code, "b", "new")):
            done.result()
    assert [d.name for d in pairing.state().devices] == ["new"]


def test_dangerous_wrong_codes_use_it_up(both: tuple[TestClient, TestClient]) -> None:
    laptop, phone = both
    code = code_of(laptop)
    for _ in range(TRIES):
        got = phone.post("/api/lan/pair", data={"code": "AAAAAAAA"}, headers=ORIGIN)
        assert got.status_code == 403 and "does not pair" in got.text
    assert phone.post("/api/lan/pair", data={"code": code}, headers=ORIGIN).status_code == 403


def test_dangerous_a_code_pairs_once_and_not_for_long(
    both: tuple[TestClient, TestClient], clock: Clock
) -> None:
    laptop, phone = both
    code = code_of(laptop)
    clock.now = CODE_S + 1.0
    assert phone.post("/api/lan/pair", data={"code": code}, headers=ORIGIN).status_code == 403
    code = code_of(laptop)
    assert phone.post("/api/lan/pair", data={"code": code}, headers=ORIGIN).status_code == 303
    assert phone.post("/api/lan/pair", data={"code": code}, headers=ORIGIN).status_code == 403


def test_dangerous_a_stolen_cookie_in_another_browser(
    both: tuple[TestClient, TestClient],
) -> None:
    laptop, phone = both
    paired(laptop, phone)
    got = phone.get("/api/builds", headers={"user-agent": "another"})
    assert got.status_code == 403 and "not paired" in got.json()["message"]
    forged = {"cookie": "nb_phone=0123456789ab.guess"}
    assert phone.get("/api/builds", headers={**forged, **AGENT}).status_code == 403


def test_dangerous_other_origins_and_hosts_are_refused_as_before(
    both: tuple[TestClient, TestClient],
) -> None:
    laptop, phone = both
    paired(laptop, phone)
    for origin in ("http://evil.example", "http://127.0.0.1:8790", ""):
        head = {"origin": origin} if origin else {}
        assert phone.post("/api/builds", json={"name": "x"}, headers=head).status_code == 403
    assert phone.get("/api/builds", headers={"host": "garage.example"}).status_code == 403
    assert phone.get("/api/builds", headers={"host": "127.0.0.1:8790"}).status_code == 403
    assert laptop.get("/api/builds", headers={"host": "192.168.7.2:8790"}).status_code == 403


def test_dangerous_a_phone_neither_pairs_nor_revokes(both: tuple[TestClient, TestClient]) -> None:
    laptop, phone = both
    paired(laptop, phone)
    assert phone.post("/api/lan/code", headers=ORIGIN).status_code == 403
    assert phone.get("/api/lan").status_code == 403
    device = laptop.get("/api/lan").json()["devices"][0]["id"]
    assert phone.delete(f"/api/lan/devices/{device}", headers=ORIGIN).status_code == 403
    assert laptop.delete(f"/api/lan/devices/{device}").json()["devices"] == []
    assert phone.get("/api/builds").status_code == 403


def test_paired_phones_outlive_a_restart(both: tuple[TestClient, TestClient], house: House) -> None:
    laptop, phone = both
    paired(laptop, phone)
    again = House.open(house.path.parent)
    app = make_app(again, pairing=Pairing(again, LAN))
    cookie = phone.cookies["nb_phone"]
    with TestClient(app, base_url=LAN, headers=AGENT, cookies={"nb_phone": cookie}) as later:
        assert later.get("/api/builds").status_code == 200


def test_not_there_without_lan_nothing_is_answered_outside(house: House) -> None:
    """Off by default: no code, and from the network not even the pairing page."""
    app = make_app(house)
    with (
        TestClient(app, base_url="http://127.0.0.1:8790") as laptop,
        TestClient(app, base_url=LAN) as phone,
    ):
        assert laptop.get("/api/lan").json() == {"on": False, "address": "", "devices": []}
        got = laptop.post("/api/lan/code")
        assert got.status_code == 409 and "serve --lan" in got.json()["message"]
        assert phone.get("/pair").status_code == 403
        assert phone.post("/api/lan/pair", data={"code": "A"}, headers=ORIGIN).status_code == 403


def test_a_code_from_the_address_is_text_on_the_page(both: tuple[TestClient, TestClient]) -> None:
    got = both[1].get("/pair", params={"code": '"><script>x'})
    assert "<script>" not in got.text and "&lt;script" in got.text
