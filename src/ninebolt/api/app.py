"""The application: routers, gate, errors, and the built front end."""

from __future__ import annotations

import os
from pathlib import Path

from fastapi.responses import FileResponse
from starlette.responses import Response
from starlette.staticfiles import StaticFiles

from ninebolt import __version__
from ninebolt.api import (
    problems,
    routes_brain,
    routes_builds,
    routes_drive,
    routes_lan,
    routes_link,
    routes_packs,
    routes_pictures,
    routes_prove,
    routes_reference,
    routes_rides,
    routes_shelf,
    routes_traces,
)
from ninebolt.api.answers import Application
from ninebolt.api.gate import Gate
from ninebolt.errors import NotFoundError
from ninebolt.services.bench_line import PORT
from ninebolt.services.connection import Connection
from ninebolt.services.house import House
from ninebolt.services.jobs import Jobs
from ninebolt.services.pairing import Pairing

FRONT_END = Path(__file__).resolve().parents[3] / "frontend" / "dist"


def make_app(
    house: House | None,
    front_end: Path = FRONT_END,
    bench_port: int = PORT,
    pairing: Pairing | None = None,
) -> Application:
    """house None: only good for reading the OpenAPI document."""
    app = Application(
        title="Nine Bolt",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.state.house = house
    app.state.jobs = Jobs()
    app.state.link = Connection(house, bench_port) if house is not None else None
    problems.install(app)
    for module in (
        routes_builds,
        routes_brain,
        routes_drive,
        routes_packs,
        routes_rides,
        routes_shelf,
        routes_reference,
        routes_link,
        routes_prove,
        routes_traces,
        routes_pictures,
        routes_lan,
    ):
        # As they are: included, each would be worked out a second time, at the first request of all.
        app.router.routes.extend(module.router.routes)
    app.router.routes.extend([*routes_prove.sums.routes, *routes_traces.sums.routes])
    app.state.pairing = pairing or Pairing(house)
    app.add_middleware(Gate, pairing=app.state.pairing)
    _serve(app, front_end)
    return app


def _serve(app: Application, front_end: Path) -> None:
    if not (front_end / "index.html").exists():
        return
    app.mount("/assets", StaticFiles(directory=front_end / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        if path.startswith("api/"):
            raise NotFoundError(f"There is no '{path[:60]}' in the API.")
        file = Path(os.path.normpath(front_end / path))
        if path and os.path.isfile(file) and file.is_relative_to(front_end.resolve()):
            return FileResponse(file)
        return FileResponse(front_end / "index.html", headers={"Cache-Control": "no-cache"})
