"""Prove: is it safe to ride, and is it faster?"""
