"""Choosing sizes: charts, ease, advice."""
