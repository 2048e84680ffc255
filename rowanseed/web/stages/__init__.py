"""One router for each stage of a make."""
