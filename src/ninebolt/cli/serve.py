"""The web application on this machine."""

from __future__ import annotations

import argparse
import gc
import os
import socket
import sys
import webbrowser
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Timer

from ninebolt.cli.common import house_at
from ninebolt.compiled import compile_soon
from ninebolt.errors import InputError
from ninebolt.services import bench_line
from ninebolt.services.demo import fill_demo
from ninebolt.services.lock import holding
from ninebolt.services.pairing import Pairing
from ninebolt.store.database import session

IN_THE_NETWORK = (
    "Phones can be paired at {lan}. Everybody in this network can reach that address; only browsers that you pair "
    "are answered, and what passes is not encrypted. Use a network of your own."
)
FIRST_PAGE_S = 0.5
LOCAL = ("127.0.0.1", "localhost", "::1")


def act(args: argparse.Namespace) -> int:
    """The web application on this machine."""
    gc.disable()  # while modules are loaded there is no garbage worth a walk
    import uvicorn

    from ninebolt.api.app import make_app

    gc.enable()

    if args.host not in LOCAL:
        raise InputError(
            "The server only listens on this machine.",
            where="--host",
            got=args.host,
            expected=LOCAL[0],
        )
    with (
        _listening(args.host, args.port) as listener,
        _in_the_network(args.lan, listener.getsockname()[1]) as outside,
        holding(Path(args.data)),
    ):
        house = house_at(args)
        lan = f"http://{':'.join(map(str, outside.getsockname()))}" if outside else ""
        if args.demo:
            compile_soon()
            fill_demo(house)
        shown = f"[{args.host}]" if ":" in args.host else args.host
        address = f"http://{shown}:{listener.getsockname()[1]}"

        class Server(uvicorn.Server):
            async def startup(self, sockets: list[socket.socket] | None = None) -> None:
                await super().startup(sockets)
                if self.started:
                    _say(address, args.open)
                    later = Timer(FIRST_PAGE_S, _settle)
                    later.daemon = True
                    later.start()
                    if lan:
                        print(f"{IN_THE_NETWORK.format(lan=lan)}", flush=True)

            async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
                app.state.link.close()  # a motor that is being identified is not left turning
                await super().shutdown(sockets)
                house.cards.save()

        app = make_app(house, bench_port=args.bench_port, pairing=Pairing(house, lan))
        config = uvicorn.Config(app, log_level="warning")
        # A connection held open spares every request the tidying that follows the last one closed.
        bench = bench_line.start(args.bench_port) if args.bench else None
        try:
            with session(house.path):
                Server(config).run(sockets=[listener, *([outside] if outside else [])])
        finally:
            if bench is not None and bench.stdin is not None:
                bench.stdin.close()  # it ends with its input
    return 0


@contextmanager
def _in_the_network(asked: str | None, port: int) -> Iterator[socket.socket | None]:
    """A socket on this machine's address in its network, where --lan was said. Raises InputError without one."""
    if asked is None:
        yield None
        return
    address = asked or _own_address()
    if address in LOCAL or address in ("", "0.0.0.0", "::"):
        raise InputError(
            "This is no address in a network.",
            where="--lan",
            got=address or "no network",
            expected="this machine's own, such as 192.168.4.2",
            todo="Join a network, or name the address: --lan 192.168.4.2",
        )
    with _listening(address, port) as made:
        yield made


def _own_address() -> str:
    """The address from which the network would be reached; '' without one. Nothing is sent."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(("192.0.2.1", 9))  # RFC 5737, for documentation: nobody is there
            return str(probe.getsockname()[0])
        except OSError:
            return ""


def _settle() -> None:
    """Once the first page has gone out: the physics is compiled or loaded; and what is in memory by then stays: the
    collector need not walk through it again, which held an answer up by a tenth of a second now and then; and it
    looks for garbage less often."""
    compile_soon()
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 100)


def _say(address: str, show: bool) -> None:
    print(f"Nine Bolt is at {address}", flush=True)
    if show and (sys.platform in ("darwin", "win32") or os.environ.get("DISPLAY")):
        webbrowser.open(address)


def _listening(host: str, port: int) -> socket.socket:
    """A bound socket. Raises InputError where the port is taken or is none."""
    if not 0 <= port <= 65535:
        raise InputError("This is no port.", where="--port", got=str(port), expected="0 to 65535")
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    # Named as TCP, asyncio sends answers at once; else small ones wait 40 ms for an acknowledgement.
    made = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        made.bind((host, port))
    except OSError as error:
        made.close()
        raise InputError(
            "The port cannot be had.",
            where=f"--port {port}",
            got=str(error.strerror),
            todo="End what is using it, or take another with --port.",
        ) from error
    return made


def options(p: argparse.ArgumentParser) -> None:
    """What the verb takes."""
    p.add_argument("--host", default=LOCAL[0])
    p.add_argument("--port", type=int, default=8790)
    p.add_argument(
        "--lan",
        nargs="?",
        const="",
        metavar="ADDRESS",
        help="also for phones in this network that are paired by hand; off by default",
    )
    p.add_argument("--data", default="data")
    p.add_argument("--demo", action="store_true", help="with the demo garage, if it is empty")
    p.add_argument("--bench", action="store_true", help="with a live bench bike beside it")
    p.add_argument(
        "--bench-port", type=int, default=bench_line.PORT, help="where the bench bike is"
    )
    p.add_argument("--open", action="store_true", help="show it in the browser, if there is one")
