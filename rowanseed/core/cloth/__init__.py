"""Cloth: what it is, its print, how it is prepared and bought."""
