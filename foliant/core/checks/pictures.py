"""Whether pictures come out as they are meant."""

from collections.abc import Iterator

import numpy as np

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, Fix
from foliant.core.design import Part, resolve
from foliant.core.design.edits.change import Change
from foliant.core.design.placing import part_bounds, shape_bounds
from foliant.core.seeing import Look, Pictured, dots_of, find_picture
from foliant.core.units import format_length

_COARSE = 0.5
"""Pixels larger than that, mm, are seen one by one."""

_LOOKED_AT, _ACROSS = 0.5, 400
"""A picture is looked at in dots so large, mm, and at most so many each way."""

_PALE = 0.02
"""Where less than that is burnt of a picture, there is nothing to be seen of it."""


def pictures_show_something(bench: Bench) -> Iterator[Finding]:
    """A picture that is all light burns nothing, and one of few pixels shows them."""
    told = set()
    for index, pictured in resolve(bench.piece).pictures:
        part = bench.piece.made[index]
        picture = find_picture(pictured.look.picture)
        if picture is None or part.id in told:
            continue
        told.add(part.id)
        if _share(pictured) < _PALE:
            yield _pale(bench, part, pictured.look)
        pixel = pictured.look.width / picture.size[0]
        if pixel > _COARSE:
            yield _coarse(bench, part, pixel, picture.size[0])


def _share(pictured: Pictured) -> float:
    """How much of a picture is burnt."""
    left, top, right, bottom = pictured.region.path.bounds
    dots = dots_of(pictured, max(_LOOKED_AT, (right - left) / _ACROSS, (bottom - top) / _ACROSS), "grey")
    covered = pictured.region.shape.area / dots.spacing**2
    return float(np.sum(dots.darkness, dtype=np.int64)) / 255 / max(float(covered), 1.0)


def _pale(bench: Bench, part: Part, look: Look) -> Finding:
    name = part.shape.label()[:40]
    turn = Change(do="change", of=f"part {part.id}", values={"inverted": "no" if look.tones.inverted else "yes"})
    return Finding(
        "pictures_show_something",
        "look",
        f"{name}: next to nothing is burnt",
        f"{name} on {bench.piece.name} is so light that next to nothing of it is burnt: make it darker, or turn dark "
        "for light.",
        "shape",
        bench.piece.id,
        part_bounds(part),
        fixes=(Fix("Dark for light", turn),),
    )


def _coarse(bench: Bench, part: Part, pixel: float, columns: int) -> Finding:
    name = part.shape.label()[:40]
    left, _, right, _ = shape_bounds(part.form)
    fine = round((right - left) * 0.99 * _COARSE / pixel, 1)
    smaller = Change(do="change", of=f"part {part.id}", values={"width": fine})
    return Finding(
        "pictures_show_something",
        "look",
        f"{name} shows its pixels",
        f"{name} on {bench.piece.name} is {columns:,} pixels wide, so that each is {format_length(pixel, bench.unit)} "
        "large and would be seen: bring a finer picture, or make it smaller.",
        "shape",
        bench.piece.id,
        part_bounds(part),
        fixes=(Fix(f"Make it {format_length(fine, bench.unit)} wide", smaller),),
    )
