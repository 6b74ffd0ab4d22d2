"""What reaches the application at all: this machine only, this origin only, bounded bodies."""

from __future__ import annotations

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from ninebolt.api.problems import problem
from ninebolt.errors import InputError, TooLargeError

LOCAL = ("127.0.0.1", "localhost", "[::1]")
SMALL = 9_000_000
LARGE = 66_000_000
LARGE_PATHS = ("/logs", "/logs/preview", "/import")


def host_name(value: str) -> str:
    """Host without its port."""
    return value.rsplit(":", 1)[0] if not value.endswith("]") else value


class Gate:
    """Checks Host always, Origin where something changes, and the size of bodies as they come."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = {k.decode("latin-1"): v.decode("latin-1") for k, v in scope["headers"]}
        wrong = self._refuse(scope["method"], headers)
        if wrong is not None:
            await problem(wrong, 403)(scope, receive, send)
            return
        limit = LARGE if scope["path"].endswith(LARGE_PATHS) else SMALL
        length = headers.get("content-length", "")
        if length.isdigit() and int(length) > limit:
            await problem(_too_large(int(length), limit))(scope, receive, send)
            return
        await self.app(scope, _bounded(receive, limit), send)

    def _refuse(self, method: str, headers: dict[str, str]) -> InputError | None:
        host = headers.get("host", "")
        if host_name(host) not in LOCAL:
            return InputError(
                "This server only answers on this machine.",
                where="Host",
                got=repr(host[:60]),
                expected=", ".join(LOCAL),
            )
        origin = headers.get("origin")
        if method not in ("GET", "HEAD") and origin and origin != f"http://{host}":
            return InputError(
                "A page of another site may not change anything here.",
                where="Origin",
                got=repr(origin[:60]),
                expected=f"http://{host}",
            )
        return None


def _too_large(size: int, limit: int) -> TooLargeError:
    return TooLargeError(
        "The upload is too large.",
        got=f"{size / 1e6:.0f} MB",
        expected=f"at most {limit / 1e6:.0f} MB",
    )


def _bounded(receive: Receive, limit: int) -> Receive:
    seen = 0

    async def inner() -> Message:
        nonlocal seen
        message = await receive()
        seen += len(message.get("body", b""))
        if seen > limit:
            raise _too_large(seen, limit)
        return message

    return inner
