"""Choosing and arranging: what goes with what, what goes where."""
