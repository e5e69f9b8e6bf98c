"""Sound text: JSON that holds half a character is refused wherever it stands, before anything reads it."""

import json
from collections.abc import Callable

from django.core.exceptions import RequestDataTooBig
from django.http import HttpRequest, HttpResponse, JsonResponse

from foliant.core.errors import Refused
from foliant.core.formats.json_file import check_text


class SoundText:
    """Middleware over what is posted as JSON."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.content_type == "application/json":
            try:
                # A lone surrogate can only come escaped; whole characters need no escape.
                if b"\\u" in request.body:
                    check_text(json.loads(request.body))
            except Refused as refusal:
                return JsonResponse({"message": str(refusal)}, status=422)
            except (ValueError, RecursionError, RequestDataTooBig):
                pass  # whoever reads it says so
        return self.get_response(request)
