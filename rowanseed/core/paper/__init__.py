"""Pieces on paper at full size: packed onto few pages, and which page shows which part."""
