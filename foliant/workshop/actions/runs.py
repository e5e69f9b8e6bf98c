"""Sending a job to a machine, and speaking to it while it runs."""

import logging
import time
from dataclasses import dataclass
from typing import Any

from django.db import IntegrityError, OperationalError, transaction
from django.utils import timezone

from foliant.core.design import Design
from foliant.core.design.benches import on_bench
from foliant.core.equipment import MachineProfile, Shop
from foliant.core.equipment.begun import TakeFromSheet
from foliant.core.equipment.edits import TakeRecipes
from foliant.core.errors import Refused
from foliant.core.machine import Driver, LinkLost, Status, script_of
from foliant.core.machine.link import Command
from foliant.core.machine.programs import pack_lines, read_lines
from foliant.core.machine.resuming import rest_of
from foliant.core.machine.script import ScriptKind, go_lines
from foliant.core.machine.tracing import Round
from foliant.core.program.lie import STRAIGHT, Lie
from foliant.core.ticket import plan
from foliant.core.ticket.keeping import ran_with
from foliant.core.ticket.only import CUTS, only
from foliant.core.ticket.taking import taking
from foliant.workshop.actions.action import Action
from foliant.workshop.computing import LIGHT, planned, work_out
from foliant.workshop.machines import address_text, driver_for, driver_of, machine_of, queue_of
from foliant.workshop.models import Project, Run, pack, unpack
from foliant.workshop.tasks import drive

logger = logging.getLogger("foliant.runs")

LONGEST_LINE = 20
"""So many jobs wait for a machine at most."""

MOST_MACHINES = 5
"""With so many machines one maker's jobs may be at a time, as each is fed by a process."""

PATIENCE = 20.0
"""How many seconds a head may take to go from one place to another."""

_leading: set[int] = set()
"""The makers for whom a head is on its way."""

STANDS = 3.0
"""Within how many seconds a machine stands that nobody feeds any more."""

AT_REST = ("stopped", "idle")
"""What a machine says of itself that is at no job."""

SOON = 0.3
"""How many seconds a machine may take to hear a word."""


@dataclass(frozen=True)
class Prepared:
    """The program of a run, how many moves that makes and what they do, the seconds it is reckoned to take, the bench
    it is of, and of a job what it cuts out of its sheet and what it runs with.
    """

    program: bytes
    moves: int
    steps: bytes
    seconds: float
    bench: str
    takes: TakeFromSheet | None = None
    used: TakeRecipes | None = None


@dataclass(frozen=True)
class Left:
    """What is left of a job: the program that makes it, how many moves that has, and in which move it begins."""

    program: bytes
    moves: int
    begins: int


@dataclass(frozen=True)
class Asked:
    """What is to be sent: a job or a trace, of which sheet, how much of it, where that lies, how it is gone round."""

    kind: ScriptKind
    sheet: int = 1
    what: str = ""
    lie: Lie = STRAIGHT
    how: Round = "box"


def worked_out(design: Design, shop: Shop, asked: Asked, today: str) -> Prepared:
    """What is sent."""
    script = script_of(design, shop, asked.kind, asked.sheet, asked.what, asked.lie, asked.how)
    job = only(plan(design, shop, asked.sheet), asked.what)
    packed = pack_lines(script.lines), script.moves, pack(script.steps), script.seconds, job.design.bench
    if asked.kind != "job" or asked.what == CUTS:  # which takes nothing from the sheet that is not gone already
        return Prepared(*packed)
    takes = taking(job, f"begun {today}: {design.name}"[:120])
    return Prepared(*packed, takes, ran_with(job, f"a run that went well, {today}"))


class Sending(Action):
    """Sending a run to its machine; each kind prepares it as `run`."""

    project: Project
    run: Run

    def check(self) -> None:
        for run in self.project.runs.filter(state__in=Run.ACTIVE).defer(*Run.HEAVY):
            if not run.silent:
                raise Refused(f"A job of this project is with {run.machine} already; wait for it, or stop it first.")
            state, why = run.forsaken
            Run.objects.filter(pk=run.pk).update(state=state, message=why, ended=timezone.now())
        others = Run.objects.filter(project__owner=self.project.owner_id, state__in=Run.ACTIVE)
        if others.exclude(address=self.run.address).values("address").distinct().count() >= MOST_MACHINES:
            raise Refused(f"Your jobs are with {MOST_MACHINES} machines already; wait for one of them.")
        if Run.objects.filter(address=self.run.address, state__in=Run.ACTIVE).count() >= LONGEST_LINE:
            raise Refused(f"{LONGEST_LINE} jobs wait for {self.run.machine} already; try again when some are done.")

    def perform(self) -> Run:
        try:
            with transaction.atomic():
                self.run.save()
        except IntegrityError:
            raise Refused(f"{self.run.machine} was given a job of this project just now; wait for it.") from None
        transaction.on_commit(lambda: drive.using(queue_name=queue_of(self.run.address)).enqueue(self.run.pk))
        return self.run


@dataclass
class StartRun(Sending):
    """Send the job of one of the sheets of a project's current revision, or a trace of its bounds, to its machine."""

    project: Project
    asked: Asked

    def prepare(self) -> None:
        design, shop, asked = self.project.design, self.project.shop, self.asked
        found = planned(worked_out, design, shop, asked, f"{timezone.localdate():%-d %B %Y}")
        machine = machine_of(on_bench(design, found.bench), shop)
        self.run = Run(
            project=self.project,
            revision=self.project.current,
            sheet=asked.sheet,
            bench=found.bench,
            only=asked.what,
            lies_x=asked.lie.x,
            lies_y=asked.lie.y,
            turned=asked.lie.turn,
            machine=machine.name,
            address=address_text(machine),
            language=machine.language,
            kind=asked.kind,
            moves=found.moves,
            estimate=found.seconds,
            program=found.program,
            steps=found.steps,
        )
        driver_for(self.run.address, self.run.language)  # a forbidden address is said now
        self.run.takes = pack(found.takes.model_dump(mode="json")) if found.takes else b""
        self.run.used = pack(found.used.model_dump(mode="json")) if found.used else b""


@dataclass
class GoOn(Sending):
    """Go on with a job that broke off, from the move that it was in: what was sent then, whatever was changed since."""

    project: Project
    broken: Run

    def prepare(self) -> None:
        broken = self.broken
        if not broken.broke_off:
            raise Refused("That run did not break off with some of it made: run it again instead.")
        machine = machine_of(on_bench(self.project.design, broken.bench), self.project.shop)
        if address_text(machine) != broken.address:
            raise Refused(f"It was with {broken.machine}, and the ticket names {machine.name} now: go on there.")
        broke = where_it_broke_off(broken)
        rest = work_out(broken.moves // MOVES_AT_ONCE * LIGHT, what_is_left, bytes(broken.program), broke, machine)
        steps = unpack(bytes(broken.steps)) if broken.steps else []
        self.run = again(broken, rest.moves, max(broken.estimate - broken.clock, 1.0))
        self.run.goes_on = broken
        self.run.program = rest.program
        self.run.steps = pack([(max(0, first - rest.begins), says) for first, says in left_of(steps, rest.begins)])


@dataclass
class RunAgain(Sending):
    """Run a job once more as it was sent, whatever was changed since."""

    project: Project
    past: Run

    def prepare(self) -> None:
        past = self.past
        if (past.active and not past.silent) or past.kind != Run.Kind.JOB or not past.program:
            raise Refused("Only a job that has ended is run again.")
        driver_for(past.address, past.language)
        self.run = again(past, past.moves, past.estimate)
        self.run.program, self.run.steps = past.program, past.steps


MOVES_AT_ONCE = 50_000
"""So many moves are looked through in the page's own process."""


@dataclass(frozen=True)
class Broke:
    """Where a job broke off: how many moves it told that it made, within how many more it may be, and where on the bed
    it stood, mm.
    """

    done: int
    ahead: int
    at: tuple[float, float]


def where_it_broke_off(run: Run) -> Broke:
    """As the machine says where nothing was sent to it since: it went on a little after it was heard last. Else as was
    noted then.
    """
    driver = driver_for(run.address, run.language)
    since = Run.objects.filter(address=run.address, created__gt=run.created).exclude(taken=None)
    status = None if since.exists() else _standing(driver)
    if status and status.state == "stopped" and status.done >= run.done:
        return Broke(status.done, 0, (status.x, status.y))
    if status and status.state == "idle" and driver.ahead and (status.x, status.y) != (0, 0):  # where it is if just on
        return Broke(run.done, driver.ahead, (status.x, status.y))
    return Broke(run.done, 0, (run.x, run.y))


def _standing(driver: Driver) -> Status | None:
    """Where a machine stands that nobody feeds any more, once it has seen that; None where it does not answer.

    One that does not stand is fed by a helper that could note nothing: it is stopped, or what is left would be made
    twice. Raises `LinkLost` or `Refused` where it does not stop.
    """
    try:
        status = _soon(driver)
    except LinkLost:
        return None
    if status.state not in AT_REST:
        driver.tell("STOP", SOON)
        status = _soon(driver)
    if status.state not in AT_REST:
        raise Refused("The machine is still at work with it, and does not stop: stop it there, then go on.")
    return status


def _soon(driver: Driver) -> Status:
    """Where a machine is, once it stands or had its time to."""
    until = time.monotonic() + STANDS
    while (status := driver.greet()).state not in AT_REST and time.monotonic() < until:
        time.sleep(0.1)
    return status


def again(past: Run, moves: int, seconds: float) -> Run:
    """A run of the same job at the same machine."""
    lies = ("project", "revision", "sheet", "only", "bench", "lies_x", "lies_y", "turned")
    names = (*lies, "machine", "address", "language", "kind", "takes", "used")
    return Run(**{name: getattr(past, name) for name in names}, moves=moves, estimate=seconds)


def what_is_left(program: bytes, broke: Broke, machine: MachineProfile) -> Left:
    """What is left of a job by its program."""
    rest = rest_of(list(read_lines(program)), broke.done, broke.at, machine, broke.ahead)
    return Left(pack_lines(rest.lines), rest.moves, rest.begins)


def left_of(steps: list[tuple[int, str]], done: int) -> list[tuple[int, str]]:
    """What a job does from a move on."""
    first = max((at for at, (begins, _) in enumerate(steps) if begins <= done), default=0)
    return steps[first:]


@dataclass
class CommandRun(Action):
    """Tell the machine to hold, resume or stop: straight to it, else by its worker. What has not begun is ended."""

    run: Run
    command: Command

    def prepare(self) -> None:
        if not self.run.active:
            raise Refused("That run has ended already.")
        # The machine hears it at once, whatever the database and the worker are doing. What it has heard is not left
        # for the worker too, or a late HOLD could come after a RESUME.
        self.heard = False
        if self.run.taken is not None:
            try:
                driver_for(self.run.address, self.run.language).tell(self.command, SOON)
                self.heard = True
            except LinkLost:
                logger.warning("%s does not hear %s; the worker passes it on", self.run.machine, self.command)

    def execute(self) -> Any:
        try:
            return super().execute()
        except OperationalError:  # a busy database must not make a stop look as if it had failed
            logger.warning("%s of run %s could not be noted", self.command, self.run.pk)
            return self.run

    def perform(self) -> Run:
        run = Run.objects.filter(pk=self.run.pk)
        stopped = {"state": Run.State.STOPPED, "message": "Stopped before it began.", "ended": timezone.now()}
        begun = self.command != "STOP" or not run.filter(taken=None, state=Run.State.SENDING).update(**stopped)
        if begun and not self.heard:
            run.update(command=self.command)
        self.run.refresh_from_db()
        return self.run


@dataclass
class LeadHead(Action):
    """Lead the head of a machine to a place of its bed, mm, with its tool off; not while a job is with it, and one at a
    time for each maker, as whoever asks waits until it is there.
    """

    owner: int
    machine: MachineProfile
    x: float
    y: float

    def execute(self) -> Status:
        machine = self.machine
        if not (0 <= self.x <= machine.bed_width and 0 <= self.y <= machine.bed_height):
            raise Refused(
                f"That is beyond the bed of {machine.name}: {machine.bed_width:g} × {machine.bed_height:g} mm."
            )
        driver = _free(machine)
        until = time.monotonic() + PATIENCE
        late: Any = lambda status, sent: "STOP" if time.monotonic() > until else None  # noqa: E731
        if self.owner in _leading:
            raise Refused(f"The head is on its way; wait until {machine.name} is there.")
        _leading.add(self.owner)
        try:
            return driver.lead(go_lines(self.x, self.y), late)
        finally:
            _leading.discard(self.owner)


@dataclass
class MeasureSheet(Action):
    """Have a machine measure how thick what lies under its head is, mm, and focus on that; not with a job on it."""

    machine: MachineProfile

    def execute(self) -> float:
        if not self.machine.measures:
            raise Refused(f"The head of {self.machine.name} does not go up and down, so it cannot measure.")
        return _free(self.machine).measure()


def _free(machine: MachineProfile) -> Driver:
    """The driver of a machine that no job is with; raises `Refused`."""
    address = address_text(machine)
    if Run.objects.filter(address=address, state__in=Run.ACTIVE).exclude(taken=None).exists():
        raise Refused(f"A job is with {machine.name}, so its head is not yours to move.")
    return driver_of(machine)


@dataclass
class PressPanel(Action):
    """Press a button on the simulated machine, as its maker would by hand: only where a job of theirs is on it."""

    owner: Any
    machine: MachineProfile
    button: str

    def execute(self) -> str:
        address = address_text(self.machine)
        active = Run.objects.filter(address=address, state__in=Run.ACTIVE).exclude(taken=None)
        if not active.filter(project__owner=self.owner).exists():
            raise Refused(f"No job of yours is on {self.machine.name}, so its buttons are not yours to press.")
        driver_of(self.machine).press(self.button)
        return self.button
