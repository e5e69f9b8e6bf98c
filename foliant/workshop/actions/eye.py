"""The eye: learning the lens of a camera, and laying things on the bed of a simulated machine as hands would."""

import random
from contextlib import suppress
from dataclasses import dataclass
from typing import Any, Literal

from foliant.core.design import Design
from foliant.core.equipment import MachineProfile, Shop
from foliant.core.equipment.edits import KeepLens
from foliant.core.errors import Refused
from foliant.core.eye.lens import Lens
from foliant.core.eye.marks import learn
from foliant.core.eye.straightening import read_picture
from foliant.core.machine import LinkLost
from foliant.core.machine.standin import LIGHTS
from foliant.core.program.lie import Lie
from foliant.workshop.actions.action import Action
from foliant.workshop.actions.shop import keep_in_shop
from foliant.workshop.computing import LIGHT, work_out
from foliant.workshop.machines import address_text, camera_over, driver_of, is_simulated
from foliant.workshop.models import Run

_EDGE, _TURN, _TRIES = 8.0, 30.0, 200
_THICKER = 0.15
"""How much thicker or thinner than it is sold as a sheet may be, mm."""


@dataclass
class LearnLens(Action):
    """Learn the lens of the camera over a machine from the marks on its bed, and keep it in the owner's shop."""

    owner: Any
    machine: MachineProfile

    def execute(self) -> Lens:
        machine = self.machine
        picture = camera_over(machine).picture()
        lens = work_out(LIGHT + 1, lens_in, picture, machine.bed_width, machine.bed_height)
        keep_in_shop(self.owner, KeepLens(do="keep-lens", machine=machine.key, lens=lens))
        return lens


@dataclass
class LayOnBed(Action):
    """Lay a design's sheet on the bed of a simulated machine, as it comes to lie; or the marks; or take it off."""

    owner: int
    machine: MachineProfile
    shop: Shop
    design: Design
    what: Literal["sheet", "marks", "nothing"]

    def execute(self) -> None:
        machine, stock = self.machine, self.design.stock
        if not is_simulated(machine.camera):
            raise Refused(f"{machine.name} is a real machine: lay it there by hand.")
        busy = Run.objects.filter(address=address_text(machine), state__in=Run.ACTIVE).exclude(taken=None)
        if busy.exclude(project__owner=self.owner).exists():
            raise Refused(f"A job is with {machine.name}, so its bed is not yours to lay things on.")
        chance = random.Random()
        scene: dict[str, Any] = {"marks": self.what == "marks", "seed": chance.randrange(10**6)}
        thick = round(stock.thickness + chance.uniform(-_THICKER, _THICKER), 2) if self.what == "sheet" else 0.0
        if self.what == "sheet":
            material = self.shop.material(stock.material)
            lie = _somehow(machine, stock.width, stock.height, chance)
            scene |= {
                "width": stock.width, "height": stock.height, "thickness": thick, "face": material.face,
                "edge": material.edge, "grain": material.grain, "used": stock.used, "lie": (lie.x, lie.y, lie.turn),
                "light": chance.choice(list(LIGHTS)),
            }  # fmt: skip
        camera_over(machine).lay(scene)
        with suppress(LinkLost):  # a machine that is switched off feels it when it is switched on
            driver_of(machine).lay(thick)


def lens_in(content: bytes, width: float, height: float) -> Lens:
    """The lens through which a picture file shows the marks of a bed."""
    return learn(read_picture(content), width, height)


def _somehow(machine: MachineProfile, width: float, height: float, chance: random.Random) -> Lie:
    """How a sheet may come to lie on a bed: anyhow, as long as all of it is there."""
    for tried in range(_TRIES):
        turn = chance.uniform(-_TURN, _TURN) * (1 - tried / _TRIES)
        lie = Lie(turn=turn)
        corners = lie.map.transformPoints([(0, 0), (width, 0), (width, height), (0, height)])
        (left, right), (near, far) = ((min(at), max(at)) for at in zip(*corners, strict=True))
        wide, high = machine.bed_width - 2 * _EDGE - (right - left), machine.bed_height - 2 * _EDGE - (far - near)
        if wide >= 0 and high >= 0:
            x, y = _EDGE - left + chance.uniform(0, wide), _EDGE - near + chance.uniform(0, high)
            return Lie(round(x, 2), round(y, 2), round(turn, 2))
    raise Refused("That sheet is larger than the bed, so it cannot be laid there.")
