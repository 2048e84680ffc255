"""Measurements as ratios in one run; never timed tests."""
