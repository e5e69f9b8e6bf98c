"""A design never locks its maker out: refused before it is stored, opened whatever is stored, undone, deleted."""

import html
import json
import multiprocessing
import re
import threading
import time
import zlib
from contextlib import suppress
from pathlib import Path
from typing import Any

import pytest

from foliant.core.remembering import forget
from foliant.workshop import computing
from foliant.workshop.models import Project, Revision, pack
from tests.making import edited, one_piece, put, tag
from tests.patience import wait_until
from tests.workshop.conftest import Maker

STATIONS = ("shape", "sheet", "ticket", "check", "run")


def addresses(project: Project) -> list[str]:
    """Every page and every question about a project and its first piece."""
    api = f"/api/projects/{project.pk}"
    return [
        "/",
        *(f"/projects/{project.pk}/{station}/" for station in STATIONS),
        *(f"{api}/stations/{station}" for station in STATIONS),
        *(f"{api}/export/{ending}" for ending in ("svg", "gcode", "json")),
        *(f"{api}{end}" for end in ("", "/standing", "/rehearsal", "/pieces/p1/snaps", "/pieces/p1/findings")),
    ]


def test_an_edit_that_cannot_be_worked_out_is_refused_and_nothing_is_stored(maker: Maker, broken: None) -> None:
    project = maker.project()
    answer = maker.edit(project, 1, **put("star", points=5))
    assert answer.status_code == 422
    assert "Nothing was changed" in answer.json()["message"]
    project.refresh_from_db()
    assert (project.current, project.revisions.count()) == (1, 1)


def test_a_stored_design_that_cannot_be_worked_out_opens_everywhere_and_can_be_mended(
    maker: Maker, broken: None
) -> None:
    project = maker.project(edited(tag(), put("star", points=5)))
    for address in addresses(project):
        assert maker.client.get(address).status_code == 200, address
    scene = maker.get(f"projects/{project.pk}").json()["scenes"]["p1"]
    assert scene["trouble"]
    assert scene["outline"].count("Z") >= 2  # its parts, as they are
    (finding,) = maker.get(f"projects/{project.pk}/pieces/p1/findings").json()["findings"]
    assert "cannot be worked out" in finding["title"]
    chosen = maker.post(f"projects/{project.pk}/selection", piece="p1", parts=["a2", "a4"])
    assert chosen.status_code == 200
    star = scene["ids"][-1]
    mended = maker.edit(project, 1, do="remove-parts", piece="p1", parts=[star])
    assert mended.json()["scenes"]["p1"]["trouble"] == ""
    assert maker.post(f"projects/{project.pk}/undo", revision=2).status_code == 200
    assert maker.client.delete(f"/api/projects/{project.pk}").status_code == 200


def test_a_piece_of_another_version_opens_is_kept_and_can_be_undone(maker: Maker) -> None:
    project = maker.project()
    document = project.revision().document
    document["pieces"][0]["parts"][0]["shape"]["kind"] = "hologram"
    Revision.objects.filter(project=project).update(packed=pack(document))
    Project.objects.filter(pk=project.pk).update(changed=project.changed)
    forget()
    for address in addresses(project):
        assert maker.client.get(address).status_code == 200, address
    assert maker.edit(project, 1, do="rename", name="Kept").status_code == 200
    kept = Revision.objects.get(project=project, number=2).document
    assert "hologram" in kept["pieces"][0]["unread"]


def test_a_document_that_cannot_be_read_at_all_says_so_and_can_be_undone(maker: Maker) -> None:
    project = maker.project()
    maker.edit(project, 1, do="rename", name="Renamed")
    Revision.objects.filter(project=project, number=2).update(packed=pack({"format": "something else"}))
    forget()
    for address in addresses(project):
        response = maker.client.get(address)
        assert response.status_code in (200, 422), address
    page = maker.client.get(f"/projects/{project.pk}/shape/")
    assert "Undo the last change" in page.content.decode()
    assert maker.client.post(f"/projects/{project.pk}/undo/").status_code == 302
    assert "Shape" in maker.client.get(f"/projects/{project.pk}/shape/").content.decode()
    project.refresh_from_db()
    assert project.current == 1


def test_a_stored_design_that_is_far_too_heavy_opens_undoes_and_deletes(maker: Maker) -> None:
    project = maker.project(one_piece(put("words", text="Quillmoor " * 9, cap_height=4, role="adds")))
    document = project.revision().document
    repeat = {"kind": "rows", "columns": 40, "rows": 25}
    document["pieces"][0]["parts"][0]["repeat"] = repeat
    Revision.objects.create(project=project, number=2, packed=pack(document), says="repeat")
    Project.objects.filter(pk=project.pk).update(current=2, latest=2)
    forget()
    for address in addresses(project):
        assert maker.client.get(address).status_code in (200, 422), address
    assert "lessen" in maker.get(f"projects/{project.pk}").json()["scenes"]["p1"]["trouble"]
    undone = maker.post(f"projects/{project.pk}/undo", revision=2)
    assert undone.status_code == 200
    assert maker.client.delete(f"/api/projects/{project.pk}").status_code == 200


@pytest.fixture(name="elsewhere")
def _elsewhere(monkeypatch: pytest.MonkeyPatch) -> None:
    """Everything counts as heavy, so that it is worked out in a process of its own."""
    monkeypatch.setattr(computing, "LIGHT", -1)


def test_a_whole_job_is_done_where_everything_is_heavy(maker: Maker, elsewhere: None) -> None:
    project = maker.project()
    edits = (
        {"do": "change", "of": "part a4", "values": {"text": "TAMSIN"}},
        {"do": "surround-parts", "piece": "p1", "parts": ["a4"]},
        {"do": "edit-nodes", "part": "a2", "op": "move", "nodes": [[0, 0]], "dx": 1},
        {"do": "remove-parts", "piece": "p1", "parts": ["a3"]},
    )
    revision = 1
    for edit in edits:
        tried = maker.post(f"projects/{project.pk}/preview", revision=revision, edit=edit)
        answer = maker.edit(project, revision, **edit)
        assert {tried.status_code, answer.status_code} <= {200, 422}, answer.content
        revision = Project.objects.get(pk=project.pk).current
    assert revision > 2
    for address in addresses(project):
        assert maker.client.get(address).status_code == 200, address
    assert maker.get(f"projects/{project.pk}/pieces/p1/words/a4").status_code == 200


def slow(gate: str) -> str:
    """Something that takes its time: until there is a file."""
    while not Path(gate).exists():
        time.sleep(0.01)
    return "done"


def busy() -> None:
    while True:
        with suppress(Exception):  # as rooms of the core do for what they cannot work out
            sum(range(100_000))


def greedy() -> int:
    """Something that takes all memory."""
    return len(bytearray(50_000_000_000))


class Gates:
    """What works wait for, each by its name."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def open(self, name: str) -> str:
        """One that is not waited for any more."""
        (self.folder / name).touch()
        return self.shut(name)

    def shut(self, name: str) -> str:
        return str(self.folder / name)


@pytest.fixture(name="gates")
def _gates(tmp_path: Path) -> Gates:
    return Gates(tmp_path)


def test_heavy_work_is_done_in_a_process_and_kept(gates: Gates, elsewhere: None) -> None:
    assert computing.work_out(1, slow, gates.open("one")) == "done"
    assert computing.waiting(0) == 0


def test_processes_that_die_between_two_works_are_started_anew(gates: Gates, elsewhere: None) -> None:
    assert computing.work_out(1, slow, gates.open("one")) == "done"
    for process in multiprocessing.active_children():
        process.kill()
    pool = computing._works._pool
    wait_until(lambda: pool is not None and not pool.active, "that they are gone is never seen")
    assert computing.work_out(1, slow, gates.open("two")) == "done"


def test_work_that_takes_too_long_or_too_much_is_stopped_with_a_sentence(
    gates: Gates, elsewhere: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(computing, "SECONDS", 1)
    with pytest.raises(computing.Refused, match="more than 1 seconds of computing"):
        computing.work_out(1, busy)
    with pytest.raises(computing.Refused, match="more memory"):
        computing.work_out(1, greedy)


def test_a_station_that_takes_a_while_says_so_until_it_can_be_had(maker: Maker, elsewhere: None) -> None:
    project = maker.project()
    page = f"/projects/{project.pk}/ticket/"
    waiting = maker.client.get(page).content.decode()
    waits = re.search(r'data-waits="([^"]+)"', waiting)
    assert waits
    assert "Give up" in waiting
    assert maker.client.get(f"/api{html.unescape(waits[1])}").status_code == 200
    assert "Add an operation" in maker.client.get(page).content.decode()


class Asker(threading.Thread):
    """A maker who asks for something that is there once a gate is open, and may close the page meanwhile."""

    def __init__(self, gate: str, kind: str = "") -> None:
        super().__init__()
        self.gate, self.kind, self.there, self.said = gate, kind, True, ""
        self.start()

    def run(self) -> None:
        computing.asked_by(7, self.kind, lambda: self.there)
        try:
            self.said = computing.work_out(1, slow, self.gate)
        except computing.Refused as refusal:
            self.said = str(refusal)

    def answer(self) -> str:
        self.join()
        return self.said


def begun(works: int, askers: int = 1) -> None:
    """Wait until so many works are done for the maker, and so many wait for the first."""

    def there() -> bool:
        found = computing._works.of(7)
        return len(found) >= works and len(found[0].askers) >= askers

    wait_until(there)


GIVEN_UP = "That was given up, so nothing was changed."


def test_what_is_worked_out_can_be_given_up_and_a_newer_preview_drops_an_older_one(
    gates: Gates, elsewhere: None
) -> None:
    older = Asker(gates.shut("older"), "preview")
    begun(1)
    assert Asker(gates.open("newer"), "preview").answer() == "done"
    assert older.answer() == GIVEN_UP
    older = Asker(gates.shut("old"), "preview")
    begun(1)
    assert Asker(gates.open("change")).answer() == "done"  # so does a change
    assert older.answer() == GIVEN_UP
    tried = Asker(gates.shut("tried"), "preview")
    begun(1)
    meant = Asker(gates.shut("tried"))
    begun(1, askers=2)
    assert Asker(gates.open("another"), "preview").answer() == "done"
    gates.open("tried")
    assert (tried.answer(), meant.answer()) == ("done", "done")  # what was tried is meant by now
    other = Asker(gates.shut("other"))
    begun(1)
    assert computing.waiting(7) > 0
    assert computing.give_up(7) == 1
    assert other.answer() == GIVEN_UP


def test_a_page_loaded_anew_waits_for_what_is_under_way_and_what_nobody_waits_for_is_dropped(
    gates: Gates, elsewhere: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    first = Asker(gates.shut("asked"))
    begun(1)
    again = Asker(gates.shut("asked"))
    begun(1, askers=2)
    assert Asker(gates.shut("asked")).answer() == computing._BUSY  # each holds a thread of the server
    first.there = False
    assert "Others wait" in first.answer()
    gates.open("asked")
    assert (again.answer(), len(computing._works.of(7))) == ("done", 0)
    left = [Asker(gates.shut("a look"), "look"), Asker(gates.shut("a second look"), "look")]
    begun(2)
    assert Asker(gates.shut("a third look"), "look").answer() == computing._BUSY  # but there is room for a change
    left.append(Asker(gates.shut("a change")))
    begun(3)
    assert Asker(gates.shut("a second change")).answer() == computing._BUSY
    for asker in left:
        asker.there = False
    assert Asker(gates.open("wanted")).answer() == "done"  # there is room at once for what is wanted
    monkeypatch.setattr(computing, "_KEPT_FOR", 0.1)
    assert {asker.answer() for asker in left} == {GIVEN_UP}


def test_what_cannot_be_begun_yet_is_asked_for_again(maker: Maker, monkeypatch: pytest.MonkeyPatch) -> None:
    project = maker.project()

    def busy(*_: Any) -> None:
        raise computing.Busy(computing._BUSY)

    with monkeypatch.context() as patched:
        patched.setattr("foliant.workshop.presenters.standing.standing", busy)
        patched.setattr("foliant.workshop.presenters.state.shown", busy)
        assert maker.get(f"projects/{project.pk}/standing").status_code == 429
        state = maker.get(f"projects/{project.pk}").json()
        edited_then = maker.edit(project, 1, **put("star", points=5)).json()
    assert (state["unfinished"], edited_then["unfinished"]) == (True, True)
    assert "being worked out" in state["scenes"]["p1"]["trouble"]
    assert not maker.get(f"projects/{project.pk}").json()["unfinished"]


def test_a_fault_of_ours_is_told_with_a_number_and_logged_with_its_trace(
    maker: Maker, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    def fail(*_: Any) -> None:
        raise ZeroDivisionError("a fault")

    monkeypatch.setattr("foliant.workshop.presenters.standing.standing", fail)
    maker.client.raise_request_exception = False
    message = maker.get(f"projects/{maker.project().pk}/standing").json()["message"]
    number = message.rpartition("number ")[2].split()[0]
    assert number in caplog.text
    assert "ZeroDivisionError" in caplog.text


def test_the_history_is_whole_documents_that_take_little_room(maker: Maker) -> None:
    project = maker.project()
    maker.edit(project, 1, do="change", of="part a4", values={"text": "TAMSIN"})
    newest = project.revisions.get(number=2)
    assert newest.author == maker.user
    assert json.loads(zlib.decompress(bytes(newest.edit)))["values"] == {"text": "TAMSIN"}
    assert newest.document["pieces"][0]["parts"][2]["shape"]["text"] == "TAMSIN"
    assert len(newest.packed) < 1500
