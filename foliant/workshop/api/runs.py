"""Machines and what runs on them."""

from typing import Annotated, Any, Literal

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Field, Router, Schema

from foliant.core.design.benches import on_bench
from foliant.core.design.model import MOST_SHEETS_IN_ALL
from foliant.core.layout import at_sheet
from foliant.core.machine.tracing import Round
from foliant.core.program.lie import Lie, Spot
from foliant.core.units import Unit, parse_length, parse_number
from foliant.workshop.actions import (
    Asked,
    CommandRun,
    GoOn,
    KeepUsed,
    LeadHead,
    MeasureSheet,
    PressPanel,
    RunAgain,
    StartRun,
    UnmarkTaken,
)
from foliant.workshop.machines import machine_of
from foliant.workshop.makers import own
from foliant.workshop.presenters import runs

router = Router()

Typed = Annotated[str, Field(max_length=60)]
Mm = Annotated[float, Field(ge=-5000, le=5000, allow_inf_nan=False)]


class LieIn(Schema):
    """Where the sheet lies: its near left corner on the bed, mm, and its turn, degrees."""

    x: Mm = 0.0
    y: Mm = 0.0
    turn: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0


class RunIn(Schema):
    """What to send to the machine."""

    kind: Literal["job", "trace"]
    sheet: int = Field(1, ge=1, le=MOST_SHEETS_IN_ALL)
    only: str = Field("", max_length=40)
    lie: LieIn = LieIn()
    how: Round = "box"


class PlaceIn(Schema):
    """A place of a machine's bed, mm."""

    x: Mm
    y: Mm
    bench: str = ""


class TypedIn(Schema):
    """The same as it is typed."""

    x: Typed
    y: Typed
    turn: Typed

    def lie(self, unit: Unit) -> Lie:
        """How the sheet lies; raises `Refused`."""
        x, y = (parse_length(text, unit) for text in (self.x, self.y))
        return Lie(x, y, parse_number(self.turn, ("°", "degrees", "deg")))


class MarksIn(Schema):
    """Points of the sheet, and where on the bed they are, mm; or how it lies, where that is known."""

    marks: dict[Spot, tuple[Mm, Mm]] = {}
    lie: LieIn | None = None
    typed: TypedIn | None = None
    sheet: int = Field(1, ge=1, le=MOST_SHEETS_IN_ALL)


class MachineIn(Schema):
    """Which bench's machine."""

    bench: str = ""


class CommandIn(Schema):
    """What to tell a running machine."""

    command: Literal["HOLD", "RESUME", "STOP"]


class ButtonIn(Schema):
    """A button on the machine's panel."""

    button: Literal["start", "stop"]
    bench: str = ""


@router.post("/projects/{int:project_id}/machine/connect")
def post_connect(request: HttpRequest, project_id: int, data: MachineIn) -> dict[str, Any]:
    """Ask the machine whether it is there."""
    project = own(request, project_id)
    design = on_bench(project.design, data.bench)
    status = runs.greet(design, project.shop)
    return {"state": status.state, "bed": [status.x, status.y]}


@router.post("/projects/{int:project_id}/machine/go")
def post_go(request: HttpRequest, project_id: int, data: PlaceIn) -> dict[str, Any]:
    """Lead the head to a place of the bed, with its tool off."""
    project = own(request, project_id)
    machine = machine_of(on_bench(project.design, data.bench), project.shop)
    status = LeadHead(project.owner_id, machine, data.x, data.y).execute()
    return {"state": status.state, "bed": [status.x, status.y], "light": status.light}


@router.post("/projects/{int:project_id}/machine/measure")
def post_measure(request: HttpRequest, project_id: int, data: MachineIn) -> dict[str, Any]:
    """How thick what lies under the head is, mm; the focus is on its face then."""
    project = own(request, project_id)
    return {"thickness": MeasureSheet(machine_of(on_bench(project.design, data.bench), project.shop)).execute()}


@router.post("/projects/{int:project_id}/machine/lie")
def post_lie(request: HttpRequest, project_id: int, data: MarksIn) -> dict[str, Any]:
    """Where the sheet lies, by points of it that the head was led to, or as it was dragged or typed."""
    design = at_sheet(own(request, project_id).design, data.sheet)[0]
    if data.typed:
        return runs.lies_view(design, data.typed.lie(design.unit))
    return runs.lies_view(design, Lie(**data.lie.dict())) if data.lie else runs.lie_view(design, data.marks)


@router.post("/projects/{int:project_id}/runs")
def post_run(request: HttpRequest, project_id: int, data: RunIn) -> dict[str, Any]:
    """Send the job, or a trace of its bounds, to the machine."""
    project = own(request, project_id)
    run = StartRun(project, Asked(data.kind, data.sheet, data.only, Lie(**data.lie.dict()), data.how)).execute()
    return runs.run_view(run, project.design)


@router.post("/projects/{int:project_id}/runs/{int:run_id}/go-on")
def post_go_on(request: HttpRequest, project_id: int, run_id: int) -> dict[str, Any]:
    """Go on with a job that broke off, from where it was."""
    project = own(request, project_id)
    run = GoOn(project, get_object_or_404(project.runs, pk=run_id)).execute()
    return runs.run_view(run, project.design)


@router.post("/projects/{int:project_id}/runs/{int:run_id}/again")
def post_again(request: HttpRequest, project_id: int, run_id: int) -> dict[str, Any]:
    """Run a job once more as it was sent."""
    project = own(request, project_id)
    run = RunAgain(project, get_object_or_404(project.runs, pk=run_id)).execute()
    return runs.run_view(run, project.design)


@router.get("/projects/{int:project_id}/runs")
def get_runs(request: HttpRequest, project_id: int) -> dict[str, Any]:
    """The runs of a project that have ended, the last first."""
    return {"runs": runs.past_runs(own(request, project_id))}


@router.get("/projects/{int:project_id}/runs/newest")
def get_run(request: HttpRequest, project_id: int, sheet: int = 1) -> dict[str, Any]:
    """How the newest run stands."""
    project = own(request, project_id)
    run = runs.newest_run(project, sheet)
    return {"run": runs.run_view(run, project.design) if run else None}


@router.get("/projects/{int:project_id}/runs/{int:run_id}/burnt")
def get_burnt(request: HttpRequest, project_id: int, run_id: int) -> dict[str, Any]:
    """What the machine has burnt in a run."""
    project = own(request, project_id)
    run = get_object_or_404(project.runs, pk=run_id)
    return {"strokes": runs.burnt_data(run, project.design)}


@router.post("/projects/{int:project_id}/runs/{int:run_id}/command")
def post_command(request: HttpRequest, project_id: int, run_id: int, data: CommandIn) -> dict[str, Any]:
    """Hold, resume or stop."""
    project = own(request, project_id)
    run = CommandRun(get_object_or_404(project.runs, pk=run_id), data.command).execute()
    return runs.run_view(run, project.design)


@router.post("/projects/{int:project_id}/runs/{int:run_id}/give-back")
def post_give_back(request: HttpRequest, project_id: int, run_id: int) -> dict[str, Any]:
    """What the run cut out of its sheet is there after all."""
    project = own(request, project_id)
    UnmarkTaken(get_object_or_404(project.runs, pk=run_id)).execute()
    return runs.run_view(get_object_or_404(project.runs, pk=run_id), project.design)


@router.post("/projects/{int:project_id}/runs/{int:run_id}/recipes")
def post_used(request: HttpRequest, project_id: int, run_id: int) -> dict[str, Any]:
    """The run went well: what it was done with is kept as recipes."""
    project = own(request, project_id)
    kept = KeepUsed(get_object_or_404(project.runs, pk=run_id)).execute()
    return {**runs.run_view(get_object_or_404(project.runs, pk=run_id), project.design), "kept": kept}


@router.post("/projects/{int:project_id}/machine/panel")
def post_panel(request: HttpRequest, project_id: int, data: ButtonIn) -> dict[str, Any]:
    """Press a button on the simulated machine itself, as its maker would by hand."""
    project = own(request, project_id)
    PressPanel(request.user, machine_of(on_bench(project.design, data.bench), project.shop), data.button).execute()
    return {"pressed": data.button}
