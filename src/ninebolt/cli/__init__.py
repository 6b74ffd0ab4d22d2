"""The shell: the same use cases, on files; one module a verb."""

from ninebolt.cli.main import main

__all__ = ["main"]
