"""Everything out as one folder of open formats, and in again; and single makes out of a backup.

`give_out` writes the folder. `reading` reads one that comes from elsewhere, in a process of its own, into a household of our own
making. `merging` holds that against the household that is there: what is new, what comes back, what differs. `taking_in` keeps it,
rows and pictures in one act.
"""
