"""The JSON edge: what the page asks and tells, one file a subject.

Thin: every call finds the maker's own, then hands on.
"""

from django.contrib.auth.decorators import login_required
from django.core.exceptions import RequestDataTooBig
from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import ValidationError
from ninja.security import django_auth

from foliant.core.errors import Refused, shortened
from foliant.core.machine import LinkLost
from foliant.workshop.actions import StaleRevision
from foliant.workshop.api import (
    bringing,
    computing,
    eye,
    fonts,
    library,
    packing,
    pictures,
    projects,
    roster,
    runs,
    shop,
    stations,
)
from foliant.workshop.computing import Busy
from foliant.workshop.makers import maker_of, own
from foliant.workshop.presenters import state
from foliant.workshop.presenters.workshop import shop_state
from foliant.workshop.trouble import troubled

api = NinjaAPI(
    title="Foliant",
    version="1",
    auth=django_auth,
    docs_url=None,
    docs_decorator=login_required,
)
for subject in (projects, roster, library, stations, packing, fonts, bringing, pictures, runs, eye, shop, computing):
    api.add_router("", subject.router)


@api.exception_handler(Refused)
def refused(request: HttpRequest, refusal: Refused) -> HttpResponse:
    """What cannot be done, said in a sentence."""
    return api.create_response(request, {"message": str(refusal)}, status=422)


@api.exception_handler(Busy)
def busy(request: HttpRequest, refusal: Busy) -> HttpResponse:
    """What there is no room for yet: the page asks again in a moment."""
    return api.create_response(request, {"message": str(refusal)}, status=429)


@api.exception_handler(ValidationError)
def malformed(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """A request that is not what the page sends: the first thing wrong, as a sentence."""
    first = error.errors[0]
    message = str(first.get("ctx", {}).get("error") or first["msg"])
    where = " → ".join(str(step) for step in first["loc"][2:])
    sentence = shortened(f"This cannot be read at “{where}”: {message}.")
    return api.create_response(request, {"message": sentence}, status=422)


@api.exception_handler(RequestDataTooBig)
def too_large(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
    """More than the server takes in at once."""
    message = "That is too large to take in at once, so nothing was changed; copy or draw less at a time."
    return api.create_response(request, {"message": message}, status=422)


@api.exception_handler(LinkLost)
def lost(request: HttpRequest, error: LinkLost) -> HttpResponse:
    """A machine that does not answer."""
    return api.create_response(request, {"message": str(error)}, status=424)


@api.exception_handler(Exception)
def unforeseen(request: HttpRequest, error: Exception) -> HttpResponse:
    """A fault of ours: logged with its trace under a number that the maker is told."""
    return api.create_response(request, {"message": troubled(request, error)}, status=500)


@api.exception_handler(StaleRevision)
def stale(request: HttpRequest, error: StaleRevision) -> HttpResponse:
    """An edit on an old revision: the present state, so that nothing is lost or doubled."""
    project_id = request.resolver_match.kwargs.get("project_id") if request.resolver_match else None
    if project_id is None:
        what, now = "The workshop", shop_state(maker_of(request))
    else:
        project = own(request, project_id)
        what, now = "This project", state.project_state(project, project.design, None, request.GET.get("row", ""))
    message = f"{what} was changed in another window. You see it as it is now; your last change was not applied."
    return api.create_response(request, {"message": message, "state": now}, status=409)
