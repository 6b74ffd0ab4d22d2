"""A bench bike in a process of its own, and a build on its link, as the rows have them."""

from rows.conftest import bus, linked

__all__ = ["bus", "linked"]
