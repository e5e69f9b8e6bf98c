"""The state of a project as the page holds it, and what each station adds."""

from typing import Any

from foliant.core.design import Design
from foliant.core.design.model import ROLES
from foliant.core.design.shapes import SHAPES
from foliant.core.units import format_length
from foliant.workshop.models import Project
from foliant.workshop.presenters import checks, runs, sheet, ticket
from foliant.workshop.presenters.scene import scenes
from foliant.workshop.presenters.standing import quick_standing


def project_state(project: Project, design: Design, before: Design | None = None) -> dict[str, Any]:
    """What every station needs: the revision, what undo and redo would do, and the pieces that changed."""
    undo, redo = project.neighbour("undo"), project.neighbour("redo")
    return {
        "id": project.pk,
        "revision": project.current,
        "name": design.name,
        "unit": design.unit,
        "nudge": design.nudge,
        "nudgeSays": format_length(design.nudge, design.unit),
        "changed": project.changed.isoformat(),
        "undo": project.revision().says if undo else None,
        "redo": redo.says if redo else None,
        "material": sheet.material_view(design),
        "standing": quick_standing(project, design),
        **scenes(design, before),
    }


def preview(design: Design, before: Design) -> dict[str, Any]:
    """The pieces that an edit would change."""
    return scenes(design, before)


def shelf() -> list[dict[str, str]]:
    """What can be put on a piece, with the role it takes by itself."""
    return [
        {
            "kind": str(shape.model_fields["kind"].default),
            "title": shape.title,
            "role": shape.role,
            "first": shape.first,
            "shelf": shape.shelf,
        }
        for shape in SHAPES
    ]


def roles() -> list[dict[str, str]]:
    """The roles in the order of the parts list."""
    return [{"key": key, "title": title} for key, title in ROLES.items()]


def station_view(station: str, project: Project, design: Design) -> dict[str, Any]:
    """What a station shows beyond the project's state."""
    match station:
        case "sheet":
            return {"sheet": sheet.sheet_view(design), "words": sheet.sheet_words(design)}
        case "ticket":
            return {"sheet": sheet.sheet_view(design), "words": ticket.ticket_words(design)}
        case "check":
            return {
                "sheet": sheet.sheet_view(design),
                "findings": checks.findings(design),
                "rehearsal": checks.rehearsal_words(design),
            }
        case "run":
            run = runs.newest_run(project)
            return {
                "sheet": sheet.sheet_view(design),
                "machine": runs.machine_view(design),
                "run": runs.run_view(run, design.stock.height) if run else None,
            }
    return {}
