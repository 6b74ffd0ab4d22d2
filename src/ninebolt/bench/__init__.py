"""The bench bike: rides a build's physics with its own hidden truth, and writes what loggers see.

What it does not imitate yet: a live CAN link, a BMS node, a cell tester, faults of the wiring.
"""
