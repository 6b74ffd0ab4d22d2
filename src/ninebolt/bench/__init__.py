"""The bench bike: rides a build's physics with its own hidden truth, and writes what loggers see; live, its controller
and BMS are CAN nodes, with a GPS, a meter and faults on request.

What each part does not imitate stands in its module.
"""

HOST = "127.0.0.1"  # where it listens: this machine alone
