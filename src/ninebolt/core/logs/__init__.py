"""Ride-log analysis: clean, detect, split, compare."""
