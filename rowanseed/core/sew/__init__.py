"""Sewing: features, operations, a safe order, its check, sittings."""
