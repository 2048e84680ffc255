"""A make: what was decided in it, and what follows for its pieces, lays, cutting cards and steps."""
