"""What protects the pack and what carries its current."""
