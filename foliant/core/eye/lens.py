"""The lens of a camera over a bed: where what it sees lies on the bed, and back.

The bed is a plane at z = 0 with x to the right and y away from the maker, mm; what lies on it has its face higher up,
where the camera sees it shifted.
"""

from typing import Annotated, Self

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from foliant.core.errors import Refused
from foliant.core.frozen import Frozen

Floats = NDArray[np.float64]
Number = Annotated[float, Field(allow_inf_nan=False, ge=-1e6, le=1e6)]

LEAST_MARKS = 12
"""With fewer points than that a lens is not to be known."""

WORST = 0.6
"""How far, in mm, points that were used may lie beside where the lens has them, in the mean."""

LOWEST = 20.0
"""A camera is so far over the bed at least, mm."""

_OPENING = 0.85
"""The focal length that is begun with, as a share of the picture's width."""

_BETTER = 0.95
_UNTIL = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 40, 1e-9)


class Lens(Frozen):
    """What is known of a camera.

    width, height   of its pictures, in dots
    focal           its focal length, in dots
    middle          where its axis meets the picture, in dots
    bends           how it bends lines, as Brown's k1, k2, p1, p2
    turn, place     the bed in front of it: a rotation vector, and where the bed's origin lies, mm
    off             how far the marks lay beside where it has them, mm, in the mean
    """

    width: Annotated[int, Field(ge=16, le=20_000)]
    height: Annotated[int, Field(ge=16, le=20_000)]
    focal: Annotated[float, Field(gt=0, le=1e6)]
    middle: tuple[Number, Number]
    bends: tuple[Number, Number, Number, Number]
    turn: tuple[Number, Number, Number]
    place: tuple[Number, Number, Number]
    off: Annotated[float, Field(ge=0, le=1e3)] = 0.0

    @model_validator(mode="after")
    def _over_the_bed(self) -> Self:
        if not self.eye[2] > LOWEST:
            raise ValueError("the camera of a lens is over the bed and looks down on it")
        return self

    def seen(self, points: Floats, height: float = 0.0) -> Floats:
        """Where points (n, 2) of the bed, mm, and so high over it are in the picture, in dots."""
        there = np.column_stack([points, np.full(len(points), height)])
        dots = cv2.projectPoints(there, *self._pose, self._matrix, np.array(self.bends))[0]
        return np.asarray(dots, np.float64)[:, 0]

    def lying(self, dots: Floats, height: float = 0.0) -> Floats:
        """Which points of the bed, or of a plane so high over it, dots (n, 2) of the picture are, mm."""
        plain = np.asarray(cv2.undistortPoints(dots[:, None], self._matrix, np.array(self.bends), criteria=_UNTIL))[
            :, 0
        ]
        rays = np.column_stack([plain, np.ones(len(plain))]) @ self._rotation
        eye = self.eye
        return np.asarray(eye[:2] + rays[:, :2] * ((height - eye[2]) / rays[:, 2])[:, None])

    @property
    def eye(self) -> Floats:
        """Where the camera is over the bed: x, y, z in mm."""
        return np.asarray(-self._rotation.T @ np.array(self.place))

    @property
    def _matrix(self) -> Floats:
        x, y = self.middle
        return np.array([[self.focal, 0, x], [0, self.focal, y], [0, 0, 1]])

    @property
    def _pose(self) -> tuple[Floats, Floats]:
        return np.array(self.turn), np.array(self.place)

    @property
    def _rotation(self) -> Floats:
        return np.asarray(cv2.Rodrigues(np.array(self.turn))[0])


def fit_lens(points: Floats, dots: Floats, size: tuple[int, int]) -> Lens:
    """The lens that sees points (n, 2) of the bed, mm, at dots (n, 2) of a picture of that size. What a few of them say
    against all others is not believed. Raises `Refused` where they do not tell it.
    """
    for _ in range(3):
        if len(points) < LEAST_MARKS or _are_in_line(points):
            raise Refused("Too few marks are seen to know the lens: see that they lie flat and all in the picture.")
        lens = _fitted(points, dots, size)
        far = np.hypot(*(lens.lying(dots) - points).T)
        good = far <= max(4 * float(np.median(far)), 0.05)
        if good.all():
            break
        points, dots = points[good], dots[good]
    if not lens.off < WORST:
        raise Refused(
            f"The marks lie up to {far.max():.1f} mm beside where they should: lay their sheet where it was burnt, "
            "flat, and look again."
        )
    return lens


def _fitted(points: Floats, dots: Floats, size: tuple[int, int]) -> Lens:
    """The likelier of two lenses: one whose axis meets its picture in the middle, and one that bends alike all round
    its axis, wherever that is. All that both leave open together no flat bed could tell.
    """
    plain = _fit(points, dots, size, cv2.CALIB_FIX_PRINCIPAL_POINT)
    free = _fit(points, dots, size, cv2.CALIB_ZERO_TANGENT_DIST)
    return free if free.off < _BETTER * plain.off else plain


def _fit(points: Floats, dots: Floats, size: tuple[int, int], flags: int) -> Lens:
    width, height = size
    begin = np.array([[_OPENING * width, 0, width / 2], [0, _OPENING * width, height / 2], [0, 0, 1.0]])
    flags |= cv2.CALIB_USE_INTRINSIC_GUESS | cv2.CALIB_FIX_ASPECT_RATIO | cv2.CALIB_FIX_K3
    there = np.column_stack([points, np.zeros(len(points))]).astype(np.float32)
    try:
        _, matrix, bends, turns, places = cv2.calibrateCamera(
            [there], [dots[:, None].astype(np.float32)], size, begin, np.zeros(5), flags=flags
        )
    except cv2.error:
        raise Refused("The marks that are seen do not lie on a flat bed: look again.") from None
    lens = Lens(
        width=width,
        height=height,
        focal=float(matrix[0, 0]),
        middle=(float(matrix[0, 2]), float(matrix[1, 2])),
        bends=tuple(map(float, np.ravel(bends)[:4])),
        turn=tuple(map(float, np.ravel(turns[0]))),
        place=tuple(map(float, np.ravel(places[0]))),
    )
    off = float(np.hypot(*(lens.lying(dots) - points).T).mean())
    return lens.model_copy(update={"off": min(round(off, 4), 1e3)})


def _are_in_line(points: Floats) -> bool:
    """Whether points lie on a line, or nearly."""
    spread = np.linalg.svd(points - points.mean(axis=0), compute_uv=False)
    return bool(spread[1] < 0.1 * spread[0])
