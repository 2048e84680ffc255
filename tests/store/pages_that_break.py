"""Stands for the look at the pages of a household one of whose pages does not open."""

import sys

from rowanseed.apart import answer

if __name__ == "__main__":
    sys.exit(answer(sys.argv[1:], lambda arguments: ["Fit of “Overshirt” does not open."]))
