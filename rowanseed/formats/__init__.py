"""Reading and writing: sewing library, pattern JSON, SVG, CSV."""
