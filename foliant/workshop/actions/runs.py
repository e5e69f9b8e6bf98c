"""Sending a job to a machine, and speaking to it while it runs."""

import logging
from dataclasses import dataclass
from typing import Any

from django.conf import settings
from django.db import IntegrityError, OperationalError, transaction
from django.utils import timezone

from foliant.core.equipment import machine_profile
from foliant.core.errors import Refused
from foliant.core.machine import Link, LinkLost, Panel, program_of
from foliant.workshop.actions.action import Action
from foliant.workshop.computing import planned
from foliant.workshop.models import Project, Run
from foliant.workshop.tasks import drive, queue_of

logger = logging.getLogger("foliant.runs")

SOON = 0.3
"""How many seconds a machine may take to hear a word."""


@dataclass
class StartRun(Action):
    """Send the job of a project's current revision, or a trace of its bounds, to its machine."""

    project: Project
    kind: Run.Kind

    def prepare(self) -> None:
        self.revision = self.project.current
        design = self.project.design
        self.machine = machine_profile(design.ticket.machine)
        self.program = planned(program_of, design, str(self.kind))
        self.run = Run(
            project=self.project,
            revision=self.revision,
            machine=self.machine.key,
            kind=self.kind,
            moves=self.program.moves,
            estimate=self.program.seconds,
        )
        self.run.lines = list(self.program.lines)

    def check(self) -> None:
        for run in Run.objects.filter(machine=self.machine.key, state__in=Run.ACTIVE).defer("program", "burnt_strokes"):
            if not run.silent:
                whose = "your project" if run.project.owner_id == self.project.owner_id else "another maker"
                name = f" {run.project.name}" if whose == "your project" else ""
                raise Refused(f"{self.machine.name} is busy with {whose}{name}; wait for it, or stop it first.")
            lost = {"state": Run.State.LOST, "message": Run.WHY_LOST, "ended": timezone.now()}
            Run.objects.filter(pk=run.pk).update(**lost)

    def perform(self) -> Run:
        try:
            with transaction.atomic():
                self.run.save()
        except IntegrityError:
            raise Refused(f"{self.machine.name} was given another job just now; wait for it.") from None
        transaction.on_commit(lambda: drive.using(queue_name=queue_of(self.machine.key)).enqueue(self.run.pk))
        return self.run


@dataclass
class CommandRun(Action):
    """Tell the machine to hold, resume or stop: straight to it, else by its worker. What has not begun is ended."""

    run: Run
    command: str

    def prepare(self) -> None:
        if self.command not in ("HOLD", "RESUME", "STOP"):
            raise Refused("A running machine can be told to hold, resume or stop.")
        if not self.run.active:
            raise Refused("That run has ended already.")
        # The machine hears it at once, whatever the database and the worker are doing. What it has heard is not left
        # for the worker too, or a late HOLD could come after a RESUME.
        self.heard = False
        if self.run.taken is not None:
            host, port, _ = settings.MACHINE_ADDRESSES[self.run.machine]
            try:
                with Link(host, port, timeout=SOON) as link:
                    link.command(self.command, SOON)
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
class PressPanel(Action):
    """Press a button on the simulated machine, as its maker would by hand: only where a job of theirs is on it."""

    owner: Any
    machine: str
    button: str

    def execute(self) -> str:
        active = Run.objects.filter(machine=self.machine, state__in=Run.ACTIVE)
        if not active.filter(project__owner=self.owner).exists():
            name = machine_profile(self.machine).name
            raise Refused(f"No job of yours waits or runs on {name}, so its buttons are not yours to press.")
        host, _, panel_port = settings.MACHINE_ADDRESSES[self.machine]
        Panel(host, panel_port).press(self.button)
        return self.button
