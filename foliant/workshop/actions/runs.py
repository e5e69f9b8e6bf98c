"""Sending a job to a machine, and speaking to it while it runs."""

from dataclasses import dataclass

from django.db import transaction

from foliant.core.checks import check
from foliant.core.errors import Refused
from foliant.core.ticket import plan
from foliant.workshop.actions.action import Action
from foliant.workshop.models import Project, Run
from foliant.workshop.tasks import drive


@dataclass
class StartRun(Action):
    """Send the job of a project's current revision, or a trace of its bounds, to its machine."""

    project: Project
    kind: Run.Kind

    def check(self) -> None:
        self.job = plan(self.project.design)
        machine = self.job.machine
        busy = [run for run in Run.objects.filter(machine=machine.key, state__in=Run.ACTIVE) if not run.end_if_silent()]
        if busy:
            raise Refused(f"{machine.name} is busy with {busy[0].project.name}; wait for it, or stop it first.")
        if not self.job.layout.instances:
            raise Refused("Nothing lies on the sheet, so there is nothing to run.")
        if self.kind == Run.Kind.JOB:
            stops = [finding for finding in check(self.job) if finding.level == "stop"]
            if stops:
                raise Refused(f"The check found what would spoil the job: {stops[0].sentence}")
            if not len(self.job.toolpath):
                raise Refused("Nothing on the ticket is on, so the machine would do nothing.")

    def perform(self) -> Run:
        job = self.kind == Run.Kind.JOB
        run = Run.objects.create(
            project=self.project,
            revision=self.project.current,
            machine=self.job.machine.key,
            kind=self.kind,
            moves=len(self.job.toolpath) if job else 6,
            estimate=self.job.toolpath.seconds if job else 0,
        )
        transaction.on_commit(lambda: drive.enqueue(run.pk))
        return run


@dataclass
class CommandRun(Action):
    """Pass HOLD, RESUME or STOP on to the machine, through the worker that holds its connection."""

    run: Run
    command: str

    def check(self) -> None:
        if self.command not in ("HOLD", "RESUME", "STOP"):
            raise Refused("A running machine can be told to hold, resume or stop.")
        if not self.run.active:
            raise Refused("That run has ended already.")

    def perform(self) -> Run:
        Run.objects.filter(pk=self.run.pk).update(command=self.command)
        return self.run
