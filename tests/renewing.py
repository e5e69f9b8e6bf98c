"""A process beside a running stack that makes the demo world anew for each line it is sent, and answers."""

import sys

import django

django.setup()

from django.contrib.auth import get_user_model  # noqa: E402

from foliant.workshop.demo import DEMO_MAKER, load_demo  # noqa: E402


def renew() -> None:
    """Let the demo maker go on under another name, and make one who knows nothing of what was done before."""
    for maker in get_user_model().objects.filter(username=DEMO_MAKER):
        maker.username = f"{DEMO_MAKER} {maker.pk}"
        maker.save()
    load_demo()


if __name__ == "__main__":
    for _ in sys.stdin:
        renew()
        print("ready", flush=True)
