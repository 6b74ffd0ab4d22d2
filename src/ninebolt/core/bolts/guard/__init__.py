"""Guard: what protects it, and what will cut out first?"""
