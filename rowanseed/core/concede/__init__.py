"""What to give up when cloth is short: the concessions, what each does to the pieces, and the mildest set that fits."""
