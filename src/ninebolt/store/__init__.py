"""SQLite by plain SQL: connections, migrations, one module a table group."""
