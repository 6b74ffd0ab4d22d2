"""Text or bytes to core types and back, a module a format."""
