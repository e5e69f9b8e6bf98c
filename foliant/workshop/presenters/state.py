"""The state of a project as the page holds it, and what each station adds."""

from typing import Any

from foliant.core.design import Design
from foliant.core.design.benches import every_bench
from foliant.core.design.binding import tied_pieces
from foliant.core.design.model import ROLES
from foliant.core.design.shapes import SHAPES
from foliant.core.equipment import Shop
from foliant.core.errors import Refused
from foliant.core.units import format_length
from foliant.core.works import WORKS
from foliant.workshop.computing import LIGHT, Busy, changed_weight, planned, planned_soon, work_out
from foliant.workshop.models import Project
from foliant.workshop.presenters import checks, runs, sheet, ticket
from foliant.workshop.presenters.roster import own_words, roster_view, row_shown
from foliant.workshop.presenters.scene import bare_scenes, scenes
from foliant.workshop.presenters.spec import cuts
from foliant.workshop.presenters.standing import quick_standing


def project_state(project: Project, design: Design, before: Design | None = None, row: str = "") -> dict[str, Any]:
    """What every station needs: the revision, what undo and redo would do, the roster and the pieces that changed.

    Where too much is being worked out already, the pieces are `unfinished`, and are to be asked for again.

    row  the row of the roster for which pieces are shown, or ""
    """
    told = roster_view(design, before)
    return {
        **_frame(project, design),
        **({"roster": told} if told else {}),
        "row": own_words(design, row_shown(design, row)),
        **_shown_or_said(design, project.shop, before, row),
    }


def changed(project: Project, before: Design | None, row: str = "") -> dict[str, Any]:
    """The state of a project after it was changed, with what differs from before."""
    project.refresh_from_db()
    return project_state(project, project.design, before, row)


def _frame(project: Project, design: Design) -> dict[str, Any]:
    """The state of a project but for its pieces."""
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
        "materials": {there.bench: sheet.material_view(there, project.shop) for there in every_bench(design)},
        "cuts": cuts(design, project.shop),
        "standing": quick_standing(design),
    }


def opened(project: Project, design: Design) -> dict[str, Any]:
    """The state with which a page opens at once: what is heavy to draw is `unfinished`, and the page asks for it."""
    if changed_weight(design, None) <= LIGHT:
        return project_state(project, design)
    return {**_frame(project, design), "roster": roster_view(design, None), "row": None, **_unfinished(design)}


def _unfinished(design: Design) -> dict[str, Any]:
    return {**bare_scenes(design, "it is being worked out."), "unfinished": True}


def _shown_or_said(design: Design, shop: Shop, before: Design | None, row: str) -> dict[str, Any]:
    """The scenes; where they take too long or too much, the pieces stand there by name, and say so."""
    try:
        return {**shown(design, shop, before, row), "unfinished": False}
    except Busy:
        return _unfinished(design)
    except Refused as refusal:
        return {**bare_scenes(design, str(refusal)), "unfinished": False}


def shown(design: Design, shop: Shop, before: Design | None = None, row: str = "") -> dict[str, Any]:
    """The scenes of a design, or of what in it differs from `before`, worked out where there is room for them."""
    stuffs = tuple((there.bench, shop.material(there.stock.material)) for there in every_bench(design))
    return work_out(changed_weight(design, before), scenes, design, stuffs, before, row)


def rows_shown(design: Design, shop: Shop, row: str) -> dict[str, Any]:
    """The scenes of the pieces that take values from the roster, as a row has them."""
    tied = tied_pieces(design)
    return shown(
        design.model_copy(update={"pieces": tuple(one for one in design.pieces if one.id in tied)}), shop, None, row
    )


def shelf() -> list[dict[str, str]]:
    """What can be put on a piece, with the role it takes by itself."""
    return [
        {
            "kind": str(shape.model_fields["kind"].default),
            "title": shape.title,
            "role": shape.role,
            "first": shape.first,
            "shelf": shape.shelf,
            "lacks": shape.lacks(),
        }
        for shape in SHAPES
    ]


def catalogue() -> dict[str, Any]:
    """The works as every drawing, legend and list shows them, by key."""
    return {
        work.key: {
            "title": work.title,
            "verb": work.verb,
            "ink": work.ink,
            "swatch": dict(zip(("d", "width", "dashes"), work.swatch, strict=True)),
            "filled": work.filled,
            "pictures": work.pictures,
        }
        for work in WORKS.values()
    }


def roles() -> list[dict[str, str]]:
    """The roles in the order of the parts list."""
    return [{"key": key, "title": title} for key, title in ROLES.items()]


def station_view(station: str, project: Project, design: Design, number: int = 1) -> dict[str, Any]:
    """What a station shows, of one of the sheets, beyond the project's state."""
    if station not in _STATIONS:
        return {}
    view = planned(_STATIONS[station], design, project.shop, number)
    if station != "run":
        return view
    run = runs.newest_run(project, number)
    return {**view, "run": runs.run_view(run, design) if run else None}


def station_opens(station: str, project: Project, design: Design, number: int = 1) -> bool:
    """Whether that can be shown at once."""
    return station not in _STATIONS or planned_soon(_STATIONS[station], design, project.shop, number)


def _sheet_station(design: Design, shop: Shop, number: int) -> dict[str, Any]:
    return {"sheet": sheet.sheet_view(design, shop, number), "words": sheet.sheet_words(design, shop, number)}


def _ticket_station(design: Design, shop: Shop, number: int) -> dict[str, Any]:
    return {"sheet": sheet.sheet_view(design, shop, number), "words": ticket.ticket_words(design, shop, number)}


def _check_station(design: Design, shop: Shop, number: int) -> dict[str, Any]:
    return {
        "sheet": sheet.sheet_view(design, shop, number),
        "findings": checks.findings(design, shop, number),
        "rehearsal": checks.rehearsal_words(design, shop, number),
    }


def _run_station(design: Design, shop: Shop, number: int) -> dict[str, Any]:
    return {"sheet": sheet.sheet_view(design, shop, number), "machine": runs.machine_view(design, shop, number)}


_STATIONS = {"sheet": _sheet_station, "ticket": _ticket_station, "check": _check_station, "run": _run_station}
