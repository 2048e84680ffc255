"""A process that takes ever more memory."""

import sys

from rowanseed.apart import answer

if __name__ == "__main__":
    sys.exit(answer(sys.argv[1:], lambda arguments: len(bytearray(2_000_000_000))))
