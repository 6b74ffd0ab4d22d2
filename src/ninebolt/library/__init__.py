"""Bundled generic parts, all invented and typical of their class, with their origins."""
