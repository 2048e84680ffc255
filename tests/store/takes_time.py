"""A process that never ends by itself."""

import sys
import threading

from rowanseed.apart import answer

if __name__ == "__main__":
    sys.exit(answer(sys.argv[1:], lambda arguments: threading.Event().wait()))
