"""Pieces derived from others: lining, interfacing, underlining, bands and panels."""
