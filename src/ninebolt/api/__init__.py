"""FastAPI: routers and models; errors become JSON in one place; serves the built front end."""
