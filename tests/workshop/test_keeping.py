"""What is kept: history thinned out, projects deleted for good, design files, backups."""

import json
from datetime import timedelta
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.db import connection
from django.utils import timezone

from foliant.core.formats import write_design
from foliant.workshop.actions import history
from foliant.workshop.models import Project, Revision
from tests.making import edited, put, tag
from tests.workshop.conftest import Maker


def many_parts(count: int = 200):
    design = edited(tag(), *(put("circle", diameter=2 + i % 7, x=i, y=1) for i in range(5)))
    while (more := count - len(design.pieces[0].parts)) > 0:
        parts = [part.id for part in design.pieces[0].parts[:more]]
        design = edited(design, {"do": "duplicate-parts", "piece": "p1", "parts": parts, "dx": 1, "dy": 2})
    return design


def test_a_thousand_edits_of_two_hundred_parts_stay_small(maker: Maker) -> None:
    project = maker.project(many_parts())
    packed = len(project.revision().packed)
    # 500 are all kept, and 1,000 edits are made within an hour or two: see the next test.
    assert 510 * packed < 10_000_000


def test_old_revisions_are_thinned_out_and_undo_goes_on(maker: Maker, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(history, "KEPT", 5)
    monkeypatch.setattr(history, "THIN_EVERY", 20)
    project = maker.project()
    for revision in range(1, 19):
        maker.edit(project, revision, do="rename", name=f"Name {revision}")
    now = timezone.now()
    for number in range(1, 20):  # twelve minutes apart, the oldest ten days ago
        age = timedelta(days=10) if number <= 4 else timedelta(minutes=12 * (20 - number))
        Revision.objects.filter(project=project, number=number).update(created=now - age)
    maker.edit(project, 19, do="rename", name="Name 19")
    numbers = list(project.revisions.values_list("number", flat=True))
    assert numbers[-5:] == [16, 17, 18, 19, 20]
    assert 4 in numbers  # the last of its day
    assert not {1, 2, 3} & set(numbers)
    assert len(numbers) < 15
    revision = 20
    while maker.post(f"projects/{project.pk}/undo", revision=revision).status_code == 200:
        revision = Project.objects.get(pk=project.pk).current
    assert revision == 4


def test_deleted_projects_are_kept_for_thirty_days(maker: Maker) -> None:
    old, newer, last = (maker.project() for _ in range(3))
    for project, days in ((old, 31), (newer, 29)):
        maker.client.delete(f"/api/projects/{project.pk}")
        Project.objects.filter(pk=project.pk).update(deleted=timezone.now() - timedelta(days=days))
    page = maker.client.get("/").content.decode()
    assert "Deleted projects (1), each kept for thirty days" in page
    maker.client.delete(f"/api/projects/{last.pk}")
    assert set(Project.objects.values_list("pk", flat=True)) == {newer.pk, last.pk}


def test_a_deleted_project_can_be_brought_back_or_deleted_for_good(maker: Maker, other: Maker) -> None:
    project = maker.project()
    assert maker.client.delete(f"/api/projects/{project.pk}/for-good").status_code == 422
    maker.client.delete(f"/api/projects/{project.pk}")
    page = maker.client.get("/").content.decode()
    assert "Deleted projects (1)" in page
    assert other.client.delete(f"/api/projects/{project.pk}/for-good").status_code == 404
    assert maker.client.delete(f"/api/projects/{project.pk}/for-good").status_code == 200
    assert not Revision.objects.exists()


def test_a_design_file_saved_from_a_project_opens_as_another(maker: Maker) -> None:
    project = maker.project(many_parts(20))
    saved = maker.get(f"projects/{project.pk}/export/json").content
    answer = maker.client.post("/api/designs", {"file": SimpleUploadedFile("tags.json", saved)})
    assert Project.objects.get(pk=answer.json()["id"]).design == project.design


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"\x89PNG", "not text"),
        (b'{"format": "moon"}', "should be"),
        (b"[" * 100_000, "JSON"),
        (b'{"format": "foliant-design", "version": ' + b"9" * 5000 + b"}", "JSON"),
        (json.dumps({"format": "foliant-design", "version": 1, "name": "\ud800"}).encode(), "half a character"),
        (write_design(tag()).replace('"copies": 1', '"copies": 1, "shine": 3').encode(), "shine"),
        (b"x" * 9_000_000, "9 MB"),
    ],
)
def test_a_file_that_is_no_design_gets_a_sentence_and_makes_nothing(maker: Maker, content: bytes, says: str) -> None:
    answer = maker.client.post("/api/designs", {"file": SimpleUploadedFile("what.json", content)})
    assert answer.status_code == 422
    assert says in answer.json()["message"]
    assert not Project.objects.exists()


@pytest.mark.django_db(transaction=True)
def test_a_backup_holds_what_was_there_and_a_wrong_file_changes_nothing(tmp_path: Path) -> None:
    maker = Maker("vesper")
    maker.project()
    call_command("backup", tmp_path / "all.tar.gz", verbosity=0)
    assert (tmp_path / "all.tar.gz").stat().st_size > 1000
    (tmp_path / "wrong").write_bytes(b"not a backup")
    with pytest.raises(CommandError, match="not a backup"):
        call_command("restore", tmp_path / "wrong")
    assert Project.objects.count() == 1
    assert connection.vendor == "sqlite"
