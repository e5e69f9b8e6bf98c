"""The pages: entering, the list of projects, and the five stations."""

import math
import random
import sys
import threading
import time
from contextlib import suppress
from typing import Any

from axes.helpers import get_client_cache_keys
from django.conf import settings
from django.contrib.auth import get_user_model, login
from django.contrib.auth.decorators import login_required
from django.contrib.auth.forms import UserCreationForm
from django.contrib.auth.views import LoginView
from django.core.cache import cache
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse, reverse_lazy
from django.utils import timezone
from django.views.decorators.cache import cache_control, never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_POST
from django.views.generic import CreateView, View

from foliant.core.design.model import MOST_SHEETS_IN_ALL
from foliant.core.errors import Refused
from foliant.core.formats import BUNDLE_ENDING, WRITERS
from foliant.core.formats.bundle import pictures_of
from foliant.core.machine.tracing import ROUND
from foliant.core.motifs import MOTIFS
from foliant.core.proof import SIZES
from foliant.workshop.actions import CreateProject, DuplicateProject, StaleRevision, WalkHistory
from foliant.workshop.actions.projects import DELETED_KEPT, first_design
from foliant.workshop.demo import DEMO_MAKER
from foliant.workshop.library import starter_of
from foliant.workshop.makers import maker_of, own
from foliant.workshop.models import Project, shop_of
from foliant.workshop.presenters.bringing import usual_tracing
from foliant.workshop.presenters.cards import card
from foliant.workshop.presenters.starters import starter_cards, starter_picture
from foliant.workshop.presenters.state import catalogue, opened, roles, shelf, station_opens, station_view
from foliant.workshop.presenters.workshop import shop_state
from foliant.workshop.trouble import troubled

ALIGN = (
    (
        "across",
        (
            "across",
            (
                ("near", "left edges"),
                ("middle", "middles"),
                ("far", "right edges"),
                ("before", "to its left"),
                ("after", "to its right"),
            ),
        ),
    ),
    (
        "down",
        (
            "down",
            (
                ("near", "upper edges"),
                ("middle", "middles"),
                ("capitals", "middles by capitals"),
                ("far", "lower edges and baselines"),
                ("before", "above it"),
                ("after", "below it"),
            ),
        ),
    ),
)
NINE = tuple(
    (across, down, f"{side} {where}".strip().replace("centre centre", "the middle"), x, y)
    for down, side, y in (("near", "upper", 1), ("middle", "centre", 5), ("far", "lower", 9))
    for across, where, x in (("near", "left", 1), ("middle", "centre", 8), ("far", "right", 15))
)
"""The places of a plate that both ways are aligned to at once: (across, down, name, x, y on its little picture)."""

COMBINATIONS = (
    ("weld", "Weld: all as one"),
    ("subtract", "Subtract: the keeper less the others"),
    ("intersect", "Intersect: only where all meet"),
    ("exclude", "Exclude: where they do not meet"),
    ("divide", "Divide: the keeper along the others"),
)
STATIONS = {"shape": "Shape", "sheet": "Sheet", "ticket": "Ticket", "check": "Check", "run": "Run"}


_HELD_FOR = (1.0, 3.0)
"""How long, in s, the answer to one who is locked out is held back, so that who guesses in a loop takes little time:
now longer, now less, or all who guess would come back at once.
"""

_held = threading.BoundedSemaphore(32)
"""So many answers are held at once; twice as many threads answer requests, so that makers always find a free one."""

BACKEND = "django.contrib.auth.backends.ModelBackend"


def locked_out(request: HttpRequest, *args: Any, **named: Any) -> HttpResponse:
    """What one is told who has typed too many wrong passwords, or comes from where they were typed."""
    if _held.acquire(blocking=False):
        try:
            time.sleep(random.uniform(*_HELD_FOR))
        finally:
            _held.release()
    left = _lock_left(request)
    wait = f"{math.ceil(left / 60)} minutes" if left > 60 else f"{max(1, math.ceil(left))} seconds"
    message = (
        f"Too many wrong passwords were typed for this account, or from this address. Wait {wait}, "
        "then enter again; nothing of yours was touched."
    )
    return render(request, "workshop/said.html", {"title": "Wait a little", "message": message}, status=429)


def _lock_left(request: HttpRequest) -> float:
    """How long, in s, an account or an address stays locked: the wait begins with the page that says so first."""
    whole = settings.AXES_COOLOFF_TIME.total_seconds()
    keys = get_client_cache_keys(request, getattr(request, "axes_credentials", None))
    locked = [key for key in keys if cache.get(key, 0) >= settings.AXES_FAILURE_LIMIT]
    ends = [float(cache.get_or_set(f"{key}-ends", time.time() + whole, whole) or 0) for key in locked]
    return max(ends, default=time.time() + whole) - time.time()


def trouble(request: HttpRequest) -> HttpResponse:
    """The page for a fault of ours; see `foliant.workshop.trouble`."""
    error = sys.exc_info()[1]
    message = troubled(request, error if isinstance(error, Exception) else RuntimeError("unknown"))
    return render(request, "workshop/said.html", {"title": "Something went wrong", "message": message}, status=500)


_checking = threading.Lock()
"""One password is checked at a time: that is meant to take long, and makers need the other processors."""

_at_the_door = threading.BoundedSemaphore(16)
"""So many wait for that at most, as each holds a thread."""


class OneAtATime(View):
    """A page to which passwords are sent."""

    def post(self, request: HttpRequest, *args: Any, **named: Any) -> HttpResponse:
        if not _at_the_door.acquire(blocking=False):
            message = "Many are entering just now; try again in a moment."
            return render(request, "workshop/said.html", {"title": "Wait a little", "message": message}, status=429)
        try:
            with _checking:
                answer: HttpResponse = super().post(request, *args, **named)  # type: ignore[misc]
            return answer
        finally:
            _at_the_door.release()


class Enter(OneAtATime, LoginView):
    """Sign in."""

    template_name = "workshop/enter.html"
    redirect_authenticated_user = True


class Join(OneAtATime, CreateView[Any, Any]):
    """Make an account, and enter with it."""

    template_name = "workshop/join.html"
    form_class = UserCreationForm
    success_url = reverse_lazy("projects")

    def form_valid(self, form: Any) -> HttpResponse:
        response = super().form_valid(form)
        login(self.request, self.object, BACKEND)
        return response


@require_POST
def enter_demo(request: HttpRequest) -> HttpResponse:
    """Sign in as the demo maker; only where the demo setting is on."""
    if not settings.DEMO:
        raise Http404
    maker = get_object_or_404(get_user_model(), username=DEMO_MAKER)
    login(request, maker, BACKEND)
    return redirect("projects")


@login_required
@ensure_csrf_cookie
@never_cache  # who goes back sees it as it is now
def projects(request: HttpRequest) -> HttpResponse:
    """The maker's projects as cards."""
    found = Project.objects.of(request.user)
    deleted = Project.objects.filter(owner=maker_of(request), deleted__gt=timezone.now() - DELETED_KEPT).order_by(
        "-deleted"
    )
    shop = shop_of(maker_of(request).pk)
    cards = [card(project, shop) for project in found]
    shown = {"cards": cards, "deleted": deleted, "starters": starter_cards(maker_of(request), shop.unit)}
    return render(request, "workshop/projects.html", shown)


@login_required
@ensure_csrf_cookie
@never_cache  # who goes back sees it as it is now
def workshop(request: HttpRequest) -> HttpResponse:
    """What the maker owns and knows."""
    boot = {"state": shop_state(request.user), "works": catalogue()}
    return render(request, "workshop/workshop.html", {"boot": boot})


@login_required
@require_POST
def new_project(request: HttpRequest) -> HttpResponse:
    """Make a project with an empty piece, and open its Shape station."""
    project = CreateProject(request.user, first_design(shop_of(maker_of(request).pk))).execute()
    return redirect("station", project.pk, "shape")


@login_required
@cache_control(private=True, max_age=86400)
def starter(request: HttpRequest, key: str) -> HttpResponse:
    """The picture of a starter."""
    try:
        found = starter_of(request.user, key)
    except Refused as refusal:
        raise Http404(str(refusal)) from None
    return HttpResponse(starter_picture(found), content_type="image/svg+xml")


@login_required
@require_POST
def duplicate_project(request: HttpRequest, project_id: int) -> HttpResponse:
    """Copy a project; the copy comes first in the list."""
    DuplicateProject(own(request, project_id)).execute()
    return redirect("projects")


@login_required
@cache_control(private=True, max_age=86400)
def motifs(request: HttpRequest) -> JsonResponse:
    """The library of motifs: key, name, the words it is found by, and its picture."""
    found = [[motif.key, motif.name, " ".join((motif.key, *motif.words)), motif.d] for motif in MOTIFS.values()]
    return JsonResponse({"motifs": found})


@login_required
@ensure_csrf_cookie
@never_cache  # who goes back sees it as it is now
def station(request: HttpRequest, project_id: int, station: str) -> HttpResponse:
    """One of the five stations over a project."""
    if station not in STATIONS:
        raise Http404
    project = own(request, project_id)
    try:
        design = project.design
        sheet = _sheet_asked(request)
        if "opened" not in request.GET and not station_opens(station, project, design, sheet):
            return _being_worked_out(request, project, station, sheet)
        view = station_view(station, project, design, sheet)
    except Refused as refusal:
        return _said(request, project, station, f"{project.name} cannot be shown here just now", str(refusal))
    if "sheet" in view:
        sheet = view["sheet"]["number"]
    boot = {
        "station": station,
        "sheet": sheet,
        "state": opened(project, design),
        "view": view,
        "align": ALIGN,
        "nine": NINE,
        "combinations": COMBINATIONS,
        "shelf": shelf(),
        "roles": roles(),
        "tracing": usual_tracing(),
        "works": catalogue(),
        "papers": [[key, name] for key, (name, _, _) in SIZES.items()],
        "formats": [
            {"ending": ending, "name": writer.name}
            for ending, writer in WRITERS.items()
            if ending != BUNDLE_ENDING or pictures_of(design)
        ],
    }
    return render(
        request,
        f"workshop/{station}.html",
        {
            "project": project,
            "stations": STATIONS,
            "station": station,
            "boot": boot,
            "on_sheet": f"?sheet={sheet}" if sheet > 1 else "",
            "rounds": ROUND.items(),
        },
    )


def _sheet_asked(request: HttpRequest) -> int:
    """The number of the sheet that an address names; 1 where it names none."""
    asked = request.GET.get("sheet", "")
    return min(int(asked), MOST_SHEETS_IN_ALL) if asked.isdecimal() and len(asked) < 4 and int(asked) else 1


def _being_worked_out(request: HttpRequest, project: Project, station: str, sheet: int) -> HttpResponse:
    """A station that takes a while to work out: how long it has taken, until the page itself can be had."""
    waits = f"/projects/{project.pk}/stations/{station}?sheet={sheet}"
    return _said(request, project, station, f"{project.name}: {STATIONS[station]}", "Working it out.", waits)


def _said(request: HttpRequest, project: Project, station: str, title: str, says: str, waits: str = "") -> HttpResponse:
    """Why a project, or its sheet, is not shown, what is waited for, and the ways back."""
    said = {
        "title": title,
        "message": says,
        "waits": waits,
        "undo": reverse("undo-project", args=[project.pk]) if project.neighbour("undo") else "",
        "shape": reverse("station", args=[project.pk, "shape"]) if station != "shape" else "",
    }
    return render(request, "workshop/said.html", said)


@login_required
@require_POST
def undo_project(request: HttpRequest, project_id: int) -> HttpResponse:
    """Take back the last change of a project that cannot be shown as it is."""
    project = own(request, project_id)
    with suppress(Refused, StaleRevision):
        WalkHistory(project, project.current, "undo").execute()
    return redirect("station", project.pk, "shape")
