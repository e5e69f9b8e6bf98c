"""The stand-in for a camera over a simulated machine: the bed with what somebody laid on it, as a lens shows it.

It knows nothing of how the eye finds things: it draws the bed, the stock with its walls and its dirt, the light on all
of it, and bends that as a lens does.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.equipment import MachineProfile
from foliant.core.equipment.stock import Used, gone
from foliant.core.eye import marks
from foliant.core.eye.straightening import at_dots
from foliant.core.program.lie import STRAIGHT, Lie

Floats = NDArray[np.float64]
Picture = NDArray[np.uint8]

SIZE = (1920, 1440)
_FINE = 4.0
"""How many dots to the mm the bed and what lies on it are drawn with."""

LENSES = {
    "plain": ((-0.04, 0.01, 0.0, 0.0), (0.0, 0.0), (0.0, 0.0)),
    "wide": ((-0.26, 0.07, 0.0, 0.0), (2.5, -1.5), (6.0, -4.0)),
    "leaning": ((-0.12, 0.02, 0.0006, -0.0004), (-9.0, 6.0), (-8.0, 5.0)),
}
"""Lenses: how each bends (Brown's k1, k2, p1, p2), how it leans about x and y, degrees, and by how many dots the middle
of its picture is off its axis.
"""

LIGHTS = {
    "even": (1.0, 0.0, 0.0),
    "lamp": (1.0, 0.75, 0.0),
    "dim": (0.38, 0.2, 0.0),
    "glare": (0.9, 0.25, 110.0),
}
"""Lights: how bright, by what share it falls off from one corner to the other, and how much a lamp glares."""

_MARGIN = 120.0
"""How far round the bed there is floor to be seen, mm."""

_BEDS = {"laser": (52, 50, 46), "blade": (96, 84, 38), "turning": (104, 122, 138)}
_NOISE = 2.2


@dataclass(frozen=True)
class Scene:
    """What lies on the bed of a machine, and how it is looked at.

    width, height, thickness   of the stock, mm; there is none where it has no width
    face, edge, grain          as of its material
    used                       what is gone of it
    marks                      whether the sheet of marks lies there in its place
    """

    machine: MachineProfile
    width: float = 0.0
    height: float = 0.0
    thickness: float = 3.0
    face: str = "#e6cb98"
    edge: str = "#9a7647"
    grain: str = "wood"
    used: Used = ()
    lie: Lie = STRAIGHT
    marks: bool = False
    light: str = "even"
    lens: str = "wide"
    seed: int = 1


def render(scene: Scene, size: tuple[int, int] = SIZE) -> Picture:
    """The picture that the camera takes, (h, w, 3), blue first."""
    chance = np.random.default_rng(scene.seed)
    rays, eye = _rays(scene, size)
    bed = _bed(scene.machine, scene.marks)
    top = scene.thickness if scene.width else 0.0
    ground = _met(rays, eye, 0.0)
    picture = _taken(bed, ground, scene)
    if scene.width:
        covered = _share(scene, _met(rays, eye, top))
        shade = cv2.GaussianBlur(np.maximum(_share(scene, ground - (1.2, -1.6)), 0.0), (0, 0), 4.0)
        picture *= (1 - 0.35 * shade)[..., None]
        for height in np.linspace(0, top, 5)[:-1]:
            _lay(picture, np.array(_colour(scene.edge)) * 0.8, _share(scene, _met(rays, eye, height)))
        _lay(picture, _face(scene, _met(rays, eye, top), chance), covered)
    _shine(picture, scene, ground)
    picture = np.asarray(cv2.GaussianBlur(picture, (0, 0), 0.8), np.float32)
    picture += chance.standard_normal(picture.shape, np.float32) * np.float32(_NOISE)
    return np.clip(picture, 0, 255).astype(np.uint8)


def _rays(scene: Scene, size: tuple[int, int]) -> tuple[NDArray[np.float32], Floats]:
    """The way (h, w, 3) in which each dot looks, and where the camera is, in the bed's directions, mm."""
    bends, lean, off = LENSES[scene.lens]
    machine = scene.machine
    wide, high = machine.bed_width, machine.bed_height
    columns, rows = size
    focal = 0.78 * columns
    tall = high > wide  # the camera is turned by a quarter then
    away = 1.12 * focal * max((high / columns, wide / rows) if tall else (wide / columns, high / rows))
    eye = np.array([wide / 2, high / 2, away])
    x, y = np.radians(lean)
    about_x = np.array([[1, 0, 0], [0, np.cos(x), -np.sin(x)], [0, np.sin(x), np.cos(x)]])
    about_y = np.array([[np.cos(y), 0, np.sin(y)], [0, 1, 0], [-np.sin(y), 0, np.cos(y)]])
    quarter = np.array([[0, 1, 0], [-1, 0, 0], [0, 0, 1]]) if tall else np.eye(3)
    facing = about_x @ about_y @ quarter @ np.diag([1.0, -1.0, -1.0])
    # It stands so that it looks at the middle of the bed.
    eye[:2] -= (facing.T @ (0, 0, 1))[:2] * away / -(facing.T @ (0, 0, 1))[2]
    matrix = np.array([[focal, 0, columns / 2 + off[0]], [0, focal, rows / 2 + off[1]], [0, 0, 1]])
    plain = _unbent(matrix.tobytes(), bends, size)
    rays = plain @ facing.astype(np.float32)
    return rays, eye


@lru_cache(maxsize=2)
def _unbent(matrix: bytes, bends: tuple[float, ...], size: tuple[int, int]) -> NDArray[np.float32]:
    """The way in which each dot of a picture looks, (h, w, 3), as the camera has it."""
    dots = np.stack(np.meshgrid(*(np.arange(length, dtype=np.float64) for length in size)), axis=-1)
    whole = np.frombuffer(matrix).reshape(3, 3)
    plain = cv2.undistortPoints(dots.reshape(-1, 1, 2), whole, np.array(bends), criteria=(3, 30, 1e-9))
    found = np.concatenate([plain, np.ones((len(plain), 1, 1))], axis=2).reshape(size[1], size[0], 3)
    return np.asarray(found, np.float32)


def _met(rays: NDArray[np.float32], eye: Floats, height: float) -> NDArray[np.float32]:
    """Where what each dot looks at lies, (h, w, 2), on a plane so high over the bed, mm."""
    reach = np.float32(height - eye[2]) / rays[..., 2:]
    return np.asarray(eye[:2].astype(np.float32) + rays[..., :2] * reach, np.float32)


def _taken(raster: Picture, where: NDArray[np.float32], scene: Scene) -> NDArray[np.float32]:
    """What is drawn of the bed, at these places of it."""
    across, down = where[..., 0] + _MARGIN, scene.machine.bed_height + _MARGIN - where[..., 1]
    return _at(raster, across, down, _FINE)


@lru_cache(maxsize=4)
def _bed(machine: MachineProfile, with_marks: bool) -> Picture:
    """The bed with the floor round it, as seen from straight above, its far left corner first."""
    wide, high = ((length + 2 * _MARGIN) * _FINE for length in (machine.bed_width, machine.bed_height))
    raster = np.full((round(high), round(wide), 3), (38, 40, 42), np.uint8)
    inner = round(_MARGIN * _FINE)
    bed = raster[inner : raster.shape[0] - inner, inner : raster.shape[1] - inner]
    bed[:] = _BEDS[machine.kind]
    down, across = np.mgrid[0 : bed.shape[0], 0 : bed.shape[1]].astype(np.float32) / np.float32(_FINE)
    if machine.kind == "laser":  # a honeycomb
        wave = [
            np.cos(across * np.float32(np.cos(turn) * 2 * np.pi / 9) + down * np.float32(np.sin(turn) * 2 * np.pi / 9))
            for turn in np.radians([0, 60, 120])
        ]
        bed[(sum(wave) < -1.35)] = (112, 114, 116)
    elif machine.kind == "blade":  # a mat with lines
        bed[((across % 10 < 0.4) | (down % 10 < 0.4))] = (140, 130, 84)
    else:
        grain = np.random.default_rng(5).normal(0, 9, bed.shape[:2]).astype(np.float32)
        bed[:] = np.clip(bed + cv2.GaussianBlur(grain, (0, 0), 3)[..., None] * 3, 0, 255)
    if with_marks:
        _lay_marks(bed, machine)
    raster.flags.writeable = False
    return raster


def _lay_marks(bed: Picture, machine: MachineProfile) -> None:
    """Card all over the bed, with the marks burnt into it."""
    edge = round(4 * _FINE)
    bed[edge:-edge, edge:-edge] = (214, 232, 238)
    cell = marks.WIDE / marks.CELLS
    for number, left, near in marks.grid(machine.bed_width, machine.bed_height):
        far = machine.bed_height - near - marks.WIDE
        for row, column in np.argwhere(marks.pattern(number)):
            x, y = (round(at * _FINE) for at in (left + column * cell, far + row * cell))
            bed[y : y + round(cell * _FINE), x : x + round(cell * _FINE)] = (34, 44, 62)


def _share(scene: Scene, where: NDArray[np.float32]) -> NDArray[np.float32]:
    """How much of each dot that looks at these places the stock covers, 0 to 1."""
    x, y = _on_stock(scene, where)
    dot = np.float32(0.7 * scene.machine.bed_width / SIZE[0])
    inside = np.minimum(np.minimum(x, scene.width - x), np.minimum(y, scene.height - y))
    covered = np.clip(0.5 + inside / (2 * dot), 0, 1)
    if scene.used:
        covered = covered * (1 - _gone(scene, x, y))
    return np.asarray(covered, np.float32)


def _on_stock(scene: Scene, where: NDArray[np.float32]) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Places of the bed as they lie on the stock, mm from its near left corner."""
    turn = np.radians(scene.lie.turn)
    x, y = where[..., 0] - np.float32(scene.lie.x), where[..., 1] - np.float32(scene.lie.y)
    cos, sin = np.float32(np.cos(turn)), np.float32(np.sin(turn))
    return x * cos + y * sin, y * cos - x * sin


def _gone(scene: Scene, x: NDArray[np.float32], y: NDArray[np.float32]) -> NDArray[np.float32]:
    raster = np.zeros((round(scene.height * _FINE), round(scene.width * _FINE)), np.float32)
    for area in gone(scene.used):
        cv2.fillPoly(raster, [np.round(shapely.get_coordinates(area.exterior) * _FINE).astype(np.int32)], 1.0)
    return _at(raster, x, scene.height - y, _FINE)


def _face(scene: Scene, where: NDArray[np.float32], chance: np.random.Generator) -> NDArray[np.float32]:
    """The face of the stock, with its grain and with dirt on it."""
    rows, columns = round(scene.height * 2) + 8, round(scene.width * 2) + 8
    raster = np.full((rows, columns, 3), _colour(scene.face), np.float32)
    if scene.grain == "wood":
        stripes = chance.normal(0, 1, (rows, 1)).repeat(columns, axis=1) + chance.normal(0, 0.6, (rows, columns))
        raster += cv2.GaussianBlur(stripes.astype(np.float32), (0, 0), sigmaX=9, sigmaY=0.9)[..., None] * 16
    elif scene.grain == "fibre":
        raster += cv2.GaussianBlur(chance.normal(0, 1, (rows, columns)).astype(np.float32), (0, 0), 1.5)[..., None] * 14
    for _ in range(int(chance.integers(3, 9))):
        at = (int(chance.integers(0, columns)), int(chance.integers(0, rows)))
        cv2.circle(raster, at, int(chance.integers(3, 18)), (raster[0, 0] * 0.6).tolist(), -1, cv2.LINE_AA)
    x, y = _on_stock(scene, where)
    return _at(raster, x + 2, y + 2, 2.0)


def _at(raster: Any, x: NDArray[np.float32], y: NDArray[np.float32], fine: float) -> NDArray[np.float32]:
    """What is drawn with `fine` dots to the mm, at places that far right of its left and below its top, mm."""
    dots = np.stack([x * fine - 0.5, y * fine - 0.5], axis=-1).astype(np.float32)
    return at_dots(raster, dots).astype(np.float32)


def _lay(picture: NDArray[np.float32], colour: Floats | NDArray[np.float32], share: NDArray[np.float32]) -> None:
    """Something over the picture, as much as it covers of each dot."""
    picture += (colour - picture) * share[..., None]


def _shine(picture: NDArray[np.float32], scene: Scene, where: NDArray[np.float32]) -> None:
    bright, falls, glares = LIGHTS[scene.light]
    machine = scene.machine
    across, away = where[..., 0] / machine.bed_width, where[..., 1] / machine.bed_height
    picture *= (bright * (1 - falls * np.clip((across + 1 - away) / 2, 0, 1)))[..., None]
    if glares:
        picture += (glares * np.exp(-((across - 0.66) ** 2 + (away - 0.6) ** 2) / 0.03))[..., None]


def _colour(text: str) -> tuple[float, float, float]:
    """#rrggbb, blue first."""
    red, green, blue = (float(int(text[at : at + 2], 16)) for at in (1, 3, 5))
    return blue, green, red
