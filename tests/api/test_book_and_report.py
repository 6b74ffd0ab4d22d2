"""The run book over months and the report of a session, through the API; the PDF read by another library."""

from __future__ import annotations

import base64
import io
from concurrent.futures import ThreadPoolExecutor
from html.parser import HTMLParser
from typing import Any

import pytest
from fastapi.testclient import TestClient
from pypdf import PdfReader

from ninebolt.store.builds import add_revision, get_build, text_at
from ninebolt.store.database import session as opened
from ninebolt.store.database import transaction

URL = "/api/builds/moss-84"


def planned(client: TestClient, name: str, protocol: str = "between marks") -> str:
    body = {"name": name, "setups": ["16 teeth", "17 teeth"], "protocol": protocol, "trials": 4,
            "spread": 0.1, "gap": 0.3}  # fmt: skip
    got = client.post(f"{URL}/sessions", json=body)
    assert got.status_code == 201, got.text
    return str(got.json()["id"])


def taken(client: TestClient, session: str, setup: str, value: float, **more: Any) -> Any:
    return client.post(
        f"{URL}/sessions/{session}/trials", json={"setup": setup, "value": value, **more}
    )


@pytest.fixture
def ridden(client: TestClient) -> tuple[TestClient, str]:
    session = planned(client, "May meeting")
    log = client.get(f"{URL}/logs").json()[0]["id"]
    for k in range(4):
        assert (
            taken(client, session, "16 teeth", 15.2 + 0.02 * k, log_id=log, soc=0.9).status_code
            == 201
        )
        assert taken(client, session, "17 teeth", 14.8 + 0.02 * k, soc=0.9).status_code == 201
    client.post(f"{URL}/sessions/{session}/trials/0/discard", params={"why": "a gust"})
    return client, session


def test_a_report_can_be_handed_over(ridden: tuple[TestClient, str]) -> None:
    """Setup, every run, the statistics, the traces' names, data quality; raw files inside, byte for byte."""
    client, session = ridden
    got = client.get(f"{URL}/sessions/{session}/report")
    assert got.status_code == 200 and got.headers["content-type"] == "application/pdf"
    pdf = PdfReader(io.BytesIO(got.content))
    text = " ".join(" ".join(p.extract_text().split()) for p in pdf.pages)
    for words in ("May meeting", "17 teeth", "discarded: a gust", "is worse than", "Welch", "not written",
                  "samples a second", "moss-84-simulated-gps.csv"):  # fmt: skip
        assert words in text, words
    files = {name: data[0] for name, data in pdf.attachments.items()}
    assert {"runs.csv", "moss-84-simulated-gps.csv"} <= files.keys()
    assert b"a gust" in files["runs.csv"] and files["runs.csv"].count(b"\n") == 9


class Read(HTMLParser):
    """What a page holds: its words, its tags, the files inside it."""

    def __init__(self, page: str) -> None:
        super().__init__()
        self.words, self.tags, self.files = "", set[str](), dict[str, bytes]()
        self.outside: list[str] = []
        self.feed(page)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.add(tag)
        own = dict(attrs)
        at = own.get("href") or own.get("src") or ""
        if own.get("download"):
            self.files[str(own["download"])] = base64.b64decode(at.partition("base64,")[2])
        elif at:
            self.outside.append(at)

    def handle_data(self, data: str) -> None:
        self.words += " " + " ".join(data.split())


def test_a_report_is_a_page_too(ridden: tuple[TestClient, str]) -> None:
    """The same words and files as in the PDF; a name that would be a script is only a name; nothing from elsewhere."""
    client, session = ridden
    nasty = "<script>alert(1)</script>"
    taken(client, session, "16 teeth", 15.3, note=nasty)
    got = client.get(f"{URL}/sessions/{session}/report.html")
    assert got.status_code == 200 and got.headers["content-type"] == "text/html; charset=utf-8"
    page = Read(got.text)
    for words in (
        "May meeting",
        "discarded: a gust",
        "Welch",
        "not written",
        "samples a second",
        nasty,
    ):
        assert words in page.words, words
    assert page.files["runs.csv"].count(b"\n") == 10 and page.outside == []
    log = client.get(f"{URL}/logs").json()[0]
    assert page.files[log["name"]].startswith(b"t_s") or b"," in page.files[log["name"]]
    assert "script" not in page.tags and {"svg", "polyline", "table"} <= page.tags
    assert client.get(f"{URL}/sessions/nope/report.html").status_code == 404


def test_a_report_says_which_log_it_could_not_take(ridden: tuple[TestClient, str]) -> None:
    client, session = ridden
    log = client.get(f"{URL}/logs").json()[0]["id"]
    client.delete(f"{URL}/logs/{log}")
    pdf = PdfReader(io.BytesIO(client.get(f"{URL}/sessions/{session}/report").content))
    text = " ".join(" ".join(p.extract_text().split()) for p in pdf.pages)
    assert "1 log of these runs is not in the list any more" in text


def test_a_report_of_nothing_says_that(client: TestClient) -> None:
    session = planned(client, "Not ridden")
    text = (
        PdfReader(io.BytesIO(client.get(f"{URL}/sessions/{session}/report").content))
        .pages[0]
        .extract_text()
    )
    assert "Two setups with trials are compared" in text
    assert client.get(f"{URL}/sessions/nope/report").status_code == 404


def test_a_run_sent_twice_counts_once_and_needs_its_log(client: TestClient) -> None:
    session = planned(client, "Twice")
    for _ in range(2):
        assert taken(client, session, "16 teeth", 15.0, key="tap-1").status_code == 201
    view = next(s for s in client.get(f"{URL}/sessions").json() if s["id"] == session)
    assert len(view["trials"]) == 1 and view["trials"][0]["at"]
    assert taken(client, session, "16 teeth", 15.0, log_id="nope").status_code == 422


def book(client: TestClient, **query: str) -> dict[str, Any]:
    got = client.get(f"{URL}/book", params=query)
    assert got.status_code == 200, got.text
    return dict(got.json())


def entered(client: TestClient, *rows: dict[str, Any]) -> None:
    change = [{"path": "prove.book", "value": list(rows)}]
    got = client.post(f"{URL}/changes", json={"changes": change})
    assert got.status_code == 200, got.text


def km(x: float) -> dict[str, Any]:
    return {"amount": 1000.0 * x, "origin": "measured", "tolerance": 0.0}


def test_dangerous_no_run_is_lost_to_what_is_tapped_beside_it(client: TestClient) -> None:
    """Two phones at the strip: one takes the runs, the other says what felt better and discards a run."""
    session = planned(client, "Two phones")
    assert taken(client, session, "16 teeth", 15.0).is_success

    def takes(k: int) -> bool:
        return bool(taken(client, session, "17 teeth", 15 + k / 100, key=f"k{k}").is_success)

    def says(k: int) -> bool:
        at, which = f"{URL}/sessions/{session}", ("16 teeth", "17 teeth")[k % 2]
        felt = client.post(f"{at}/felt", params={"setup": which})
        out = client.post(f"{at}/trials/0/discard", params={"why": f"gust {k}"})
        return bool(felt.is_success and out.is_success)

    with ThreadPoolExecutor(8) as phones:
        done = [phones.submit(act, k) for k in range(12) for act in (takes, says)]
        assert all(x.result() for x in done)
    view = next(s for s in client.get(f"{URL}/sessions").json() if s["id"] == session)
    assert {t["key"] for t in view["trials"]} == {"", *(f"k{k}" for k in range(12))}
    assert view["trials"][0]["discarded"].startswith("gust")


def test_best_runs_by_setup_and_what_changed_in_between(ridden: tuple[TestClient, str]) -> None:
    client, _ = ridden
    change = [{"path": "gear.rear_teeth", "value": 45}]
    client.post(f"{URL}/changes", json={"changes": change, "reason": "Two teeth fewer"})
    client.post(f"{URL}/changes", json={"changes": [{"path": "gear.front_teeth", "value": 13}]})
    later = planned(client, "June meeting")
    taken(client, later, "17 teeth", 14.1)
    bests = {b["setup"]: b for b in book(client)["bests"]}
    assert bests["16 teeth"]["value"] == pytest.approx(15.22)  # the discarded one does not count
    assert bests["17 teeth"]["value"] == 14.1 and bests["17 teeth"]["runs"] == 5
    assert bests["17 teeth"]["changed"] == ["Two teeth fewer", "front teeth"]


def test_how_far_since_the_work(client: TestClient) -> None:
    entered(
        client,
        {"kind": "re-torque", "at": "2026-05-01", "what": "axles", "odometer_m": km(120)},
        {"kind": "note", "at": "2026-06-01", "what": "read", "odometer_m": km(410)},
        {"kind": "chain", "at": "2026-05-20", "what": "new chain"},
    )
    since = {s["kind"]: s for s in book(client)["since"]}
    assert since["re-torque"]["way_m"] == pytest.approx(290_000)
    assert since["chain"]["way_m"] is None and "no odometer" in since["chain"]["words"]
    assert since["brakes"]["words"] == "never written down"


def test_dangerous_a_failure_without_a_cause_stays_open(client: TestClient) -> None:
    entered(client, {"kind": "failure", "at": "2026-05-03", "what": "cut out at speed"})
    assert book(client)["open_failures"] == ["cut out at speed: cause not known"]
    entered(
        client,
        {"kind": "failure", "at": "2026-05-03", "what": "cut out at speed", "cause": "BMS plug"},
    )
    assert book(client)["open_failures"] == []


def test_a_report_speaks_plain_units(client: TestClient) -> None:
    """On paper no screen turns a number into the reader's unit: it is written out."""
    session = planned(client, "Masses")
    for k in range(3):
        taken(client, session, "16 teeth", 15.2 + 0.02 * k, mass_kg=150)
        taken(client, session, "17 teeth", 14.8 + 0.02 * k, mass_kg=170)
    pages = PdfReader(io.BytesIO(client.get(f"{URL}/sessions/{session}/report").content)).pages
    text = " ".join(" ".join(p.extract_text().split()) for p in pages)
    page = client.get(f"{URL}/sessions/{session}/report.html").text
    assert "20 kg heavier" in text and "20 kg heavier" in page
    assert "{{" not in text and "{{" not in page


def test_no_change_between_two_bests_is_passed_over(client: TestClient) -> None:
    """A season of 240 changes between them: the first is still listed, and of those not said it is said how many."""
    session = planned(client, "Early")
    taken(client, session, "16 teeth", 15.0)
    house = client.app.state.house  # type: ignore[attr-defined]
    with opened(house.path) as db, transaction(db):
        text = text_at(db, "moss-84", get_build(db, "moss-84").head)
        for k in range(240):
            add_revision(db, "moss-84", house.now(), f"evening {k}", [], "Moss 84", text)
    taken(client, session, "17 teeth", 14.5)
    got = book(client)
    changed = next(b for b in got["bests"] if b["setup"] == "17 teeth")["changed"]
    assert changed[0] == "evening 0" and "232 more" in changed[-1]
    assert book(client, text="evening", kind="change")["found"] == 240
    assert len(client.get(f"{URL}/history").json()) > 240


def test_a_thousand_runs_are_listed_and_searched(client: TestClient) -> None:
    """All of them counted, the words that are asked for found; how long it takes stands in the benchmark."""
    session = planned(client, "Long season")
    for k in range(40):
        taken(client, session, "16 teeth", 15.0 + 0.001 * k, note="wet" if k % 8 == 0 else "dry")
    assert book(client, kind="run")["found"] == 40
    assert book(client, text="wet season")["found"] == 5
    assert book(client, text="nowhere")["lines"] == []


def words_of(client: TestClient, session: str) -> str:
    pdf = PdfReader(io.BytesIO(client.get(f"{URL}/sessions/{session}/report").content))
    return " ".join(" ".join(p.extract_text() for p in pdf.pages).split())


def test_dangerous_a_log_of_another_day_proves_no_run(client: TestClient) -> None:
    """Runs by the watch, and a log that is only chosen for the build: a rival would take its trace for theirs."""
    session = planned(client, "By the watch")
    taken(client, session, "16 teeth", 15.2)
    text = words_of(client, session)
    assert "No log belongs to these runs" in text and "it proves none of them" in text
    assert "which is of none of these runs: runs.csv, moss-84-simulated-gps.csv" in text
    log = client.get(f"{URL}/logs").json()[0]["id"]
    taken(client, session, "17 teeth", 15.1, log_id=log)
    assert "proves none" not in words_of(client, session)


def test_unknown_no_ratio_and_names_in_any_alphabet(client: TestClient) -> None:
    client.post(f"{URL}/changes", json={"changes": [{"path": "gear.rear_teeth", "value": None}]})
    names = ["Łańcuch długi – 428, ogniw 118, tarcza A", "Łańcuch długi – 428, ogniw 118, tarcza Б"]
    body = {"name": "Wieczór", "setups": names, "protocol": "between marks", "trials": 4,
            "spread": 0.1, "gap": 0.3}  # fmt: skip
    session = client.post(f"{URL}/sessions", json=body).json()["id"]
    for k in range(3):
        for name in names:
            taken(client, session, name, 8.0 + 0.1 * k)
    text = words_of(client, session)
    assert "ratio not known" in text and "nan" not in text
    assert text.count("tarcza A") > 3 and text.count("tarcza Б") > 3
