"""Asking: whoever sends a request is whom all that follows from it is worked out for."""

import socket
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from foliant.workshop.computing import asked_by


class AskedBy:
    """Middleware that tells computing who asks, and whether they still wait for the answer."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        kind = "look" if request.method in ("GET", "HEAD") else ""
        if request.path.endswith("/preview"):
            kind = "preview"
        # Who changes something and leaves the page wants it changed all the same.
        asked_by(request.user.pk or 0, kind, _still_there(request) if kind else _always)
        try:
            return self.get_response(request)
        finally:
            asked_by(0)


def _always() -> bool:
    return True


def _still_there(request: HttpRequest) -> Callable[[], bool]:
    """Tells whether the other end of a request is open: a page that is left or loaded anew closes it."""
    link: socket.socket | None = request.META.get("gunicorn.socket")
    if link is None:
        return _always

    def there() -> bool:
        try:
            return link.recv(1, socket.MSG_PEEK | socket.MSG_DONTWAIT) != b""
        except BlockingIOError:
            return True  # nothing more is said, and nothing is closed
        except OSError:
            return False

    return there
