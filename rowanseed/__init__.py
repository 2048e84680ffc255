"""Rowanseed: from a pattern's envelope, a body and a length of cloth to a garment."""

__version__ = "0.1.0"
