"""The site's settings with a data folder of the tests' own."""

import os
import tempfile

os.environ["FOLIANT_DATA"] = tempfile.mkdtemp(prefix="foliant-tests-")
os.environ["FOLIANT_DEMO"] = "1"

from foliant.site.settings import *  # noqa: F403
