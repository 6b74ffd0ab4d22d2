"""The shell: the same use cases, on files; one module a verb."""

import gc

gc.disable()  # while modules are loaded there is no garbage worth a walk; it took a twentieth of a start

from ninebolt.cli.main import main  # noqa: E402

gc.enable()

__all__ = ["main"]
