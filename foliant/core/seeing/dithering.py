"""Dithering: greys told by how many of the dots of a grid are burnt."""

from collections.abc import Callable
from functools import cache

import numpy as np
from numpy.typing import NDArray
from PIL import Image

Darkness = NDArray[np.uint8]
"""(rows, columns), 0 where nothing is burnt to 255"""

_STEPS = 64
"""How many powers there are from nothing to all: more could not be told from each other."""

_CELL = 16


def grey(darkness: Darkness) -> Darkness:
    """As it is, in steps, so that what is nearly the same is burnt in one go."""
    step = 255 / (_STEPS - 1)
    return np.asarray(np.round(np.round(darkness / step) * step), np.uint8)


def scattered(darkness: Darkness) -> Darkness:
    """What a dot has too much or too little is made up for by those after it (Floyd and Steinberg)."""
    dotted = Image.fromarray(255 - darkness).convert("1", dither=Image.Dither.FLOYDSTEINBERG)
    return np.where(np.asarray(dotted), 0, 255).astype(np.uint8)


def grid(darkness: Darkness) -> Darkness:
    """Dots spread as evenly as can be (Bayer)."""
    return _screened(darkness, _even_order())


def spots(darkness: Darkness) -> Darkness:
    """Round spots on a slant that grow with the darkness, as in print."""
    return _screened(darkness, _spot_order())


def plain(darkness: Darkness) -> Darkness:
    """Burnt or not, nothing between."""
    return np.where(darkness >= 128, 255, 0).astype(np.uint8)


def _screened(darkness: Darkness, order: NDArray[np.int64]) -> Darkness:
    """Burnt where it is darker than a tile of limits, which are spread evenly from nothing to all."""
    high, wide = darkness.shape
    limits = (order + 0.5) * (255 / order.size)
    tiled = np.tile(limits, (high // len(order) + 1, wide // len(order) + 1))[:high, :wide]
    return np.where(darkness > tiled, 255, 0).astype(np.uint8)


@cache
def _even_order() -> NDArray[np.int64]:
    """The order in which the dots of a cell come, each as far as can be from those before it."""
    order = np.zeros((1, 1), np.int64)
    while len(order) < _CELL:
        order = np.block([[4 * order, 4 * order + 2], [4 * order + 3, 4 * order + 1]])
    return order


@cache
def _spot_order() -> NDArray[np.int64]:
    """The same, those nearest to the middles of its spots first."""
    across, down = np.meshgrid(np.arange(_CELL) + 0.5, np.arange(_CELL) + 0.5)
    hills = np.cos(np.pi * (across + down) / 4) + np.cos(np.pi * (across - down) / 4)
    # Equal heights are told apart by a hair, so that the limits stay even.
    hair = _even_order() * 1e-9
    return np.argsort(np.argsort((hair - hills).ravel())).reshape(_CELL, _CELL)


DITHERS: dict[str, Callable[[Darkness], Darkness]] = {
    "grey": grey, "scattered": scattered, "grid": grid, "spots": spots, "plain": plain,
}  # fmt: skip
"""Every way to burn greys, by its key."""
