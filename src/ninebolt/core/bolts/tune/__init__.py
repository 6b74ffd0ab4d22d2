"""Tune: what do I write into the controller?"""
