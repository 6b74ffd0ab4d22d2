"""What a download is called, read by the standard library's header parser (RFC 2231, as RFC 6266 uses it)."""

from __future__ import annotations

from email.message import Message
from email.utils import collapse_rfc2231_value
from pathlib import PurePosixPath

import pytest
from fastapi.testclient import TestClient

URL = "/api/builds/moss-84"


def called(client: TestClient, path: str) -> str:
    got = client.get(f"{URL}/{path}")
    assert got.status_code == 200, got.text
    said = Message()
    said["content-disposition"] = got.headers["content-disposition"]
    names = [v for k, v in said.get_params(header="content-disposition") or [] if k == "filename"]
    names.sort(key=lambda v: isinstance(v, str))  # the extended one is for who knows it
    return collapse_rfc2231_value(names[0])


@pytest.mark.parametrize(
    ("name", "wanted"),
    [
        ("Łódź 72", "łódź-72"),
        ("Эндуро", "эндуро"),
        ("電動バイク", "電動バイク"),
        ("../../etc", "etc"),
        ('a"b;c\\d', "a-b-c-d"),
        ("???", "build"),
    ],
)
def test_a_file_bears_its_builds_name_in_any_alphabet(
    client: TestClient, name: str, wanted: str
) -> None:
    assert client.patch(URL, json={"name": name}).status_code == 200
    assert called(client, "export") == f"{wanted}.json"
    assert called(client, "template?kind=svg") == f"{wanted}-bay.svg"


@pytest.mark.parametrize("name", ["x" * 80, "Ж" * 80, "Ride. 3.5 bar"])
def test_a_long_name_keeps_its_ending(client: TestClient, name: str) -> None:
    assert client.patch(URL, json={"name": name}).status_code == 200
    endings = [PurePosixPath(called(client, p)).suffix for p in ("export", "gates.pdf")]
    assert endings == [".json", ".pdf"]


def test_a_log_keeps_the_name_that_it_came_with(client: TestClient) -> None:
    data = b"t_s,speed_m_s\n" + b"".join(f"{k / 10},{k / 20}\n".encode() for k in range(200))
    for name in ("poranek łąka.csv", "утро.csv", "ride.2031.csv"):
        got = client.post(f"{URL}/logs", files={"file": (name, data)})
        assert got.status_code == 201, got.text
        log = next(x["id"] for x in client.get(f"{URL}/logs").json() if x["name"] == name)
        assert called(client, f"logs/{log}/file?kind=as-it-came") == name.replace(" ", "-")
