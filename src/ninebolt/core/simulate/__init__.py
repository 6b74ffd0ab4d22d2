"""One straight-line run, its case, its bands."""
