"""Sheets as somebody put them on the bed, and how near to their corners the eye finds them.

`python -m tests.lies 200` looks at so many and says what came of it: turned by any angle up to 30°, in four lights and
through three lenses, whole and begun, of every material, on every machine.
"""

import sys
from collections.abc import Iterator
from functools import cache

import numpy as np
from numpy.typing import NDArray

from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from foliant.core.eye.finding import find_stock
from foliant.core.eye.lens import Lens
from foliant.core.eye.marks import learn
from foliant.core.machine.standin import LENSES, LIGHTS, Scene, render
from foliant.core.program.lie import Lie

_SIZES = [(300, 200), (200, 150), (250, 120), (160, 160), (297, 210)]


def scenes(count: int, seed: int) -> Iterator[Scene]:
    """So many lies, each on the next machine, in the next light."""
    chance = np.random.default_rng(seed)
    for number in range(count):
        machine = SHIPPED.machines[number % len(SHIPPED.machines)]
        material = SHIPPED.materials[int(chance.integers(len(SHIPPED.materials)))]
        lens, light = list(LENSES)[number // 4 % 3], list(LIGHTS)[number % 4]
        while True:
            width, height = _SIZES[int(chance.integers(len(_SIZES)))]
            place = chance.uniform(0, (machine.bed_width, machine.bed_height)).tolist()
            scene = Scene(machine, width, height, lie=Lie(*place, turn=float(chance.uniform(-30, 30))))
            if (corners(scene) > 0).all() and (corners(scene) < (machine.bed_width, machine.bed_height)).all():
                break
        left, top = chance.uniform(5, (width - 60, height - 60)).tolist()
        hole = ((left, top), (left + 50, top), (left + 50, top + 45), (left, top + 45))
        yield Scene(
            machine, width, height, float(chance.choice(material.thicknesses)), material.face, material.edge,
            material.grain, (hole,) if chance.random() < 0.5 else (), scene.lie, False, light, lens, number,
        )  # fmt: skip


def corners(scene: Scene) -> NDArray[np.float64]:
    """The corners (4, 2) of the stock on the bed, from its near left one on anticlockwise, mm."""
    wide, high = scene.width, scene.height
    return np.array(scene.lie.map.transformPoints([(0, 0), (wide, 0), (wide, high), (0, high)]))


seen = cache(render)
"""How a camera sees a scene."""


@cache
def lens_over(machine: str, lens: str) -> Lens:
    """A lens as it is learnt from the marks on a machine's bed."""
    profile = SHIPPED.machine(machine)
    picture = seen(Scene(profile, marks=True, lens=lens))
    return learn(picture, profile.bed_width, profile.bed_height)


def how_far_off(scene: Scene) -> float:
    """How far the farthest corner is found from where it is, mm; raises `Refused` where nothing is found."""
    bed = scene.machine.bed_width, scene.machine.bed_height
    lens = lens_over(scene.machine.key, scene.lens)
    found = find_stock(seen(scene), lens, bed, scene.thickness, (scene.width, scene.height))
    return float(np.hypot(*(found.corners - corners(scene)).T).max())


def _main(count: int) -> None:
    far, refused = [], 0
    for scene in scenes(count, seed=count):
        try:
            far.append(how_far_off(scene))
        except Refused:
            refused += 1
            print("not found:", scene)
    found = np.array(far)
    print(f"{len(found)} found, {refused} said not to be; {(found < 0.5).mean():.1%} within 0.5 mm, the worst "
          f"{found.max():.2f} mm off, the middle one {np.median(found):.2f} mm")  # fmt: skip


if __name__ == "__main__":
    _main(int(sys.argv[1]))
