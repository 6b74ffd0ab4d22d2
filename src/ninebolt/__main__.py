"""python -m ninebolt."""

import sys

from ninebolt.cli import main

sys.exit(main())
