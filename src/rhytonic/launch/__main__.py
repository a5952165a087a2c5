"""``python -m rhytonic.launch demo|test``."""

import sys

from . import checks, demo

if __name__ == "__main__":
    sys.exit({"demo": demo.run, "test": checks.run}[sys.argv[1]](sys.argv[2:]))
