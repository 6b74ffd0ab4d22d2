"""The one large answer, a bench. A dozen routes give it: its model is made once, when it is first
wanted, and its JSON is written straight from the services' dataclasses."""

from __future__ import annotations

from functools import cache
from typing import Any

from fastapi import FastAPI, Response
from pydantic import TypeAdapter

from ninebolt.services import workshop
from ninebolt.services.workshop import Bench

NAME = "Bench"
# For a route that answers with a bench: what the OpenAPI document says of it.
AS_BENCH: dict[str, Any] = {
    "description": "The build as shown, with its assessment",
    "content": {"application/json": {"schema": {"$ref": f"#/components/schemas/{NAME}"}}},
}
BENCH: dict[str, Any] = {"response_model": None, "responses": {200: AS_BENCH}}


@cache
def _model() -> TypeAdapter[Bench]:
    return TypeAdapter(Bench)


def answer(bench: Bench, bolt: str, status: int = 200) -> Response:
    """The bench with the drawing of the bolt on screen."""
    data = _model().dump_json(workshop.on_screen(bench, bolt))
    return Response(data, status, media_type="application/json")


class Application(FastAPI):
    """Knows the bench's model, which no route of its own carries."""

    def openapi(self) -> dict[str, Any]:
        """The OpenAPI document."""
        if self.openapi_schema is None:
            doc = super().openapi()
            made = _model().json_schema(
                mode="serialization", ref_template="#/components/schemas/{model}"
            )
            parts = made.pop("$defs")
            doc["components"]["schemas"].update({**parts, NAME: made})
            doc["components"]["schemas"] = dict(sorted(doc["components"]["schemas"].items()))
        return self.openapi_schema or {}
