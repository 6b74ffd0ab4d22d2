"""Gear: what ratio, and will the chassis bear it?"""
