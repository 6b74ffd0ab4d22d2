"""What reaches the application at all: this machine only, and browsers paired by hand where the server also listens in
the network; this origin only, bounded bodies."""

from __future__ import annotations

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from ninebolt.api.problems import problem
from ninebolt.errors import InputError, TooLargeError
from ninebolt.services.pairing import COOKIE, Pairing

LOCAL = ("127.0.0.1", "localhost", "[::1]")
SMALL = 9_000_000
LARGE = 66_000_000
LARGE_PATHS = (
    "/logs",
    "/logs/preview",
    "/logs/jobs",
    "/import",
    "/sort",
    "/sort/preview",
    "/sort/jobs",
    "/charge-log",
    "/compare",
    "/settings/file",
    "/dictionary",
    "/profiles",
)
MAX_PATH = 2000
# The page loads nothing from anywhere else, is framed by nobody, and no answer is taken for a script.
HEADERS = (
    (
        b"content-security-policy",
        b"default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
        b"font-src 'self' data:; connect-src 'self'; object-src 'none'; base-uri 'none'; "
        b"form-action 'self'; frame-ancestors 'none'",
    ),
    (b"x-content-type-options", b"nosniff"),
    (b"x-frame-options", b"DENY"),
    (b"referrer-policy", b"no-referrer"),
)


OPEN = {
    ("GET", "/pair"),
    ("POST", "/api/lan/pair"),
}  # all that an unpaired browser may ask from outside


def _cookie(header: str, name: str) -> str:
    """The value of one cookie, '' where there is none."""
    for part in header.split(";"):
        key, _, value = part.strip().partition("=")
        if key == name:
            return value.strip('"')
    return ""


def host_name(value: str) -> str:
    """Host without its port."""
    return value.rsplit(":", 1)[0] if not value.endswith("]") else value


class Gate:
    """Checks Host always, Origin where something changes, and the size of bodies as they come."""

    def __init__(self, app: ASGIApp, pairing: Pairing | None = None) -> None:
        self.app, self.pairing = app, pairing

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        send = _guarded(send)
        if "\0" in scope["path"] or len(scope["path"]) > MAX_PATH:
            await problem(_no_path(scope["path"]), 404)(scope, receive, send)
            return
        headers = {k.decode("latin-1"): v.decode("latin-1") for k, v in scope["headers"]}
        server = scope.get("server")
        outside = server is not None and str(server[0]) not in (*LOCAL, "::1")
        wrong = (
            self._refuse_outside(scope["method"], scope["path"], headers)
            if outside
            else self._refuse(scope["method"], headers)
        )
        if wrong is not None:
            await problem(wrong, 403)(scope, receive, send)
            return
        limit = LARGE if scope["path"].endswith(LARGE_PATHS) else SMALL
        length = headers.get("content-length", "")
        if length.isdigit() and int(length) > limit:
            await problem(_too_large(int(length), limit))(scope, receive, send)
            return
        body = _Body(receive, send, scope, limit)
        await self.app(scope, body.receive, body.send)

    def _refuse_outside(self, method: str, path: str, headers: dict[str, str]) -> InputError | None:
        """From the network: the address that was given out, this origin, a paired browser."""
        lan, host = self.pairing, headers.get("host", "")
        if lan is None or not lan.address or host != lan.host:
            return InputError(
                "This server only answers on this machine.",
                where="Host",
                got=repr(host[:60]),
                expected=", ".join(LOCAL),
            )
        if method not in ("GET", "HEAD") and headers.get("origin") != lan.address:
            return InputError(
                "A page of another site may not change anything here.",
                where="Origin",
                got=repr(headers.get("origin", "")[:60]),
                expected=lan.address,
            )
        if (method, path) in OPEN:
            return None
        if path.startswith("/api/lan"):
            return InputError("Phones are paired and revoked on the machine itself.", where=path)
        cookie = _cookie(headers.get("cookie", ""), COOKIE)
        if not lan.allows(cookie, headers.get("user-agent", "")):
            return InputError(
                "This browser is not paired.",
                where="cookie",
                todo="Ask for a code on the machine that runs the garage, and open the address that it shows.",
            )
        return None

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


def _guarded(send: Send) -> Send:
    async def guarded(message: Message) -> None:
        if message["type"] == "http.response.start":
            own = list(message.get("headers", ()))
            said = {k for k, _ in own}
            message = {**message, "headers": [*own, *(h for h in HEADERS if h[0] not in said)]}
        await send(message)

    return guarded


def _no_path(path: str) -> InputError:
    return InputError(
        "There is nothing at this address.",
        where="path",
        got=repr(path[:60]),
        expected=f"at most {MAX_PATH} characters, without a zero byte",
    )


def _too_large(size: int, limit: int) -> TooLargeError:
    return TooLargeError(
        "The upload is too large.",
        got=f"{size / 1e6:.0f} MB",
        expected=f"at most {limit / 1e6:.0f} MB",
    )


class _Body:
    """Counts the body as it comes. Over the limit the application sees an error, and whatever it
    makes of that, the answer sent is ours."""

    def __init__(self, receive: Receive, send: Send, scope: Scope, limit: int) -> None:
        self._receive, self._send, self._scope, self._limit = receive, send, scope, limit
        self._seen = 0
        self._answered = False

    async def receive(self) -> Message:
        message = await self._receive()
        self._seen += len(message.get("body", b""))
        if self._seen > self._limit:
            raise _too_large(self._seen, self._limit)
        return message

    async def send(self, message: Message) -> None:
        if self._seen <= self._limit:
            await self._send(message)
        elif not self._answered:
            self._answered = True
            answer = problem(_too_large(self._seen, self._limit))
            await answer(self._scope, self._receive, self._send)
