"""Donor: what am I starting from?"""
