"""Operations: a list of the maker's own making, and which marks each of them takes."""

import numpy as np
import pytest

from foliant.core.checks import check
from foliant.core.design import Design, apply, resolve
from foliant.core.errors import Refused
from foliant.core.formats import write_gcode
from foliant.core.formats.as_drawn import layers_of
from foliant.core.machine.interpreter import Interpreter, Move
from foliant.core.paths.nesting import contour
from foliant.core.ticket import Job
from tests.making import edited, one_piece, plan, put

NAMED = one_piece(
    put("rectangle", width=80, height=40, x=40, y=20),
    put("words", text="VEGA", cap_height=6, x=40, y=10),
    put("words", text="LYRA", cap_height=6, x=40, y=20),
    put("words", text="ORION", cap_height=6, x=40, y=30),
)


def ids(job: Job) -> list[str]:
    return [line.id for line in job.lines]


def given(part: str, mark: str = "engraves", **more: object) -> dict[str, object]:
    return {"do": "add-operation", "piece": "p1", "parts": [part], "mark": mark, **more}


def checks(design: Design) -> dict[str, object]:
    return {finding.check: finding for finding in check(plan(design))}


def working(job: Job) -> tuple[np.ndarray, np.ndarray]:
    """The operation and the end of every move that works."""
    path = job.program.toolpath()
    return path.operation[path.working], path.points[path.working, 3]


def test_three_engravings_of_different_settings_in_an_order_of_ones_own() -> None:
    design = edited(NAMED, given("a3"), given("a4"))
    one, two = (operation.id for operation in design.ticket.operations)
    design = edited(
        design,
        {"do": "change", "of": f"operation {one}", "values": {"power": "20"}},
        {"do": "change", "of": f"operation {two}", "values": {"power": "60", "name": "Deep"}},
        {"do": "order-operations", "operation": two, "before": "engrave"},
    )
    job = plan(design)
    assert ids(job) == [two, "engrave", one, "outer"]
    assert [line.settings.power for line in job.lines[:3] if line.settings] == [60, 32, 20]
    assert job.lines[0].title == "Deep"
    operation, ends = working(job)
    assert (np.diff(operation) >= 0).all()
    assert ends[operation == 0, 1].mean() == pytest.approx(24, abs=1)  # LYRA, which lies in the middle
    assert not checks(design)
    usual = edited(design, {"do": "usual-operations"})
    assert ids(plan(usual)) == ["engrave", "outer"]
    assert usual.pieces == NAMED.pieces


def test_an_assignment_goes_with_a_copy_of_its_part() -> None:
    design = edited(NAMED, given("a3"), {"do": "duplicate-parts", "piece": "p1", "parts": ["a3"], "dx": 0, "dy": 5})
    own = design.ticket.operations[0].id
    assert [dict(part.operations).get("engraves") for part in design.pieces[0].parts].count(own) == 2
    back = edited(design, {"do": "remove-operation", "operation": own})
    assert not any(part.operations for part in back.pieces[0].parts)
    assert ids(plan(back)) == ["engrave", "outer"]


def test_what_is_off_stays_unburnt() -> None:
    design = edited(NAMED, given("a3"))
    own = design.ticket.operations[0].id
    off = plan(edited(design, {"do": "switch-operation", "operation": own, "on": False}))
    whole = plan(design)
    assert off.program.seconds < whole.program.seconds
    assert np.isin(off.program.operation, [0, 2]).all()


def test_the_same_letters_engrave_and_score_without_a_copy() -> None:
    both = edited(NAMED, {"do": "set-role", "piece": "p1", "parts": ["a3"], "role": "scores", "also": True})
    assert both.pieces[0].part("a3").roles == ("engraves", "scores")
    assert ids(plan(both)) == ["engrave", "score", "outer"]
    raised = edited(NAMED, {"do": "set-role", "piece": "p1", "parts": ["a3"], "role": "adds", "also": True})
    assert resolve(raised.pieces[0]).outline.path.area == pytest.approx(3200)
    assert edited(both, {"do": "set-role", "piece": "p1", "parts": ["a3"], "role": "scores", "also": True}) == NAMED
    for role, says in (("cuts", "leaves no material"), ("guides", "only looked at"), ("engraves", "at least one")):
        with pytest.raises(Refused, match=says):
            edited(NAMED, {"do": "set-role", "piece": "p1", "parts": ["a3"], "role": role, "also": True})


def test_one_hole_can_be_scored_while_the_others_are_cut() -> None:
    holes = edited(
        NAMED, put("circle", role="cuts", diameter=4, x=6, y=6), put("circle", role="cuts", diameter=4, x=74, y=6)
    )
    design = edited(holes, given("a6", "cuts", work="score"))
    job = plan(design)
    line = next(line for line in job.lines if line.id.startswith("o") and line.work.key == "score")
    assert line.lines.length == pytest.approx(4 * np.pi, rel=1e-3)
    assert next(line for line in job.lines if line.id == "inner").lines.length == pytest.approx(4 * np.pi, rel=1e-3)


@pytest.mark.parametrize("order", [["outer", "engrave"], ["inner", "engrave"], ["outer", "inner"]])
def test_what_lies_inside_a_contour_is_done_before_it_whatever_the_order_says(order: list[str]) -> None:
    design = edited(NAMED, put("hole", x=6, y=20))
    first, second = order
    turned = edited(design, {"do": "order-operations", "operation": first, "before": second})
    job = plan(turned)
    operation, _ = working(job)
    outer = ids(job).index("outer")
    assert np.flatnonzero(operation == outer).min() > np.flatnonzero(operation != outer).max()
    spoilt = checks(turned).get("the_order_spoils_nothing")
    assert bool(spoilt) == (first == "outer")
    while spoilt:
        turned = apply(turned, spoilt.fixes[0].edit)  # type: ignore[attr-defined]
        spoilt = checks(turned).get("the_order_spoils_nothing")
    assert "the_order_spoils_nothing" not in checks(turned)


def test_a_piece_without_holes_is_cut_free_after_all_that_is_marked_on_it_whatever_the_order_says() -> None:
    turned = edited(NAMED, {"do": "order-operations", "operation": "outer", "before": "engrave"})
    operation, _ = working(plan(turned))
    outer = ids(plan(turned)).index("outer")
    assert np.flatnonzero(operation == outer).min() > np.flatnonzero(operation != outer).max()


def test_a_piece_in_the_opening_of_another_is_made_before_the_opening_is_cut() -> None:
    design = edited(
        one_piece(put("ring", diameter=80, band=10)),
        {"do": "add-piece", "name": "Token"},
    )
    token = design.pieces[1].id
    design = edited(
        design,
        put("circle", piece=token, diameter=20, x=10, y=10),
        put("words", piece=token, text="VEGA", cap_height=4, x=10, y=10),
        {"do": "place", "piece": token, "number": 1, "x": 34, "y": 34},
    )
    job = plan(design)
    path = job.program.toolpath()
    inner = ids(job).index("inner")
    mine = path.working & (path.instance == 1)
    opening = path.working & (path.instance == 0) & (path.operation == inner)
    assert mine.any()
    assert opening.any()
    assert np.flatnonzero(mine).max() < np.flatnonzero(opening).min()


def test_what_two_operations_would_burn_and_what_none_takes_are_said_with_a_mending_press() -> None:
    over = edited(NAMED, {"do": "place-parts", "piece": "p1", "parts": ["a4"], "y": 11}, given("a4"))
    finding = checks(over)["nothing_is_filled_twice"]
    mended = apply(over, finding.fixes[0].edit)  # type: ignore[attr-defined]
    assert "nothing_is_filled_twice" not in checks(mended)
    part = NAMED.pieces[0].part("a3").model_copy(update={"operations": (("engraves", "o99"),)})
    parts = tuple(part if other.id == "a3" else other for other in NAMED.pieces[0].parts)
    lost = NAMED.model_copy(update={"pieces": (NAMED.pieces[0].model_copy(update={"parts": parts}),)})
    finding = checks(lost)["every_mark_is_taken"]
    assert "VEGA" in finding.sentence  # type: ignore[attr-defined]
    assert apply(lost, finding.fixes[0].edit).pieces == NAMED.pieces  # type: ignore[attr-defined]


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        ({"do": "add-operation", "work": "melt"}, "no work “melt”"),
        ({"do": "add-operation"}, "name a work"),
        ({"do": "assign-marks", "piece": "p1", "parts": ["a3"], "mark": "scores"}, "no mark “scores”"),
        ({"do": "assign-marks", "piece": "p1", "mark": "guides"}, "no mark “guides”"),
        ({"do": "assign-marks", "piece": "p1", "parts": ["a3"], "mark": "engraves", "operation": "o9"}, "no longer"),
        ({"do": "remove-operation", "operation": "outer"}, "switch it off"),
        ({"do": "change", "of": "operation outer", "values": {"interval": "1"}}, "no value “interval”"),
        ({"do": "change", "of": "operation nine", "values": {"power": "1"}}, "no longer on the ticket"),
    ],
)
def test_what_cannot_be_done_with_an_operation_is_one_sentence(edit: dict[str, object], says: str) -> None:
    with pytest.raises(Refused, match=says):
        edited(NAMED, edit)


def test_a_name_a_unit_and_a_nudge_plan_nothing_anew() -> None:
    before = plan(NAMED).program
    for edit in ({"do": "rename", "name": "Another"}, {"do": "set-unit", "unit": "in"}):
        assert plan(edited(NAMED, edit)).program is before


def test_spots_are_drilled_in_the_middle_of_holes_for_as_long_as_it_says() -> None:
    hole = {"role": "cuts", "diameter": 1, "y": 6}
    holes = edited(NAMED, put("circle", **hole, x=6), put("circle", **hole, x=74))
    drilled = edited(holes, {"do": "add-operation", "work": "drill", "piece": "p1", "mark": "inner"})
    own = drilled.ticket.operations[0].id
    design = edited(drilled, {"do": "change", "of": f"operation {own}", "values": {"dwell": "1.5 s", "passes": "2"}})
    job = plan(design)
    assert ids(job) == ["engrave", own, "outer"]
    path = job.program.toolpath()
    spots = path.operation == 1
    assert sorted(set(path.points[spots & path.working, 3, 0].round(3).tolist())) == [10, 78]
    assert float(path.durations[spots & path.working].sum()) == pytest.approx(4 * 1.5, abs=0.01)
    machine = Interpreter(400, 400, 200)
    moves = [item for line in write_gcode(job).splitlines() for item in machine.read(line) if isinstance(item, Move)]
    waits = [move for move in moves if move.dwell]
    assert [move.dwell for move in waits] == [1.5] * 4
    assert {move.power for move in waits} == {85}
    assert len(moves) == len(job.program) + 1  # and the way home


def test_holes_up_to_a_width_are_drilled_and_wider_ones_cut() -> None:
    holes = [put("circle", role="cuts", diameter=size, x=6 + 12 * n, y=6) for n, size in enumerate((1, 2, 3))]
    design = edited(NAMED, *holes, {"do": "add-operation", "work": "drill"})
    own = design.ticket.operations[0].id
    assert ids(plan(design)) == ["engrave", "inner", "outer"]
    two = edited(design, {"do": "change", "of": f"operation {own}", "values": {"holes": "2 mm"}})
    job = plan(two)
    assert ids(job) == ["engrave", own, "inner", "outer"]
    assert [len(marks.lines.starts) for line in job.lines[1:3] for marks, _ in line.marks] == [2, 1]
    last = two.pieces[0].parts[-1].id
    given = {"do": "assign-marks", "piece": "p1", "parts": [last], "mark": "cuts", "operation": own}
    assert ids(plan(edited(two, given))) == ["engrave", own, "outer"]  # what is given to it is taken at any width
    with pytest.raises(Refused, match="Only an operation that drills"):
        edited(two, {"do": "change", "of": "operation inner", "values": {"holes": "2 mm"}})


def test_parts_bear_one_more_mark_and_its_operation_in_one_edit() -> None:
    both = edited(NAMED, {"do": "add-operation", "piece": "p1", "parts": ["a3"], "mark": "scores", "also": True})
    part = both.pieces[0].part("a3")
    assert set(part.roles) == {"engraves", "scores"}
    assert both.ticket.operation(dict(part.operations)["scores"]).work == "score"
    with pytest.raises(Refused, match="Name the parts"):
        edited(NAMED, {"do": "add-operation", "piece": "p1", "mark": "scores", "also": True})


@pytest.mark.parametrize(
    ("size", "drill", "off"), [(1.55, None, True), (3.0, 1.5, True), (1.5, 1.5, False), (0.2, None, False)]
)
def test_a_drill_makes_holes_as_wide_as_it_is_and_others_are_found_and_cut_by_a_press(
    size: float, drill: float | None, off: bool
) -> None:
    holes = (put("circle", role="cuts", diameter=size, x=x, y=6) for x in (6, 74))
    design = edited(NAMED, *holes, {"do": "add-operation", "work": "drill", "piece": "p1", "mark": "inner"})
    own = design.ticket.operations[0].id
    if drill:
        design = edited(design, {"do": "change", "of": f"operation {own}", "values": {"across": f"{drill} mm"}})
    drawn = next(layer for layer in layers_of(plan(design)) if layer.line.id == own).areas
    assert len(drawn.starts) == 2
    left, _, right, _ = contour(drawn, 0).bounds
    assert right - left == pytest.approx(drill or 0.12)
    finding = checks(design).get("drills_are_as_wide")
    assert bool(finding) == off
    if finding:
        assert f"{size:g} mm" in finding.title
        mended = apply(design, finding.fixes[0].edit)
        assert ids(plan(mended)) == ["engrave", "inner", "outer"]
        assert "drills_are_as_wide" not in checks(mended)
