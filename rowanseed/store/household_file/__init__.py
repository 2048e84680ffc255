"""A household that comes from elsewhere, as a backup or a folder: read in a process of its own, rows alone, through models.

`row_models` says what a row may hold, `rows_in` copies rows into a database of our own making, `reading` unpacks a backup and
does both, `reading_folder` (in services) the same for a folder of open formats.
"""
