"""Packing beside the pages: begun, followed, stopped, taken; and what the Sheet station asks for."""

from datetime import timedelta
from typing import Any

import pytest
from django.utils import timezone

from foliant.core.layout import lay_out
from foliant.workshop.models import Packing, Project
from foliant.workshop.packer import pack_sheet
from tests.making import one_piece, put, tag
from tests.workshop.conftest import Maker


def begin(maker: Maker, project: Project, seconds: float = 1) -> Any:
    return maker.post(f"projects/{project.pk}/packing", seconds=seconds)


def pack(project: Project) -> None:
    """What a worker does."""
    pack_sheet.call(project.packings.first().pk)


def test_a_sheet_is_packed_and_taken_as_one_edit(maker: Maker) -> None:
    project = maker.project(tag(copies=20))
    told = begin(maker, project).json()
    assert (told["state"], told["busy"], told["says"]) == ("waiting", True, "waiting for its turn")
    pack(project)
    found = maker.get(f"projects/{project.pk}/packing").json()
    assert (found["state"], found["placed"], found["wanted"]) == ("found", 20, 20)
    assert maker.edit(project, 1, do="rename", name="Open night").status_code == 200  # meanwhile
    answer = maker.post(f"projects/{project.pk}/packing/take", revision=2).json()
    assert (answer["revision"], answer["undo"]) == (3, "pack 20 pieces")
    project.refresh_from_db()
    assert not lay_out(project.design).left_over
    assert maker.post(f"projects/{project.pk}/packing/take", revision=3).status_code == 422
    assert maker.get(f"projects/{project.pk}/packing").json()["state"] == ""
    assert maker.post(f"projects/{project.pk}/undo", revision=3).json()["revision"] == 2


def test_what_nobody_came_for_in_time_is_not_laid_under_their_hands(maker: Maker) -> None:
    project = maker.project(tag(copies=3))
    begin(maker, project)
    pack(project)
    Packing.objects.update(heard=timezone.now() - timedelta(hours=2))
    assert maker.get(f"projects/{project.pk}/packing").json()["state"] == ""
    assert begin(maker, project).json()["state"] == "waiting"


def test_two_windows_that_pack_one_sheet_follow_the_same_packing(maker: Maker) -> None:
    project = maker.project(tag(copies=3))
    assert begin(maker, project).status_code == begin(maker, project).status_code == 200
    assert project.packings.count() == 1
    pack(project)
    first = maker.post(f"projects/{project.pk}/packing/take", revision=1)
    second = maker.post(f"projects/{project.pk}/packing/take", revision=1)
    assert (first.status_code, second.status_code) == (200, 422)


def test_stopping_twice_is_as_good_as_once_and_keeps_the_best(maker: Maker) -> None:
    project = maker.project(tag(copies=3))
    assert maker.client.delete(f"/api/projects/{project.pk}/packing").json()["state"] == ""
    begin(maker, project, 100)
    for _ in range(2):
        assert (
            maker.client.delete(f"/api/projects/{project.pk}/packing").json()["message"] == "Stopped before it began."
        )
    begin(maker, project, 100)
    Packing.objects.filter(state="waiting").update(stop=True)
    begun = timezone.now()
    pack(project)
    assert timezone.now() - begun < timedelta(seconds=30)
    assert maker.get(f"projects/{project.pk}/packing").json()["placed"] == 3


def test_better_answers_are_shown_while_the_design_is_as_it_was(maker: Maker) -> None:
    project = maker.project(tag(copies=3))
    begin(maker, project, 5)
    pack(project)
    Packing.objects.update(state="packing", heard=timezone.now())
    shown = maker.get(f"projects/{project.pk}/packing?seen=0").json()
    assert len(shown["instances"]) == 3
    assert "instances" not in maker.get(f"projects/{project.pk}/packing?seen={shown['answers']}").json()
    Packing.objects.update(heard=timezone.now() - timedelta(minutes=2))
    assert "has stopped" in maker.get(f"projects/{project.pk}/packing").json()["message"]
    others = [maker.project(tag()) for _ in range(3)]
    Packing.objects.bulk_create(Packing(project=one, revision=1, seconds=5, state="packing") for one in others)
    Packing.objects.update(heard=timezone.now() - timedelta(minutes=2))
    assert begin(maker, project).json()["state"] == "waiting"  # those that were lost stand in nobody's way


@pytest.mark.parametrize(
    ("design", "says"),
    [(one_piece(), "nothing to pack"), (one_piece(put("rectangle", width=320, height=230)), "Nothing finds a place")],
)
def test_what_cannot_be_packed_is_said_and_nothing_is_changed(maker: Maker, design: Any, says: str) -> None:
    project = maker.project(design)
    begin(maker, project)
    pack(project)
    found = maker.get(f"projects/{project.pk}/packing").json()
    assert (found["state"], found["busy"]) == ("failed", False)
    assert says in found["message"]
    project.refresh_from_db()
    assert project.current == 1


def test_what_is_left_is_filled_and_undone(maker: Maker) -> None:
    project = maker.project(tag(copies=4))
    (more,) = maker.get(f"projects/{project.pk}/filling").json()["more"]
    assert more["more"] >= 14
    answer = maker.post(f"projects/{project.pk}/filling", revision=1, piece="p1").json()
    assert answer["undo"] == "fill the sheet with Guide tag"
    project.refresh_from_db()
    assert project.design.pieces[0].copies == 4 + more["more"]
    assert maker.post(f"projects/{project.pk}/filling", revision=2, piece="p1").status_code == 422
    assert maker.post(f"projects/{project.pk}/filling", revision=2, piece="p7").status_code == 422


def test_what_is_dragged_slides_along_the_others_at_the_gap(maker: Maker) -> None:
    project = maker.project(tag(copies=2))  # 72 × 30 mm, at (4, 4) and (78, 4)

    def dragged(x: float, y: float) -> Any:
        return maker.post(f"projects/{project.pk}/slide", piece="p1", number=2, x=x, y=y).json()

    assert dragged(30, 120) == {"x": 30, "y": 120, "clear": True}
    over = dragged(10, 24)
    assert over["clear"]
    assert over["y"] == pytest.approx(36, abs=0.01)  # below the first, at exactly 2 mm
    assert dragged(77.2, 60)["x"] == 77.2
    assert dragged(-30, 120)["x"] == pytest.approx(4, abs=0.01)  # at the margin
    assert dragged(30, 5)["clear"]
    assert maker.post(f"projects/{project.pk}/slide", piece="p1", number=9, x=1, y=1).status_code == 422


def test_prices_come_as_a_file(maker: Maker) -> None:
    project = maker.project(tag(copies=4))
    lines = maker.get(f"projects/{project.pk}/prices.csv").content.decode().splitlines()
    assert lines[0] == "what,count,machine time,material (€),machine (€),work and setup (€),all (€),each (€)"
    assert lines[1].startswith("Guide tag,4,")
    assert any(line.startswith("100 would cost,100,") for line in lines)
