"""The run's physics, one source: plain Python, or the same text compiled by numba.

`kernel()` gives the module in use. Plain is there at once; `compile_now()` loads the compiled one
from its cache on disk (or makes it, some seconds, once) and from then on everybody gets that.
Both are the same statements in the same order, so they agree to the last digits; a test holds that.
"""

from __future__ import annotations

import hashlib
import importlib.util
import os
import shutil
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Lock
from types import ModuleType

from ninebolt.core.kernel import point
from ninebolt.core.kernel import run as plain

PLAIN_ONLY = "NINEBOLT_PLAIN"  # set: never compile
_NAME = "ninebolt.core.kernel._compiled"
_lock = Lock()
_state: dict[str, ModuleType] = {"use": plain}


def kernel() -> ModuleType:
    """The module whose functions are to be called now."""
    return _state["use"]


def is_compiled() -> bool:
    return kernel() is not plain


def compile_now() -> bool:
    """Load the compiled kernel and use it; False where numba is not there or is not wanted."""
    with _lock:
        if is_compiled():
            return True
        if os.environ.get(PLAIN_ONLY):
            return False
        made = _load()
        if made is None:
            return False
        _state["use"] = made
        return True


def _load() -> ModuleType | None:
    """The same files as second modules, their functions compiled and called once."""
    try:
        import numba
    except ImportError:
        return None
    vars(numba.config)["CACHE_DIR"] = str(_cache_folder(numba.__version__))
    jit = numba.njit(cache=True, nogil=True, error_model="numpy")
    made = _again(point.__file__, f"{_NAME}_point", JIT=jit)
    made = _again(plain.__file__, _NAME, JIT=jit, POINT=made)
    made.warm()
    return made


def _cache_folder(version: str) -> Path:
    """Where the compiled code of exactly these sources lies. numba itself would not see that a
    function of the one file, built into the other, has changed."""
    sources = [Path(str(m.__file__)) for m in (point, plain)]
    sha = hashlib.sha256(version.encode() + b"".join(p.read_bytes() for p in sources))
    home = sources[0].parent / "__pycache__"
    if not os.access(home if home.exists() else home.parent, os.W_OK):
        home = Path.home() / ".cache" / "ninebolt"
    folder = home / f"kernel-{sha.hexdigest()[:16]}"
    if not folder.exists():
        for old in home.glob("kernel-*"):
            shutil.rmtree(old, ignore_errors=True)
    return folder


def _again(file: str | None, name: str, **given: object) -> ModuleType:
    """A source file as a second module, with some of its names given."""
    spec = importlib.util.spec_from_file_location(name, file or "")
    assert spec is not None and spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    sys.modules[name] = module
    module.__dict__.update(given)
    spec.loader.exec_module(module)
    return module


@contextmanager
def plainly() -> Iterator[None]:
    """Inside, the plain kernel is used: for tests that compare the two."""
    used = _state["use"]
    _state["use"] = plain
    try:
        yield
    finally:
        _state["use"] = used
