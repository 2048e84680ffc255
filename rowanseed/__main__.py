import sys

from rowanseed.cli import main

sys.exit(main())
