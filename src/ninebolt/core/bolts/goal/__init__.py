"""Goal: what would it take?"""
