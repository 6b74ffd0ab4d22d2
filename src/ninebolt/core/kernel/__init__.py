"""The run's physics, one source: plain Python, or the same text compiled (ninebolt.compiled).

`kernel()` gives the module in use: the plain one until a compiled one is handed over. Both are the
same statements in the same order, so they agree to the last digits; a test holds that.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from types import ModuleType

from ninebolt.core.kernel import point
from ninebolt.core.kernel import run as plain

__all__ = ["is_compiled", "kernel", "plain", "plainly", "point", "use"]

_state: dict[str, ModuleType] = {"use": plain}


def kernel() -> ModuleType:
    """The module whose functions are to be called now."""
    return _state["use"]


def use(module: ModuleType) -> None:
    """From now on everybody calls this module."""
    _state["use"] = module


def is_compiled() -> bool:
    return kernel() is not plain


@contextmanager
def plainly() -> Iterator[None]:
    """Inside, the plain kernel is used: for tests that compare the two."""
    used = kernel()
    use(plain)
    try:
        yield
    finally:
        use(used)
