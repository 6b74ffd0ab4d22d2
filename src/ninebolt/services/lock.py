"""One server a data folder: a lock that the system lets go of when its holder ends."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from ninebolt.errors import ConflictError, StoreError

NAME = "ninebolt.lock"


@contextmanager
def holding(folder: Path) -> Iterator[None]:
    """Hold a folder. Raises ConflictError where another program does, StoreError where the folder
    may not be written."""
    path = folder / NAME
    try:
        folder.mkdir(parents=True, exist_ok=True)
        file = os.open(path, os.O_RDWR | os.O_CREAT, 0o644)
    except OSError as error:
        raise StoreError(
            "The data folder cannot be written.",
            where=str(folder),
            got=str(error.strerror),
            todo="Give write permission, or use --data DIR.",
        ) from error
    try:
        if not _taken(file):
            raise ConflictError(
                "Another Nine Bolt is at work in this folder.",
                where=str(folder),
                todo="Use its window, end it first, or use --data DIR.",
            )
        yield
    finally:
        os.close(file)


def _taken(file: int) -> bool:
    if os.name == "nt":
        import msvcrt

        try:
            msvcrt.locking(file, msvcrt.LK_NBLCK, 1)  # type: ignore[attr-defined]
        except OSError:
            return False
        return True
    import fcntl

    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return False
    return True
