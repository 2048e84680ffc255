"""A process that takes ever more memory."""


def apart(arguments):
    return len(bytearray(2_000_000_000))
