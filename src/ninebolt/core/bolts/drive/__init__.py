"""Drive: do motor and controller belong together, and to this pack?"""
