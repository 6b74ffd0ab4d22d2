"""The phone at the strip: pairing codes that last two minutes, and the browsers that were paired."""

from __future__ import annotations

import hashlib
import hmac
import io
import secrets
from collections.abc import Callable
from dataclasses import dataclass, field
from threading import Lock
from typing import Any

from ninebolt import awake
from ninebolt.core.codec import clean_text
from ninebolt.errors import ConflictError, InputError, NotFoundError
from ninebolt.services.house import House
from ninebolt.store import rides
from ninebolt.store.database import session, transaction

ALPHABET = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"  # nothing that looks like another
CODE_LENGTH = 8
CODE_S = 120.0
TRIES = 5
MOST_DEVICES = 12
KEPT = "lan:devices"
COOKIE = "nb_phone"


@dataclass(frozen=True, slots=True)
class Device:
    """A paired browser."""

    id: str
    name: str
    paired_at: str
    seen_s_ago: float | None


@dataclass(frozen=True, slots=True)
class LanState:
    """Whether the server also listens in the network, where, and to whom it answers there."""

    on: bool
    address: str
    devices: tuple[Device, ...]


@dataclass(frozen=True, slots=True)
class Offer:
    """A code to be typed or photographed within so many seconds. qr: an SVG of the address."""

    code: str
    url: str
    seconds: float
    qr: str


def _hash(text: str) -> str:
    return hashlib.sha256(text.encode()).hexdigest()


@dataclass
class Pairing:
    """address: where it listens in the network (http://host:port), '' where it does not. clock: seconds."""

    house: House | None
    address: str = ""
    clock: Callable[[], float] = awake.seconds
    _code: str = ""
    _until: float = 0.0
    _tries: int = 0
    _seen: dict[str, float] = field(default_factory=dict)
    _lock: Lock = field(default_factory=Lock)

    @property
    def host(self) -> str:
        """As a browser writes it into Host."""
        return self.address.removeprefix("http://")

    def _rows(self) -> list[dict[str, Any]]:
        if self.house is None:
            return []

        def read() -> list[dict[str, Any]]:
            with session(self.house.path) as db:  # type: ignore[union-attr]
                return list(rides.get_preferences(db).get(KEPT) or [])

        made: list[dict[str, Any]] = self.house.keep(KEPT, read)
        return made

    def _keep(self, rows: list[dict[str, Any]]) -> None:
        if self.house is None:
            return
        with session(self.house.path) as db, transaction(db):
            rides.put_preference(db, KEPT, rows)
        self.house.put(KEPT, rows)

    def state(self) -> LanState:
        """Where it listens, and the devices, newest first."""
        now = self.clock()
        devices = tuple(
            Device(
                r["id"],
                r["name"],
                r["at"],
                now - s if (s := self._seen.get(r["id"])) is not None else None,
            )
            for r in reversed(self._rows())
        )
        return LanState(bool(self.address), self.address, devices)

    def offer(self) -> Offer:
        """A new code; an earlier one is void. Raises ConflictError where the server does not listen in the network."""
        if not self.address:
            raise ConflictError(
                "The server does not listen in the network.",
                todo="Start it with: ninebolt serve --lan",
            )
        with self._lock:
            self._code = "".join(secrets.choice(ALPHABET) for _ in range(CODE_LENGTH))
            self._until, self._tries = self.clock() + CODE_S, TRIES
            url = f"{self.address}/pair?code={self._code}"
        return Offer(self._code, url, CODE_S, _qr(url))

    def pair(self, code: str, agent: str, name: str) -> str:
        """The cookie's value for this browser. Raises InputError for a code that is wrong, old or used up."""
        with self._lock:
            good = bool(self._code) and self.clock() < self._until and self._tries > 0
            right = hmac.compare_digest(code.strip().upper().encode(), self._code.encode())
            if not good or not right:
                self._tries -= 1
                if self._tries <= 0:
                    self._code = ""
                raise InputError(
                    "This code does not pair.",
                    expected=f"the {CODE_LENGTH} characters that the other screen shows now, within {CODE_S:.0f} s",
                    todo="Ask for a new code there.",
                )
            self._code = ""
            rows = self._rows()
            if len(rows) >= MOST_DEVICES:
                raise InputError(
                    "Too many browsers are paired.", got=str(len(rows)), todo="Revoke one."
                )
            device, token = secrets.token_hex(6), secrets.token_urlsafe(32)
            assert self.house is not None
            clean = clean_text(" ".join(name.split()), "name")[:40] or "phone"
            row = {"id": device, "name": clean, "token": _hash(token), "agent": _hash(agent),
                   "at": self.house.now()}  # fmt: skip
            self._keep([*rows, row])
        return f"{device}.{token}"

    def allows(self, cookie: str, agent: str) -> bool:
        """Whether a cookie is that of a paired browser, of this very kind."""
        device, _, token = cookie.partition(".")
        row = next((r for r in self._rows() if r["id"] == device), None)
        if row is None or not token:
            return False
        same = hmac.compare_digest(_hash(token), str(row["token"]))
        here = hmac.compare_digest(_hash(agent), str(row["agent"]))
        if same and here:
            self._seen[device] = self.clock()
        return same and here

    def revoke(self, device: str) -> LanState:
        """From now on it is refused. Raises NotFoundError."""
        with self._lock:
            rows = self._rows()
            if device not in {r["id"] for r in rows}:
                raise NotFoundError(f"There is no paired device '{device[:40]}'.")
            self._keep([r for r in rows if r["id"] != device])
        return self.state()


def _qr(url: str) -> str:
    import segno

    out = io.BytesIO()
    segno.make(url, error="m").save(
        out, kind="svg", scale=6, border=3, xmldecl=False, dark="#1b1a17"
    )
    return out.getvalue().decode()
