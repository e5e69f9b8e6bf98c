"""A process beside a running stack that makes a maker for each line it is sent, and answers with their session."""

import sys
from importlib import import_module
from uuid import uuid4

import django
from django.conf import settings

django.setup()

from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY, get_user_model  # noqa: E402

from foliant.workshop.demo import load_demo  # noqa: E402


def new_maker() -> str:
    """The session of a maker who has entered and has a demo world of their own."""
    name = f"maker-{uuid4().hex[:12]}"
    load_demo(name)
    maker = get_user_model().objects.get(username=name)
    session = import_module(settings.SESSION_ENGINE).SessionStore()
    session[SESSION_KEY] = str(maker.pk)
    session[BACKEND_SESSION_KEY] = "django.contrib.auth.backends.ModelBackend"
    session[HASH_SESSION_KEY] = maker.get_session_auth_hash()
    session.create()
    return str(session.session_key)


if __name__ == "__main__":
    for _ in sys.stdin:
        print(new_maker(), flush=True)
