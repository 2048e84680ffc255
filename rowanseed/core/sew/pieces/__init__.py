"""A garment told by its pieces: each edge has its fate, each seam is a stack of edges, and the steps follow from these alone."""
