"""Starting and stopping: what is said when a server cannot start, and that a crash is no stop."""

from __future__ import annotations

import json
import os
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

import jsonschema
import pytest

from ninebolt.cli import main
from ninebolt.cli import run as run_verb
from ninebolt.formats.build_json import write_build
from ninebolt.library.demo import brakka, moss, pip
from ninebolt.services.demo import fill_demo
from ninebolt.services.house import DATABASE, House
from ninebolt.services.schemas import SCHEMAS

PLAIN = {**os.environ, "NINEBOLT_PLAIN": "1"}


def serve(*arguments: str) -> subprocess.Popen[str]:
    return subprocess.Popen(
        [sys.executable, "-m", "ninebolt", "serve", *arguments],
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
        env=PLAIN,
    )


def refused(*arguments: str) -> str:
    """What a server that does not start says; one line, status 2, and no address."""
    process = serve(*arguments)
    out, err = process.communicate(timeout=60)
    assert process.returncode == 2 and out == "" and len(err.strip().splitlines()) == 1
    return err


def test_a_port_that_is_taken_or_none(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        assert "port cannot be had" in refused("--port", port, "--data", str(tmp_path))
    assert "no port" in refused("--port", "70000", "--data", str(tmp_path))
    assert "only listens on this machine" in refused("--host", "0.0.0.0", "--data", str(tmp_path))


def test_two_servers_on_one_folder_and_the_address_is_true(tmp_path: Path) -> None:
    first = serve("--port", "0", "--data", str(tmp_path))
    try:
        assert first.stdout is not None
        address = first.stdout.readline().split(" at ")[1].strip()
        with urllib.request.urlopen(f"{address}/api/builds", timeout=60) as answer:
            assert answer.status == 200
        assert "Another Nine Bolt" in refused("--port", "0", "--data", str(tmp_path))
    finally:
        first.terminate()
        first.wait(60)
    again = serve("--port", "0", "--data", str(tmp_path))
    assert again.stdout is not None and "Nine Bolt is at" in again.stdout.readline()
    again.terminate()
    again.wait(60)


def test_a_crash_is_never_taken_for_a_stop(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    def breaks(*_: object) -> None:
        raise ZeroDivisionError

    file = tmp_path / "b.json"
    file.write_bytes(write_build(moss()))
    monkeypatch.setattr(run_verb, "straight_run", breaks)
    assert main(["run", str(file)]) == 3
    assert "did not expect" in capsys.readouterr().err


@pytest.mark.parametrize("make", [moss, brakka, pip])
@pytest.mark.parametrize("more", [[], ["--series"], ["--seconds", "3"], ["--grade", "5"]])
def test_a_run_keeps_its_own_schema(
    make: object, more: list[str], tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "b.json"
    file.write_bytes(write_build(make()))  # type: ignore[operator]
    status = main(["run", str(file), "--json", *more])
    result = json.loads(capsys.readouterr().out)
    jsonschema.validate(result, SCHEMAS["run"]())
    assert status == (1 if result["opens"] else 0)
    late = [
        x for x in result["splits"] if result["opens"] and (x["time_s"] or 0) > result["opens_s"]
    ]
    assert late == []


def test_a_run_that_the_bms_ends_reaches_nothing_behind_it(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    """The dangerous case: a time that the bike would never ride is not shown."""
    file = tmp_path / "b.json"
    file.write_bytes(write_build(pip()))
    assert main(["run", str(file), "--json"]) == 1
    result = json.loads(capsys.readouterr().out)
    assert result["opens"] == "BMS"
    assert all((x["time_s"] or 0) <= result["opens_s"] for x in result["splits"])


def test_backup_and_restore(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    fill_demo(House.open(tmp_path))
    assert main(["backup", "--data", str(tmp_path)]) == 0
    made = capsys.readouterr().out.split(": ")[0]
    for left in tmp_path.glob(f"{DATABASE}-*"):
        left.unlink()
    (tmp_path / DATABASE).write_bytes(b"spoilt" * 1000)
    assert main(["export", "--data", str(tmp_path)]) == 2
    assert Path(made).name in capsys.readouterr().err
    assert main(["restore", "--data", str(tmp_path)]) == 0
    assert "3 builds are back" in capsys.readouterr().out
    assert main(["export", "--data", str(tmp_path)]) == 0
    assert "moss-84" in capsys.readouterr().out
    assert main(["restore", "--data", str(tmp_path / "none")]) == 2


def test_small_answers_do_not_wait_for_an_acknowledgement() -> None:
    """asyncio switches the waiting off only for a socket that is named as TCP."""
    from ninebolt.cli.serve import _listening

    with _listening("127.0.0.1", 0) as listener:
        assert listener.proto == socket.IPPROTO_TCP


def test_two_servers_at_the_same_instant_one_says_why_it_stops(tmp_path: Path) -> None:
    pair = [serve("--port", "0", "--data", str(tmp_path)) for _ in range(2)]
    try:
        until = time.monotonic() + 60
        while all(p.poll() is None for p in pair) and time.monotonic() < until:
            time.sleep(0.1)
        ended = [p for p in pair if p.poll() is not None]
        assert len(ended) == 1 and ended[0].returncode == 2
        assert ended[0].stderr is not None and "Another Nine Bolt" in ended[0].stderr.read()
        stays = next(p for p in pair if p.poll() is None)
        assert stays.stdout is not None and "Nine Bolt is at" in stays.stdout.readline()
    finally:
        for p in pair:
            p.terminate()
            p.wait(60)


def call(address: str, path: str, body: object = None) -> tuple[int, bytes]:
    data = None if body is None else json.dumps(body).encode()
    asked = urllib.request.Request(
        address + path, data=data, headers={"Content-Type": "application/json"}
    )
    try:
        with urllib.request.urlopen(asked, timeout=60) as answer:
            return answer.status, answer.read()
    except urllib.error.HTTPError as error:
        return error.code, error.read()


@pytest.mark.skipif(os.name == "nt", reason="limits of a process are set another way there")
def test_on_a_full_disk_the_garage_is_read_and_nothing_is_lost(tmp_path: Path) -> None:
    """No file may grow past 80 KiB: every write that needs more room fails as on a full disk."""
    import resource

    fill_demo(House.open(tmp_path))
    room = 4096 * 20
    process = subprocess.Popen(
        [sys.executable, "-m", "ninebolt", "serve", "--port", "0", "--data", str(tmp_path)],
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
        env=PLAIN,
        preexec_fn=lambda: resource.setrlimit(resource.RLIMIT_FSIZE, (room, room)),
    )
    try:
        assert process.stdout is not None
        address = process.stdout.readline().split(" at ")[1].strip()
        kept, refusal = "", b""
        for i in range(40):
            note = f"{i} " + "x" * 3000
            status, answer = call(
                address,
                "/api/builds/moss-84/changes",
                {"changes": [{"path": "note", "value": note}]},
            )
            if status != 200:
                refusal = answer
                break
            kept = note
        assert b"Nothing was stored" in refusal and b"room on the disk" in refusal
        assert call(address, "/api/builds")[0] == 200
        status, export = call(address, "/api/builds/moss-84/export")
        assert status == 200 and (not kept or json.loads(export)["note"] == kept)
    finally:
        process.terminate()
        process.wait(60)
    House.open(tmp_path)  # whole, once there is room again


@pytest.mark.skipif(os.name == "nt" or os.geteuid() != 0, reason="needs another user to be")
def test_a_folder_that_may_not_be_written_says_so(tmp_path: Path) -> None:
    """As a user who may read the folder and not write it."""
    code = "import os, sys; os.setuid(65534); from ninebolt.cli import main; sys.exit(main(sys.argv[1:]))"
    tmp_path.chmod(0o555)
    for parent in list(tmp_path.parents)[:-1]:
        if parent.stat().st_uid == os.geteuid() and str(parent).startswith("/tmp"):
            parent.chmod(parent.stat().st_mode | 0o055)
    done = subprocess.run(
        [sys.executable, "-c", f"import ninebolt.cli.serve, ninebolt.api.app, uvicorn; {code}",
         "serve", "--port", "0", "--data", str(tmp_path)],
        capture_output=True, text=True, env=PLAIN, timeout=60, check=False,
    )  # fmt: skip
    assert done.returncode == 2 and "cannot be written" in done.stderr and done.stdout == ""
