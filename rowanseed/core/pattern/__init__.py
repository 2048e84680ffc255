"""Patterns: envelope, views, pieces with an outline for every size, quick shapes."""
