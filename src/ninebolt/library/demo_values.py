"""Shorthand for the demo's documents: values with an origin, parts from the library."""

from __future__ import annotations

from typing import Any

from ninebolt.core.codec import encode
from ninebolt.library.catalogue import item


def lib(kind: str, item_id: str, **changes: Any) -> dict[str, Any]:
    """A bundled part's document with some fields changed."""
    return {**encode(item(kind, item_id).part), **changes}


def value(
    amount: float, origin: str = "measured", tolerance: float | None = None
) -> dict[str, Any]:
    return {"amount": amount, "origin": origin, "tolerance": tolerance}


def measured(amount: float) -> dict[str, Any]:
    return value(amount)


def setting(amount: float) -> dict[str, Any]:
    """A chosen number: no tolerance."""
    return value(amount, "guess", 0.0)
