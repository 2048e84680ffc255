"""One router for each room."""
