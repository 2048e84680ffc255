"""Photographs and scans of tissue: made flat and to scale by a printed sheet, a piece's outline found or followed."""
