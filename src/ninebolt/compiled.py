"""The run's kernel compiled by numba: loaded from its cache on disk, or made (some seconds, once).

Without numba, or with NINEBOLT_PLAIN set, the plain kernel stays in use.
"""

from __future__ import annotations

import hashlib
import importlib.util
import os
import shutil
import sys
from pathlib import Path
from threading import Lock, Thread
from types import ModuleType

from ninebolt.core.kernel import is_compiled, plain, point, use

PLAIN_ONLY = "NINEBOLT_PLAIN"
_NAME = "ninebolt.core.kernel._compiled"
_lock = Lock()


def compile_soon() -> None:
    """Begin in the background; what is computed meanwhile is computed plainly."""
    Thread(target=compile_now, name="kernel", daemon=True).start()


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
        use(made)
        return True


def _load() -> ModuleType | None:
    """The same files as second modules, their functions compiled and called once."""
    try:
        import numba
    except ImportError:
        return None
    vars(numba.config)["CACHE_DIR"] = str(_cache_folder(numba.__version__))
    jit = numba.njit(cache=True, nogil=True, error_model="numpy")
    # Written out where they are called: the many numbers that they give back cost as much as an eighth of a run.
    inline = numba.njit(cache=True, nogil=True, error_model="numpy", inline="always")
    made = _again(point.__file__, f"{_NAME}_point", JIT=jit, INLINE=inline)
    made = _again(plain.__file__, _NAME, JIT=jit, INLINE=inline, POINT=made)
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
