"""Heads that go up and down: turning cutters, and lasers that set their focus."""

from pathlib import Path

import numpy as np
import pytest

from foliant.core.checks import check
from foliant.core.design import Design
from foliant.core.equipment import SHIPPED, MachineProfile
from foliant.core.errors import Refused
from foliant.core.formats import WRITERS
from foliant.core.formats.shop_file import write_shop
from foliant.core.machine.interpreter import Interpreter
from foliant.core.ticket import Job, plan
from foliant.core.ticket.cards import usual_card
from tests.core.test_machine import clock_of
from tests.making import edited, one_piece, put

ROUTER = MachineProfile(key="router", name="Router", kind="turning", kerf=3, rise=12, plunge=4, lift=5)
LIFTING = next(one for one in SHIPPED.machines if one.key == "cabin-laser").model_copy(update={"rise": 8.0})
SHOP = SHIPPED.model_copy(update={"machines": (SHIPPED.machines[0], LIFTING, ROUTER)})


def routed(*more: dict, machine: str = "router", **values: object) -> Job:
    """A plate of 6 mm with a round hole and a square opening, on the router."""
    settings = {"power": "60", "speed": "20", "passes": 2, **values}
    design = edited(
        one_piece(put("rectangle", width=60, height=40, x=30, y=20)),
        put("circle", diameter=9, x=15, y=20, role="cuts"),
        put("rectangle", width=12, height=10, x=42, y=20, role="cuts"),
        {"do": "change", "of": "stock", "values": {"thickness": 6}},
        *({"do": "change", "of": f"operation {key}", "values": settings} for key in ("inner", "outer")),
        *more,
    )
    return plan(_on(design, machine), SHOP)


def _on(design: Design, machine: str) -> Design:
    return design.model_copy(update={"ticket": design.ticket.model_copy(update={"machine": machine, "kerf": "on"})})


def heights(job: Job) -> list[float]:
    lines = WRITERS["gcode"].write(job).decode().splitlines()
    return [float(line.split("Z")[1].split()[0]) for line in lines if "Z" in line]


def test_a_turning_cutter_goes_down_pass_by_pass_and_never_travels_in_the_material() -> None:
    job = routed()
    found = heights(job)
    assert found[0] == 5
    assert found[1:] == [-3, 5, -6, 5] * 3
    height = 5.0
    for line in WRITERS["gcode"].write(job).decode().splitlines():
        if "Z" in line:
            assert "X" not in line
            height = float(line.split("Z")[1].split()[0])
        elif line.startswith("G0 X") and line != "G0 X0 Y0":
            assert height == 5
        elif line.startswith(("G1 ", "G2 ", "G3 ")):
            assert height < 0
    assert set(heights(routed(depth="1"))[1:]) == {5, -0.5, -1}


def test_drilling_goes_to_a_depth_of_its_own_and_stays_there() -> None:
    drill = {"do": "add-operation", "work": "drill", "piece": "p1", "parts": ["a3"], "mark": "cuts"}
    settings = {"do": "change", "of": "operation o5", "values": {"power": "50", "dwell": "0.4", "depth": "2"}}
    text = WRITERS["gcode"].write(routed(drill, settings)).decode()
    lines = text.splitlines()
    at = lines.index("G1 Z-2 F240 S500")
    assert lines[at - 1].startswith("G0 X")
    assert "G4 P0.4" in lines[at : at + 4]
    assert "G0 Z5" in lines[at : at + 5]


@pytest.mark.parametrize(
    ("side", "out", "inside"), [("waste", 1.5, -1.5), ("outside", 1.5, 1.5), ("inside", -1.5, -1.5), ("on", 0, 0)]
)
def test_it_runs_on_the_side_that_is_asked_for(side: str, out: float, inside: float) -> None:
    job = routed(side=side)
    boxes = _boxes(job.program.toolpath())
    for wanted in ([60 + 2 * out, 40 + 2 * out], [12 + 2 * inside, 10 + 2 * inside]):
        assert any(box == pytest.approx(wanted, abs=0.02) for box in boxes)


def _boxes(path) -> list[np.ndarray]:
    found = []
    for place in np.unique(path.place):
        mine = (path.place == place) & path.working
        points = np.concatenate([path.points[mine][:, 0], path.points[mine][:, 1], path.points[mine][:, 3]])
        found.append(points.max(axis=0) - points.min(axis=0))
    return found


def test_corners_that_it_does_not_reach_are_shown() -> None:
    job = routed()
    (found,) = [one for one in check(job) if one.check == "cutters_reach"]
    assert "4 places" in found.sentence
    left, top, right, bottom = found.place
    assert (right - left, bottom - top) == (pytest.approx(12, abs=0.1), pytest.approx(10, abs=0.1))
    assert not [one for one in check(routed(side="on")) if one.check == "cutters_reach"]
    assert not [one for one in check(routed(machine="cabin-laser")) if one.check == "cutters_reach"]


def test_its_time_is_true_on_the_simulated_machine(tmp_path: Path) -> None:
    shop = tmp_path / "shop.json"
    shop.write_text(write_shop(SHOP))
    job = routed()
    assert clock_of(job, "router", str(shop)) == pytest.approx(job.program.seconds, rel=0.02)
    bare = routed(machine="bench-laser").program.seconds
    assert job.program.seconds > bare + 3 * 2 * (8 + 8.0) / 12  # up and down takes its time


def test_a_focus_is_set_for_an_operation_and_tested_on_a_card() -> None:
    job = routed({"do": "change", "of": "operation inner", "values": {"focus": "-1.5"}}, machine="cabin-laser")
    assert heights(job) == [-1.5, 0, -1.5, 0]
    card = plan(usual_card(SHOP, "cabin-laser", "birch-ply", "focus"), SHOP)
    assert set(heights(card)) == {-3, -1.5, 0, 1.5, 3}
    with pytest.raises(Refused, match="does not go up and down"):
        usual_card(SHOP, "bench-laser", "birch-ply", "focus")
    with pytest.raises(Refused, match="does not go up and down"):
        Interpreter(400, 400, 100).read("G0 Z2")
    with pytest.raises(Refused, match="Z goes alone"):
        Interpreter(400, 400, 100, rise=5, feed=10).read("G1 X1 Z2")
