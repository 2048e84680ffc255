"""What cloth can do: a half-made garment as sheets, rows of stitching and the rooms between them; nothing here knows a garment."""
