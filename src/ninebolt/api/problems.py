"""Errors become JSON here and nowhere else."""

from __future__ import annotations

import logging

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from ninebolt.errors import (
    ConflictError,
    InputError,
    LinkError,
    NineBoltError,
    NotFoundError,
    StoreError,
    TooLargeError,
)

STATUS: tuple[tuple[type[NineBoltError], int], ...] = (
    (TooLargeError, 413),
    (InputError, 422),
    (NotFoundError, 404),
    (ConflictError, 409),
    (StoreError, 500),
    (LinkError, 502),
)
log = logging.getLogger("ninebolt")


def problem(error: NineBoltError, status: int | None = None) -> JSONResponse:
    """The error as a response."""
    code = status or next((s for cls, s in STATUS if isinstance(error, cls)), 500)
    return JSONResponse({**error.as_dict(), "message": error.message()}, code)


def install(app: FastAPI) -> None:
    """Register the handlers."""

    @app.exception_handler(NineBoltError)
    async def _ours(request: Request, error: NineBoltError) -> JSONResponse:
        return problem(error)

    @app.exception_handler(RequestValidationError)
    async def _shape(request: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        where = ".".join(str(x) for x in first["loc"])
        return problem(
            InputError(
                "The request is not as expected.",
                where=where,
                got=first["type"],
                expected=first["msg"],
            )
        )

    @app.exception_handler(HTTPException)
    async def _http(request: Request, error: HTTPException) -> JSONResponse:
        return problem(NineBoltError(str(error.detail)), error.status_code)

    @app.exception_handler(Exception)
    async def _other(request: Request, error: Exception) -> JSONResponse:
        log.exception("unexpected error")
        return problem(
            NineBoltError(
                "The program met an error it did not expect.",
                got=type(error).__name__,
                todo="Load the page again to see what is stored; the server's log has the details.",
            )
        )
