"""The pages: entering, the list of projects, and the five stations."""

from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model, login
from django.contrib.auth.decorators import login_required
from django.contrib.auth.forms import UserCreationForm
from django.contrib.auth.views import LoginView
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse_lazy
from django.views.decorators.cache import cache_control
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_POST
from django.views.generic import CreateView

from foliant.core.formats import WRITERS
from foliant.core.motifs import MOTIFS
from foliant.workshop.actions import CreateProject, DuplicateProject
from foliant.workshop.demo import DEMO_MAKER
from foliant.workshop.models import Project
from foliant.workshop.presenters.cards import card
from foliant.workshop.presenters.state import project_state, roles, shelf, station_view

ALIGN = (
    (
        "across",
        ("across", (("near", "left edges"), ("middle", "middles"), ("far", "right edges"), ("after", "to its right"))),
    ),
    ("down", ("down", (("near", "upper edges"), ("middle", "middles"), ("far", "lower edges"), ("after", "below it")))),
)
COMBINATIONS = (
    ("weld", "Weld: all as one"),
    ("subtract", "Subtract: the keeper less the others"),
    ("intersect", "Intersect: only where all meet"),
    ("exclude", "Exclude: where they do not meet"),
    ("divide", "Divide: the keeper along the others"),
)
STATIONS = {"shape": "Shape", "sheet": "Sheet", "ticket": "Ticket", "check": "Check", "run": "Run"}


class Enter(LoginView):
    """Sign in."""

    template_name = "workshop/enter.html"
    redirect_authenticated_user = True


class Join(CreateView[Any, Any]):
    """Make an account, and enter with it."""

    template_name = "workshop/join.html"
    form_class = UserCreationForm
    success_url = reverse_lazy("projects")

    def form_valid(self, form: Any) -> HttpResponse:
        response = super().form_valid(form)
        login(self.request, self.object)
        return response


@require_POST
def enter_demo(request: HttpRequest) -> HttpResponse:
    """Sign in as the demo maker; only where the demo setting is on."""
    if not settings.DEMO:
        raise Http404
    maker = get_object_or_404(get_user_model(), username=DEMO_MAKER)
    login(request, maker)
    return redirect("projects")


@login_required
@ensure_csrf_cookie
def projects(request: HttpRequest) -> HttpResponse:
    """The maker's projects as cards."""
    found = Project.objects.of(request.user)
    return render(request, "workshop/projects.html", {"cards": [card(project) for project in found]})


@login_required
@require_POST
def new_project(request: HttpRequest) -> HttpResponse:
    """Make a project and open its Shape station."""
    project = CreateProject(request.user).execute()
    return redirect("station", project.pk, "shape")


@login_required
@require_POST
def duplicate_project(request: HttpRequest, project_id: int) -> HttpResponse:
    """Copy a project; the copy comes first in the list."""
    DuplicateProject(get_object_or_404(Project.objects.of(request.user), pk=project_id)).execute()
    return redirect("projects")


@login_required
@cache_control(private=True, max_age=86400)
def motifs(request: HttpRequest) -> JsonResponse:
    """The library of motifs: key, name, the words it is found by, and its picture."""
    found = [[motif.key, motif.name, " ".join((motif.key, *motif.words)), motif.d] for motif in MOTIFS.values()]
    return JsonResponse({"motifs": found})


@login_required
@ensure_csrf_cookie
def station(request: HttpRequest, project_id: int, station: str) -> HttpResponse:
    """One of the five stations over a project."""
    if station not in STATIONS:
        raise Http404
    project = get_object_or_404(Project.objects.of(request.user), pk=project_id)
    design = project.design
    boot = {
        "station": station,
        "state": project_state(project, design),
        "view": station_view(station, project, design),
        "align": ALIGN,
        "combinations": COMBINATIONS,
        "shelf": shelf(),
        "roles": roles(),
        "formats": [{"ending": ending, "name": writer.name} for ending, writer in WRITERS.items()],
    }
    return render(
        request,
        f"workshop/{station}.html",
        {"project": project, "stations": STATIONS, "station": station, "boot": boot},
    )
