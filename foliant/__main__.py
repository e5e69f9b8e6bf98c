"""`python -m foliant`: the core without the web, for scripts. See `foliant.core.cli`."""

import sys

from foliant.core.cli import main

sys.exit(main())
