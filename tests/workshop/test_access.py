"""A maker sees only their own projects: every page and every JSON call."""

import json
import re
import threading
import time

import pytest
from django.contrib.auth.hashers import get_hasher
from django.contrib.auth.models import User
from django.core.cache import cache
from django.test import Client, override_settings
from django.urls import reverse

from foliant.workshop import demo, views
from foliant.workshop.api import api
from foliant.workshop.models import Keepsake, Project, Run, Typeface
from tests.workshop.conftest import Maker

BODIES = {
    "/shop/edits": {"revision": 0, "edit": {"do": "set-unit", "unit": "in"}},
    "/edits": {"revision": 1, "edit": {"do": "rename", "name": "Taken"}},
    "/preview": {"revision": 1, "edit": {"do": "rename", "name": "Taken"}},
    "/taken": {"revision": 1},
    "/undo": {"revision": 1},
    "/redo": {"revision": 1},
    "/selection": {"piece": "p1", "parts": ["a2"]},
    "/runs": {"kind": "job"},
    "/command": {"command": "STOP"},
    "/panel": {"button": "start"},
    "/measure": {},
    "/go": {"x": 10, "y": 10},
    "/eye/lay": {"what": "nothing"},
    "/closer.jpg": {},
    "/lie": {"marks": {"left": [10, 10]}},
    "/rows": {"rows": ["r1"]},
    "/motif": {"parts": ["a2"]},
    "/name": {"name": "Taken"},
    "/packing": {"seconds": 1},
    "/packing/take": {"revision": 1},
    "/filling": {"revision": 1, "piece": "p1"},
    "/cards": {"machine": "bench-laser", "material": "birch-ply", "work": "engrave"},
    "/slide": {"piece": "p1", "number": 1, "x": 10, "y": 10},
}
SHOP = tuple(
    f"/api/shop{end}"
    for end in ("", "/edits", "/undo", "/redo", "/file", "/recipes", "/recipes.csv", "/cards", "/jigs")
)
STARTERS = ("/api/library", "/api/starters", *(f"/api/starters/{{key}}{end}" for end in ("", "/projects", "/pieces")))
PICTURES = ("/api/brought", "/api/pictures/{key}/burnt.png")
OF_ONES_OWN = (
    *("/api/fonts", "/api/fonts/{key}/mark", "/api/computing", "/api/designs", "/api/tables"),
    *(*PICTURES, *STARTERS, *SHOP),
)
"""Calls that reach nothing of another maker's: they are about whoever makes them."""

CALLS = sorted((method, path) for path, methods in api.get_openapi_schema()["paths"].items() for method in methods)


def call(client: Client, method: str, path: str, project: int, run: int):
    address = path.replace("{project_id}", str(project)).replace("{run_id}", str(run))
    address = (
        address.replace("{station}", "ticket")
        .replace("{ending}", "pdf" if "/proof/" in path else "svg")
        .replace("{piece}", "p1")
    )
    address = address.replace("{part}", "a2").replace("{key}", "own-dome-hand-0123456789")
    address = address.replace("{operation}", "cut").replace("{kept_id}", "1")
    address = address.replace("{row}", "0").replace("{column}", "0")
    assert "{" not in address, f"the test does not know a value of {path}"
    body = next((body for ending, body in BODIES.items() if path.endswith(ending)), {})
    return client.generic(method.upper(), address, json.dumps(body), content_type="application/json")


def test_the_list_of_calls_is_not_empty() -> None:
    assert len(CALLS) >= 16


def test_no_json_call_reaches_another_makers_project(maker: Maker, other: Maker) -> None:
    project = maker.project()
    run = Run.objects.create(
        project=project, revision=1, machine="Bench laser", address="simulated:bench-laser", kind="job"
    )
    Typeface.objects.create(owner=maker.user, key="own-dome-hand-0123456789", name="Dome Hand", licence="mine")
    kept = Keepsake.objects.create(pk=1, owner=maker.user, kind="motif", name="Heart", content={"contours": []})
    for method, path in CALLS:
        if path not in OF_ONES_OWN:
            assert call(other.client, method, path, project.pk, run.pk).status_code == 404, path
        assert call(Client(), method, path, project.pk, run.pk).status_code == 401, path
        project.refresh_from_db()
        assert (project.name, project.current, project.deleted) == ("Open-night tags", 1, None), path
        kept.refresh_from_db()
        assert (kept.name, kept.put_away) == ("Heart", None), path


@pytest.mark.parametrize("station", ["shape", "sheet", "ticket", "check", "run"])
def test_no_page_shows_another_makers_project(maker: Maker, other: Maker, station: str) -> None:
    project = maker.project()
    address = f"/projects/{project.pk}/{station}/"
    assert maker.client.get(address).status_code == 200
    assert other.client.get(address).status_code == 404
    assert Client().get(address).status_code == 302
    assert other.client.post(f"/projects/{project.pk}/duplicate/").status_code == 404
    assert "Open-night tags" not in other.client.get("/").content.decode()


def test_deleted_projects_answer_nobody_until_restored(maker: Maker) -> None:
    project = maker.project()
    assert maker.client.delete(f"/api/projects/{project.pk}").status_code == 200
    assert maker.get(f"projects/{project.pk}").status_code == 404
    assert maker.post(f"projects/{project.pk}/restore").status_code == 200
    assert maker.get(f"projects/{project.pk}").status_code == 200


def test_changes_need_the_csrf_token(maker: Maker) -> None:
    project = maker.project()
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(maker.user)
    for method, path in CALLS:
        if method != "get":
            assert call(strict, method, path, project.pk, 1).status_code == 403, path
    assert strict.post("/projects/new/").status_code == 403
    assert Project.objects.count() == 1


def test_pages_forbid_inline_and_foreign_scripts(maker: Maker) -> None:
    project = maker.project()
    for address in ("/", f"/projects/{project.pk}/shape/", "/enter/", "/join/"):
        response = maker.client.get(address)
        policy = response.headers["Content-Security-Policy"]
        assert "script-src 'self'" in policy
        assert "unsafe" not in policy
        page = response.content.decode()
        assert not re.findall(r"<script(?![^>]*(?:src=|application/json))", page)
        assert not re.findall(r"\son\w+=|javascript:", page)
        assert not re.findall(r"(?:src|href)=\"(?:https?:)?//", page)


def test_the_demo_button_is_there_only_in_the_demo_setting(db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(demo, "_PROJECTS", {"Telescope-bay signs": demo.bay_signs})  # one will do
    demo.load_demo()
    with override_settings(DEMO=False):
        assert "demo workshop" not in Client().get(reverse("enter")).content.decode()
        assert Client().post(reverse("enter-demo")).status_code == 404
    with override_settings(DEMO=True):
        client = Client()
        assert "Enter the demo workshop" in client.get(reverse("enter")).content.decode()
        assert client.post(reverse("enter-demo"), follow=True).redirect_chain == [("/", 302)]
        assert "Telescope-bay signs" in client.get("/").content.decode()


def test_an_account_can_be_made_and_used(db: None) -> None:
    client = Client()
    weak = client.post("/join/", {"username": "ailsa", "password1": "12345", "password2": "12345"})
    assert "too short" in weak.content.decode()
    made = client.post("/join/", {"username": "ailsa", "password1": "dome-17-quill", "password2": "dome-17-quill"})
    assert (made.status_code, made.headers["Location"]) == (302, "/")
    assert "No project yet" in client.get("/").content.decode()
    client.post("/leave/")
    assert client.get("/").status_code == 302
    assert client.post("/enter/", {"username": "ailsa", "password": "wrong"}).status_code == 200
    assert client.post("/enter/", {"username": "ailsa", "password": "dome-17-quill"}).status_code == 302


def enter(client: Client, name: str, password: str):
    return client.post("/enter/", {"username": name, "password": password})


def test_few_wait_for_their_passwords_to_be_checked(db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    """They are checked one at a time: those who guess would take every processor, and here every thread."""
    cache.clear()
    door = threading.BoundedSemaphore(1)
    monkeypatch.setattr(views, "_at_the_door", door)
    with door:
        turned_away = enter(Client(), "perrin", "wrong")
        assert turned_away.status_code == 429
        assert "Many are entering just now" in turned_away.content.decode()
        assert Client().get("/enter/").status_code == 200
    assert enter(Client(), "perrin", "wrong").status_code == 200


def test_guessing_a_password_is_throttled_before_anything_is_hashed(db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    User.objects.create_user("perrin", password="orbit-of-seven-moons")
    cache.clear()
    monkeypatch.setattr(views, "_HELD_FOR", (0.0, 0.0))
    for _ in range(10):
        enter(Client(), "perrin", "wrong")
    monkeypatch.setattr(type(get_hasher()), "encode", lambda *_: pytest.fail("a password was hashed"))
    locked = enter(Client(), "perrin", "orbit-of-seven-moons")
    assert locked.status_code == 429
    assert "Wait 5 minutes" in locked.content.decode()
    later = time.time() + 270
    monkeypatch.setattr("foliant.workshop.views.time.time", lambda: later)
    assert re.search(r"Wait \d\d seconds", enter(Client(), "perrin", "orbit-of-seven-moons").content.decode())
    assert enter(Client(), "somebody-else", "from the same address").status_code == 429
    monkeypatch.undo()
    cache.clear()
    assert enter(Client(), "perrin", "orbit-of-seven-moons").status_code == 302


def test_half_a_character_is_refused_in_every_text(maker: Maker) -> None:
    project = maker.project()
    half = "\ud800"
    for edit in (
        {"do": "rename", "name": half},
        {"do": "change", "of": "part a4", "values": {"text": half}},
        {"do": "change", "of": half, "values": {"x": 1}},
        {"do": "change", "of": "part a4", "values": {half: 1}},
        {"do": "add-piece", "name": half},
        {"do": "set-letters", "piece": "p1", "parts": ["a4"], "what": "feature", "to": half},
    ):
        answer = maker.edit(project, 1, **edit)
        assert answer.status_code == 422, edit
        assert "half a character" in answer.json()["message"]
    assert maker.post(f"projects/{project.pk}/selection", piece=half, parts=["a2"]).status_code == 422


@pytest.mark.parametrize("field", ["do", "of", "piece", "name", "part", "kind", "what", "role"])
def test_a_word_of_a_megabyte_is_not_said_back(maker: Maker, field: str) -> None:
    project = maker.project()
    edit = {"do": "change", "of": "part a4", "values": {"text": "x"}, field: "w" * 1_000_000}
    answer = maker.post(f"projects/{project.pk}/edits", revision=1, edit=edit)
    assert answer.status_code == 422
    assert len(answer.content) < 2000
    values = {"do": "change", "of": "part a4", "values": {"w" * 1_000_000: "v" * 1_000_000, "font": "f" * 1_000_000}}
    assert len(maker.post(f"projects/{project.pk}/edits", revision=1, edit=values).content) < 2000


def test_what_the_server_can_be_asked_is_told_to_those_who_are_signed_in(maker: Maker) -> None:
    assert Client().get("/api/openapi.json").status_code == 302
    assert maker.client.get("/api/openapi.json").status_code == 200
