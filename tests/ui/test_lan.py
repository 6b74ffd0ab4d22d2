"""A phone is paired from the laptop's screen, over a second address of this machine, in a browser of its own."""

from __future__ import annotations

import re
import shutil
import socket
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, expect

LAN = "127.0.0.2"


@pytest.fixture(scope="module")
def in_the_network(
    garage: Path, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[tuple[str, str]]:
    """(its address on this machine, what it says of the other one)."""
    data = tmp_path_factory.mktemp("lan")
    for file in garage.glob("ninebolt.sqlite3*"):
        shutil.copy(file, data)
    command = [sys.executable, "-m", "ninebolt", "serve", "--port", "0", "--lan", LAN]
    with subprocess.Popen(
        [*command, "--data", str(data)], stdout=subprocess.PIPE, text=True
    ) as process:
        assert process.stdout is not None
        address = process.stdout.readline().strip().rsplit(" ", 1)[1]
        yield address, process.stdout.readline()
        process.terminate()


def test_a_phone_is_paired_and_revoked(browser: Browser, in_the_network: tuple[str, str]) -> None:
    address, said = in_the_network
    outside = f"http://{LAN}:{address.rsplit(':', 1)[1]}"
    assert outside in said and "not encrypted" in said
    laptop = browser.new_context().new_page()
    phone = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
    refused = phone.goto(f"{outside}/")
    assert refused is not None and refused.status == 403
    laptop.goto(address)
    laptop.get_by_role("button", name="Pair a phone").click()
    picture = laptop.get_by_role("img", name=re.compile("Address to open on the phone"))
    expect(picture).to_be_visible()
    url = str(picture.get_attribute("alt")).split(": ", 1)[1]
    phone.goto(url)
    phone.get_by_role("button", name="Pair").click()
    expect(phone.get_by_role("heading", name="Garage")).to_be_visible()
    expect(phone.get_by_text("A phone at the strip")).to_have_count(0)
    expect(laptop.get_by_text("here now")).to_be_visible()
    laptop.get_by_role("button", name="Revoke phone").click()
    expect(laptop.get_by_role("button", name="Revoke phone")).to_have_count(0)
    gone = phone.goto(f"{outside}/")
    assert gone is not None and gone.status == 403


def test_a_wrong_code_says_what_to_do(browser: Browser, in_the_network: tuple[str, str]) -> None:
    address, _ = in_the_network
    phone = browser.new_context().new_page()
    phone.goto(f"http://{LAN}:{address.rsplit(':', 1)[1]}/pair")
    phone.get_by_label("Code").fill("WRONGONE")
    phone.get_by_role("button", name="Pair").click()
    expect(phone.get_by_role("alert")).to_contain_text("Ask for a new code")


def test_off_by_default(browser: Browser, server: str) -> None:
    """Nothing listens on the other address, and the page says how it is switched on."""
    port = int(server.rsplit(":", 1)[1])
    with socket.socket() as probe:
        assert probe.connect_ex((LAN, port)) != 0
    page = browser.new_context().new_page()
    page.goto(server)
    expect(page.get_by_text("ninebolt serve --lan")).to_be_visible()
