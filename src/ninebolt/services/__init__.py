"""Use cases: join core, formats, store and library; own transactions and time."""
