"""Runs: when they may start, what may be said to them, and how they end."""

from datetime import timedelta
from time import sleep
from typing import Any

import pytest
from django.db import OperationalError, connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from foliant.core.design import Design, Ticket
from foliant.core.machine import Status, script_of
from foliant.core.machine.interpreter import Interpreter, Move
from foliant.core.machine.programs import pack_lines
from foliant.workshop.actions import edit as editing
from foliant.workshop.actions import runs as starting
from foliant.workshop.models import Project, Run, pack
from foliant.workshop.presenters.runs import burnt_data, run_view
from foliant.workshop.tasks import Notes, drive
from tests.making import edited, one_piece, put, tag
from tests.workshop.conftest import Maker


def running(project: Project, **more: Any) -> Run:
    """A run in the middle of its job."""
    values = {"revision": 1, "machine": "Bench laser", "address": "simulated:bench-laser", "kind": "job"}
    values |= {"state": "running", "moves": 100, "estimate": 60, "taken": timezone.now()}
    return Run.objects.create(project=project, **{**values, **more})


def start(maker: Maker, project: Project, kind: str = "job") -> Any:
    return maker.post(f"projects/{project.pk}/runs", kind=kind)


@pytest.mark.django_db(transaction=True)
def test_a_sound_job_is_handed_to_the_worker() -> None:
    maker = Maker("ione")
    answer = start(maker, maker.project()).json()
    assert (answer["state"], answer["active"], answer["percent"]) == ("sending", True, 0)
    assert DBTaskResult.objects.count() == 1


@pytest.mark.parametrize(
    ("design", "says"),
    [
        (one_piece(), "Nothing lies on the sheet"),
        (one_piece(put("circle"), put("words", role="cuts", text="OO")), "not one piece|falls out"),
        (edited(tag(), {"do": "change", "of": "ticket", "values": {"machine": "desk-cutter"}}), "cannot engrave"),
        (edited(tag(), {"do": "change", "of": "part a4", "values": {"text": "☄"}}), "☄"),
    ],
)
def test_a_job_that_would_be_spoilt_is_not_sent(maker: Maker, design: Design, says: str) -> None:
    response = start(maker, maker.project(design))
    assert response.status_code == 422
    assert any(words in response.json()["message"] for words in says.split("|"))
    assert not Run.objects.exists()


def test_bounds_may_be_traced_while_there_is_still_something_to_mend(maker: Maker) -> None:
    design = edited(tag(), {"do": "change", "of": "part a4", "values": {"text": "☄"}})
    assert start(maker, maker.project(design), "trace").status_code == 200


def test_jobs_for_a_machine_wait_in_line_and_say_their_place(maker: Maker, other: Maker) -> None:
    first = maker.project()
    running(first, clock=18)
    twice = start(maker, first)
    assert (twice.status_code, "with Bench laser already" in twice.json()["message"]) == (422, True)
    theirs, mine = start(other, other.project()).json(), start(maker, maker.project()).json()
    assert theirs["line"] == "Number 2 in line at Bench laser: 1 job before it, about 0:42."
    assert mine["line"].startswith("Number 3 in line at Bench laser: 2 jobs before it, about ")
    Run.objects.filter(project=first).update(state="done")
    waiting = Run.objects.get(pk=theirs["id"])
    assert run_view(waiting, tag())["line"] == ""  # it is its turn
    stopped = other.post(f"projects/{waiting.project_id}/runs/{waiting.pk}/command", command="STOP").json()
    assert (stopped["state"], stopped["message"]) == ("stopped", "Stopped before it began.")
    assert run_view(Run.objects.get(pk=mine["id"]), tag())["line"] == ""


def test_a_line_is_not_endless(maker: Maker, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(starting, "LONGEST_LINE", 1)
    running(maker.project())
    assert start(maker, maker.project()).json()["message"].startswith("1 jobs wait for Bench laser already")


def test_one_makers_jobs_are_with_so_many_machines_at_a_time(
    maker: Maker, other: Maker, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(starting, "MOST_MACHINES", 1)
    running(maker.project(), address="192.168.1.40:7801")
    assert start(maker, maker.project()).json()["message"].startswith("Your jobs are with 1 machines already")
    assert start(other, other.project()).status_code == 200  # which is nobody else's trouble


def test_makers_who_name_one_address_share_its_line(maker: Maker, other: Maker) -> None:
    for each, name in ((maker, "Loft laser"), (other, "Attic laser")):
        assert each.shop({"do": "add-machine", "name": name}, revision=0).status_code == 200
        key = name.lower().replace(" ", "-")
        link = {"do": "change", "of": f"machine {key}", "values": {"link": "192.168.1.40:7801"}}
        assert each.shop(link, revision=2).status_code == 200
    runs = []
    for each, key in ((maker, "loft-laser"), (other, "attic-laser")):
        cut = {"do": "change", "of": "operation outer", "values": {"power": 80, "speed": 6}}
        engrave = {"do": "change", "of": "operation engrave", "values": {"power": 30, "speed": 90}}
        inner = {"do": "change", "of": "operation inner", "values": {"power": 80, "speed": 6}}
        design = tag().model_copy(update={"ticket": Ticket(machine=key)})
        runs.append(start(each, each.project(edited(design, cut, inner, engrave))).json())
    assert "line" in runs[0], runs[0]
    assert runs[0]["line"] == ""
    assert runs[1]["line"].startswith("Number 2 in line at Attic laser")


@pytest.mark.parametrize(
    ("link", "says"),
    [
        ("", "has no address yet"),
        ("simulated", "No simulated machine stands in for Loft laser"),
        ("127.0.0.1:6379", "does not connect to 127.0.0.1:6379"),
        ("169.254.169.254:80", "does not connect"),
        ("[::1]:25", "does not connect"),
        ("no-such-host.invalid:7801", "Nothing is known by the name no-such-host.invalid"),
    ],
)
def test_foliant_connects_only_where_machines_may_stand(maker: Maker, link: str, says: str) -> None:
    maker.shop({"do": "add-machine", "name": "Loft laser"}, revision=0)
    if link:
        maker.shop({"do": "change", "of": "machine loft-laser", "values": {"link": link}}, revision=2)
    project = maker.project(tag().model_copy(update={"ticket": Ticket(machine="loft-laser")}))
    answer = maker.post(f"projects/{project.pk}/machine/connect")
    assert (answer.status_code, says in answer.json()["message"]) == (424, True), answer.json()


def test_a_run_whose_worker_is_gone_is_told_as_lost_and_frees_the_machine(maker: Maker, other: Maker) -> None:
    project = maker.project()
    running(project, heard=timezone.now() - timedelta(seconds=30))
    assert start(other, other.project()).status_code == 200
    told = maker.get(f"projects/{project.pk}/runs/newest").json()["run"]
    assert told["state"] == "lost"
    assert "helper that feeds the machine stopped" in told["message"]


def test_a_job_that_was_lost_on_its_way_home_is_done(maker: Maker) -> None:
    project = maker.project()
    running(project, state="running", moves=59, done=59, heard=timezone.now() - timedelta(minutes=1))
    run = maker.get(f"projects/{project.pk}/runs/newest").json()["run"]
    assert (run["state"], run["goOn"], "All of it was made" in run["message"]) == ("done", 0, True)
    assert start(maker, project).status_code == 200
    assert Run.objects.get(pk=run["id"]).state == Run.State.DONE


def test_what_the_maker_says_is_left_for_the_worker(maker: Maker) -> None:
    project = maker.project()
    run = running(project)
    assert maker.post(f"projects/{project.pk}/runs/{run.pk}/command", command="HOLD").status_code == 200
    run.refresh_from_db()
    assert run.command == "HOLD"
    assert maker.post(f"projects/{project.pk}/runs/{run.pk}/command", command="EXPLODE").status_code == 422
    Run.objects.update(state="done")
    ended = maker.post(f"projects/{project.pk}/runs/{run.pk}/command", command="STOP")
    assert ended.json()["message"] == "That run has ended already."


@pytest.mark.parametrize(
    ("clock", "says"), [(60.2, "as estimated"), (75, "0:15 longer than estimated"), (50, "0:10 shorter than estimated")]
)
def test_the_time_taken_stands_beside_the_estimate(maker: Maker, clock: float, says: str) -> None:
    assert run_view(running(maker.project(), state="done", clock=clock), tag())["beside"] == says


def test_what_was_burnt_is_drawn_on_the_sheet_by_power(maker: Maker) -> None:
    run = running(maker.project())
    run.burnt = [[0, 10, 5, 10, 10, 10, 85], [0, 20, 5, 25, 10, 20, 32]]
    run.save()
    run.refresh_from_db()
    gentle, strong = burnt_data(run, tag())
    assert (gentle["power"], gentle["d"]) == (32, "M0 180A5 5 0 0 1 10 180")  # over the top, the page's way up
    assert (strong["power"], strong["d"]) == (85, "M0 190L10 190")
    run.burnt = []
    assert burnt_data(run, tag()) == []


@pytest.mark.django_db(transaction=True)
def test_a_run_keeps_the_program_it_sends_whatever_becomes_of_the_design() -> None:
    maker = Maker("ione")
    project = maker.project()
    start(maker, project)
    before = list(Run.objects.get().lines)
    assert (before[0], before[-1]) == ("M0", "M2")
    maker.edit(project, 1, do="remove-piece", piece="p1")
    maker.post(f"projects/{project.pk}/undo", revision=2)
    assert list(Run.objects.get().lines) == before


def test_a_run_that_waits_for_its_worker_is_never_told_lost_and_can_be_stopped(maker: Maker) -> None:
    project = maker.project()
    run = running(project, state="sending", taken=None, heard=timezone.now() - timedelta(hours=1))
    assert maker.get(f"projects/{project.pk}/runs/newest").json()["run"]["state"] == "sending"
    stopped = maker.post(f"projects/{project.pk}/runs/{run.pk}/command", command="STOP").json()
    assert (stopped["state"], stopped["message"]) == ("stopped", "Stopped before it began.")
    drive.func(run.pk)  # the worker comes too late
    run.refresh_from_db()
    assert run.state == "stopped"


def test_looking_at_a_run_writes_nothing(maker: Maker) -> None:
    project = maker.project()
    running(project, heard=timezone.now() - timedelta(seconds=30))
    with CaptureQueriesContext(connection) as asked:
        maker.get(f"projects/{project.pk}/runs/newest")
        maker.get(f"projects/{project.pk}/standing")
        maker.client.get(f"/projects/{project.pk}/run/")
    assert not [query for query in asked if query["sql"].split()[0] in ("UPDATE", "INSERT", "DELETE")]


def test_nothing_is_planned_or_worked_out_while_the_database_is_locked(
    maker: Maker, monkeypatch: pytest.MonkeyPatch
) -> None:
    begun: list[str] = []

    def watched(name: str, true: Any) -> Any:
        def call(*args: Any) -> Any:
            assert len(connection.savepoint_ids) == depth, f"{name} under a lock"
            begun.append(name)
            return true(*args)

        return call

    depth = len(connection.savepoint_ids)  # the test's own transaction
    monkeypatch.setattr(editing, "tried", watched("tried", editing.tried))
    monkeypatch.setattr(starting, "planned", watched("planned", starting.planned))
    project = maker.project()
    maker.edit(project, 1, do="rename", name="Renamed")
    start(maker, project)
    assert begun == ["tried", "planned"]


def test_a_machines_buttons_answer_only_to_whom_its_job_belongs_to(maker: Maker, other: Maker) -> None:
    mine, theirs = maker.project(), other.project()
    running(mine)
    refused = other.post(f"projects/{theirs.pk}/machine/panel", button="stop")
    assert refused.status_code == 422
    assert "No job of yours" in refused.json()["message"]
    assert mine.name not in refused.json()["message"]
    waiting = start(other, theirs).json()
    assert mine.name not in waiting["line"]
    assert other.post(f"projects/{theirs.pk}/machine/panel", button="stop").status_code == 422  # theirs only waits
    assert maker.post(f"projects/{mine.pk}/machine/panel", button="stop").status_code == 424  # no machine is on here


def test_a_worker_goes_on_feeding_while_the_database_is_busy(maker: Maker, monkeypatch: pytest.MonkeyPatch) -> None:
    run = running(maker.project())
    tries: list[int] = []

    def locked(self: Notes) -> None:
        tries.append(1)
        raise OperationalError("database is locked")

    monkeypatch.setattr(Notes, "_note", locked)
    notes = Notes(run)
    for done in range(1, 200):
        status = Status("running", 1.0, 2.0, 32.0, done, 0.1 * done)
        assert notes.take(status, done) is None
        sleep(0.002)
    notes.finish()
    assert tries


def broken(maker: Maker, project: Project, **more: Any) -> Run:
    """A run of a project's own job that was stopped half-way through a move in its middle."""
    script = script_of(project.design, project.shop, "job")
    machine = project.shop.machine("bench-laser")
    controller = Interpreter(machine.bed_width, machine.bed_height, machine.travel_speed)
    moves = [found for line in script.lines for found in controller.read(line) if isinstance(found, Move)]
    done = next(at for at in range(len(moves) // 2, len(moves)) if moves[at].power)
    (x, y), (to_x, to_y) = moves[done].start, moves[done].end
    values = {"done": done, "x": (x + to_x) / 2, "y": (y + to_y) / 2, "clock": script.seconds / 2, "state": "stopped"}
    run = running(project, **{**values, "moves": script.moves, "estimate": script.seconds, **more})
    run.program, run.steps = pack_lines(script.lines), pack(script.steps)
    run.save()
    return run


@pytest.mark.django_db(transaction=True)
def test_a_job_that_broke_off_goes_on_and_is_run_again_whatever_the_design_has_become() -> None:
    maker = Maker("ione")
    project = maker.project()
    run = broken(maker, project)
    told = maker.get(f"projects/{project.pk}/runs/newest").json()["run"]
    assert (told["goOn"], told["doing"].split(" of ")[0]) == (run.pk, "Engraving")
    assert maker.edit(project, 1, do="change", of="part a2", values={"width": "60"}).status_code == 200
    answer = maker.post(f"projects/{project.pk}/runs/{run.pk}/go-on").json()
    rest = Run.objects.get(pk=answer["id"])
    assert rest.goes_on == run
    left = list(rest.lines)
    assert left[0] == "M0"
    assert left[-30:] == list(run.lines)[-30:]
    assert 0 < rest.moves <= run.moves - run.done + 2
    assert rest.estimate == pytest.approx(run.estimate / 2, abs=1)
    assert maker.post(f"projects/{project.pk}/runs/{run.pk}/again").status_code == 422  # one at a time
    Run.objects.filter(pk=rest.pk).update(state="done", done=rest.moves)
    again = maker.post(f"projects/{project.pk}/runs/{run.pk}/again").json()
    assert list(Run.objects.get(pk=again["id"]).lines) == list(run.lines)
    past = maker.get(f"projects/{project.pk}/runs").json()["runs"]
    assert [one["state"] for one in past] == ["done", "stopped"]
    assert past[0]["what"].startswith("the rest as of revision")
    assert not past[1]["brokeOff"]  # its rest was made, and is not burnt twice


def test_a_job_whose_helper_was_killed_as_it_began_goes_on_from_where_its_machine_stands(
    maker: Maker, monkeypatch: pytest.MonkeyPatch
) -> None:
    """It was noted last that the machine waits for its start button, which was pressed then."""
    project = maker.project()
    made = broken(maker, project)  # as much of it as the machine says now
    stands = Status("stopped", made.x, made.y, 0.0, made.done, 0.4)
    killed = {"state": "waiting", "ready": True, "heard": timezone.now() - timedelta(seconds=30)}
    Run.objects.filter(pk=made.pk).update(x=0, y=0, done=0, clock=0, **killed)
    assert maker.get(f"projects/{project.pk}/runs/newest").json()["run"]["goOn"] == made.pk

    class Asked:
        def greet(self) -> Status:
            return stands

    monkeypatch.setattr(starting, "driver_for", lambda *_: Asked())
    answer = maker.post(f"projects/{project.pk}/runs/{made.pk}/go-on").json()
    rest = Run.objects.get(pk=answer["id"])
    assert 0 < rest.moves <= made.moves - made.done + 2
    # It was lost before its machine began: what broke off first is gone on with.
    Run.objects.filter(pk=rest.pk).update(state="stopped")
    assert maker.get(f"projects/{project.pk}/runs/newest").json()["run"]["goOn"] == made.pk


def test_a_job_whose_helper_could_note_nothing_is_stopped_before_its_rest_is_made(
    maker: Maker, monkeypatch: pytest.MonkeyPatch
) -> None:
    """It is told lost, as nothing was noted of it for a while, and still fed: its rest would be burnt twice."""
    project = maker.project()
    made = broken(maker, project)
    noted = {"state": "running", "ready": True, "heard": timezone.now() - timedelta(seconds=30)}
    Run.objects.filter(pk=made.pk).update(done=1, clock=0.1, **noted)
    told: list[str] = []

    class Fed:
        hears = False

        def greet(self) -> Status:
            state = "stopped" if told and self.hears else "running"
            return Status(state, made.x, made.y, 0.0, made.done, 0.4)

        def tell(self, command: str, within: float) -> None:
            told.append(command)

    fed = Fed()
    monkeypatch.setattr(starting, "driver_for", lambda *_: fed)
    monkeypatch.setattr(starting, "STANDS", 0.3)
    refused = maker.post(f"projects/{project.pk}/runs/{made.pk}/go-on")
    assert (refused.status_code, told) == (422, ["STOP"])
    assert "still at work" in refused.json()["message"]
    fed.hears = True
    rest = Run.objects.get(pk=maker.post(f"projects/{project.pk}/runs/{made.pk}/go-on").json()["id"])
    assert 0 < rest.moves <= made.moves - made.done + 2  # from where it was stopped, not from what was noted


def test_what_did_not_break_off_does_not_go_on(maker: Maker) -> None:
    project = maker.project()
    stopped_first = {"done": 0, "clock": 0, "ready": True}
    for values in (
        {"state": "done"},
        stopped_first,
        {**stopped_first, "state": "lost", "ready": False},
        {"kind": "trace"},
    ):
        run = broken(maker, project, **values)
        answer = maker.post(f"projects/{project.pk}/runs/{run.pk}/go-on")
        assert (answer.status_code, "run it again" in answer.json()["message"]) == (422, True)
        run.delete()
    run = broken(maker, project, address="192.168.1.40:7801", machine="Loft laser")
    assert "It was with Loft laser" in maker.post(f"projects/{project.pk}/runs/{run.pk}/go-on").json()["message"]


def test_what_goes_through_is_gone_over_once_more_in_one_pass_and_takes_nothing_more(maker: Maker) -> None:
    project = maker.project()
    answer = maker.post(f"projects/{project.pk}/runs", kind="job", only="cuts").json()
    run = Run.objects.get(pk=answer["id"])
    assert not run.takes
    whole = script_of(project.design, project.shop, "job", what="operation outer")
    assert 0 < run.estimate < whole.seconds  # which is two passes


def test_a_head_is_led_about_the_bed_and_the_sheet_lies_where_it_was(
    maker: Maker, other: Maker, monkeypatch: pytest.MonkeyPatch
) -> None:
    sent: list[str] = []

    class Led:
        def lead(self, lines: list[str], on_tick: Any) -> Status:
            sent.extend(lines)
            return Status("idle", 40.0, 30.0, 0.0, 1, 0.2, light=True)

    monkeypatch.setattr(starting, "driver_of", lambda machine: Led())
    project = maker.project()
    address = f"projects/{project.pk}"
    assert maker.post(f"{address}/machine/go", x=40, y=30).json()["bed"] == [40, 30]
    assert "G0 X40.000 Y30.000" in sent
    assert "beyond the bed" in maker.post(f"{address}/machine/go", x=900, y=30).json()["message"]
    monkeypatch.setattr(starting, "_leading", {project.owner_id})
    assert "is on its way" in maker.post(f"{address}/machine/go", x=40, y=30).json()["message"]
    lies = maker.post(f"{address}/machine/lie", marks={"left": [40, 30], "right": [340, 40]}).json()
    assert lies["liesSays"] == "Its near left corner lies at 40 × 30 mm, turned 1.91° left."
    running(other.project())
    assert "is not yours to move" in maker.post(f"{address}/machine/go", x=40, y=30).json()["message"]
    run = Run.objects.get(pk=maker.post(f"{address}/runs", kind="job", lie=lies["lie"]).json()["id"])
    assert (run.lie.x, run.lie.y, run.lie.turn) == (40, 30, pytest.approx(1.909, abs=0.001))
    off = maker.post(f"{address}/runs", kind="trace", lie={"x": 390, "y": 0, "turn": 0})
    assert (off.status_code, "beyond the bed" in off.json()["message"]) == (422, True)


def test_a_machine_measures_the_sheet_and_what_follows_from_that_changes(
    maker: Maker, monkeypatch: pytest.MonkeyPatch
) -> None:
    class Feeling:
        def measure(self) -> float:
            return 3.12

    monkeypatch.setattr(starting, "driver_of", lambda machine: Feeling())
    fixed = maker.post(f"projects/{maker.project().pk}/machine/measure")
    assert (fixed.status_code, "cannot measure" in fixed.json()["message"]) == (422, True)
    project = maker.project(tag().model_copy(update={"ticket": Ticket(machine="cabin-laser")}))
    assert maker.post(f"projects/{project.pk}/machine/measure").json() == {"thickness": 3.12}
    running(project, taken=timezone.now(), address="simulated:cabin-laser")
    busy = maker.post(f"projects/{project.pk}/machine/measure")
    assert (busy.status_code, "not yours to move" in busy.json()["message"]) == (422, True)
