"""Stands for the look at the pages of a household one of whose pages does not open."""


def apart(arguments):
    return ["Fit of “Overshirt” does not open."]
