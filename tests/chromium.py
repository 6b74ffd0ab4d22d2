"""Debian's Chromium: the headless one before the whole browser, which draws its own tool bars as pages of their own."""

from __future__ import annotations

import shutil

NAMES = ("chromium-headless-shell", "chromium", "chromium-browser")


def chromium() -> str | None:
    """The path of the first one that is there."""
    return next((p for n in NAMES if (p := shutil.which(n))), None)
