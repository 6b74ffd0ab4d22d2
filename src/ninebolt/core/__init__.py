"""The pure heart: no files, clock, random numbers, network, database or web."""
