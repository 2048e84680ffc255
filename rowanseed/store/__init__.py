"""SQLite: one file, plain SQL, one module for each aggregate."""
