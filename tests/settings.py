"""The site's settings with a data folder of the tests' own."""

import atexit
import os
import shutil
import tempfile

os.environ["FOLIANT_DATA"] = tempfile.mkdtemp(prefix="foliant-tests-")
atexit.register(shutil.rmtree, os.environ["FOLIANT_DATA"], ignore_errors=True)
os.environ["FOLIANT_DEMO"] = "1"

from foliant.site.settings import *  # noqa: E402, F403

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]  # the true one is meant to take long
