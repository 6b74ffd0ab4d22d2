"""Wire: how is it hooked up?"""
