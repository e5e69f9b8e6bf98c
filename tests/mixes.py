"""Mixes of outlines in ten styles that overlays find hard, each made from a seed alone."""

import math
from collections.abc import Callable
from functools import cache
from random import Random

from foliant.core.lettering import FONTS, Style, set_words
from foliant.core.paths import Path, PathPen, similarity
from foliant.core.paths.shapes import Corners, circle, outline_of, rectangle, regular_polygon, ring, sector, slot, star

Mix = tuple[list[Path], list[Path]]
"""What adds, and what cuts away."""

_INCH = 25.4
_CORNERS: tuple[Corners, ...] = ("square", "square", "rounded", "cut", "scooped")


def _shape(random: Random, size: float = 30.0) -> Path:
    """One of the base shapes, about the origin."""
    wide, tall = random.uniform(0.2, 1) * size, random.uniform(0.2, 1) * size
    corners = random.choice(_CORNERS)
    return random.choice(
        (
            lambda: rectangle(wide, tall, corners, min(wide, tall) * random.uniform(0.1, 0.5)),
            lambda: circle(wide),
            lambda: ring(wide, wide * random.uniform(0.05, 0.3)),
            lambda: regular_polygon(random.randint(3, 9), wide),
            lambda: star(random.randint(4, 8), wide, wide * random.uniform(0.3, 0.7)),
            lambda: sector(wide, random.uniform(20, 320), random.choice((0.0, wide / 3))),
            lambda: slot(wide, tall),
            lambda: smooth_loop(random, 4, wide / 2),
        )
    )()


def smooth_loop(random: Random, nodes: int, size: float) -> Path:
    """A closed smooth line through nodes that may lie anywhere, so that it often crosses itself."""
    at = [(random.uniform(-size, size), random.uniform(-size, size)) for _ in range(nodes)]
    handles = [(random.uniform(-size, size), random.uniform(-size, size)) for _ in range(nodes)]
    pen = PathPen()
    pen.moveTo(at[0])
    for i in range(nodes):
        end, leaving, arriving = at[(i + 1) % nodes], handles[i], handles[(i + 1) % nodes]
        pen.curveTo((at[i][0] + leaving[0], at[i][1] + leaving[1]), (end[0] - arriving[0], end[1] - arriving[1]), end)
    pen.closePath()
    return pen.path()


def _turned(random: Random, path: Path, by: float) -> Path:
    return path.transformed(similarity(by)).moved(random.uniform(-10, 10), random.uniform(-10, 10))


def _split(random: Random, paths: list[Path]) -> Mix:
    """The first adds; of the others some cut."""
    cuts = [path for path in paths[1:] if random.random() < 0.35]
    return [path for path in paths if not any(path is cut for cut in cuts)], cuts


def near_edges(random: Random) -> Mix:
    """Copies a few tenths of a micrometre apart, sizes typed anew to three decimals, fractions of an inch."""
    first = _shape(random).moved(random.choice((0.0, 36.0, 1.375 * _INCH, random.uniform(-40, 40))), 15.0)
    found = [first]
    for _ in range(random.randint(1, 4)):
        step = random.choice((0.0001, 0.0002, 0.0003, 0.0005, _INCH / 64, _INCH / 3, 5.0))
        found.append(first.moved(random.choice((0, step, -step)), random.choice((0, step, -step))))
    if random.random() < 0.5:
        left, top, right, bottom = first.bounds
        again = rectangle(round(right - left, 3), round(bottom - top, 3))
        found.append(again.moved(round((left + right) / 2, 3), round((top + bottom) / 2, 3)))
    return _split(random, found)


def copies(random: Random) -> Mix:
    """One shape many times: in rows that touch, around a centre, mirrored."""
    first, way = _shape(random, 20), random.choice("rams")
    left, top, right, bottom = first.bounds
    if way == "r":
        wide = right - left + random.choice((0, 0.0001, -0.0002, 0.01))
        found = [first.moved(wide * i, (bottom - top) * j) for i in range(random.randint(2, 6)) for j in range(2)]
    elif way == "a":
        count = random.randint(3, 24)
        found = [first.moved(random.choice((0, 8)), 0).transformed(similarity(360 / count * i)) for i in range(count)]
    elif way == "m":
        mirror = (-1.0, 0.0, 0.0, 1.0, 2 * right, 0.0)
        found = [first, first.transformed(mirror), first.transformed((1, 0, 0, -1, 0, 2 * top))]
    else:
        found = [first] * random.randint(2, 4)
    return _split(random, found)


def tangent_circles(random: Random) -> Mix:
    """Circles that touch each other, lines and corners."""
    radius = random.choice((2.0, 5.0, _INCH / 4, random.uniform(0.5, 20)))
    found = [circle(2 * radius)]
    for _ in range(random.randint(1, 5)):
        other, turn = random.choice((radius, radius / 2, random.uniform(0.3, 10))), math.radians(random.randint(0, 359))
        away = random.choice((radius + other, abs(radius - other)))
        found.append(circle(2 * other).moved(away * math.cos(turn), away * math.sin(turn)))
    if random.random() < 0.5:
        found.append(rectangle(3 * radius, radius).moved(0, -1.5 * radius))
    return _split(random, found)


def shared_arcs(random: Random) -> Mix:
    """Slices, rings and rounds of one circle, turned and mirrored."""
    size = random.choice((20.0, 1.5 * _INCH, 47.3))
    found = [random.choice((circle(size), ring(size, size / 6), sector(size, random.uniform(40, 300))))]
    for _ in range(random.randint(1, 4)):
        part = random.choice(
            (
                sector(size, random.uniform(20, 340), random.choice((0.0, size / 2))),
                ring(size, random.choice((size / 6, size / 5))),
                rectangle(size, size, "rounded", size / 2),
                slot(size, size / 2),
            )
        )
        found.append(part.transformed(similarity(random.choice((0, 15, 90, random.uniform(0, 360))))))
    return _split(random, found)


def tiny_turns(random: Random) -> Mix:
    """Shapes over each other, turned by next to nothing."""
    first = _shape(random, 40)
    found = [first]
    for _ in range(random.randint(1, 4)):
        turn = random.choice((1e-4, 1e-3, 0.01, 0.1, 1.0)) * random.choice((1, -1))
        found.append(first.transformed(similarity(turn)).moved(random.choice((0, 0, 1e-3, 0.02)), 0))
    return _split(random, found)


def slivers(random: Random) -> Mix:
    """Long thin triangles and strips across a shape, and gaps as thin."""
    found = [_shape(random, 40)]
    for _ in range(random.randint(1, 5)):
        long, thin = random.uniform(10, 60), random.choice((0.001, 0.004, 0.01, 0.03, 0.1))
        strip = random.choice((rectangle(long, thin), outline_of([(0, 0), (long, 0), (long, thin)])))
        found.append(_turned(random, strip, random.choice((0, 90, random.uniform(0, 360)))))
    return _split(random, found)


def far_sizes(random: Random) -> Mix:
    """5 m beside 0.05 mm."""
    big = random.choice((rectangle(5000, 3000), circle(4000), ring(5000, 200), sector(5000, 120)))
    left, top, right, bottom = big.bounds
    found = [big]
    for _ in range(random.randint(1, 6)):
        small = _shape(random, random.choice((0.05, 0.2, 1.0, 10.0)))
        x = random.choice((left, right, 0.0, random.uniform(left, right)))
        found.append(small.moved(x, random.choice((top, bottom, random.uniform(top, bottom)))))
    return _split(random, found)


def self_crossing(random: Random) -> Mix:
    """Closed lines that cross themselves: smooth ones, bow ties, stars drawn in one go."""
    found = []
    for _ in range(random.randint(1, 3)):
        size = random.uniform(2, 20)
        corners = random.choice((5, 7, 9))
        star_line = [
            (size * math.cos(2 * math.pi * 2 * i / corners), size * math.sin(2 * math.pi * 2 * i / corners))
            for i in range(corners)
        ]
        path = random.choice(
            (
                smooth_loop(random, random.randint(2, 4), size),
                smooth_loop(random, random.randint(2, 4), size),
                outline_of([(0, 0), (size, size), (size, 0), (0, size)]),
                outline_of(star_line),
                outline_of([(random.uniform(-size, size), random.uniform(-size, size)) for _ in range(6)]),
            )
        )
        found.append(path.moved(random.uniform(-5, 5), random.uniform(-5, 5)))
    if random.random() < 0.4:
        found.append(_shape(random))
    return _split(random, found)


@cache
def _letters(font: str) -> tuple[Path, ...]:
    return set_words("AgROB&8esfax", Style(font, size=12.0)).paths


def mirrored_glyphs(random: Random) -> Mix:
    """Letters of twenty fonts over their mirror images and each other."""
    fonts = [font.key for font in FONTS if not font.single_line][:: max(1, len(FONTS) // 22)][:20]
    letters = random.sample(_letters(random.choice(fonts)), random.randint(1, 4))
    left, top, right, bottom = letters[0].bounds
    line = random.choice((left, right, (left + right) / 2, right - random.uniform(0, 3)))
    mirror = random.choice(((-1.0, 0.0, 0.0, 1.0, 2 * line, 0.0), (1.0, 0.0, 0.0, -1.0, 0.0, top + bottom)))
    found = [*letters, *(letter.transformed(mirror) for letter in letters)]
    if random.random() < 0.4:
        found.append(rectangle(right - left, 2).moved((left + right) / 2, random.choice((top, bottom, 0.0))))
    return _split(random, found)


def holes_on_edges(random: Random) -> Mix:
    """Holes whose edge or middle lies on the plate's edge, on a corner, or on another hole."""
    wide, tall = random.choice((72.0, 3 * _INCH, 50.8)), random.choice((30.0, _INCH, 31.75))
    plate = rectangle(wide, tall, random.choice(_CORNERS), random.choice((3.0, 6.0)))
    cuts = []
    for _ in range(random.randint(1, 6)):
        size = random.choice((3.0, 4.0, 0.25 * _INCH, tall))
        x = random.choice((wide / 2, wide / 2 - size / 2, wide / 2 - size, 0.0, wide / 2 - 3, wide / 2 + 0.0002))
        y = random.choice((tall / 2, tall / 2 - size / 2, 0.0, tall / 2 - 3, -tall / 2 + size))
        cuts.append(random.choice((circle(size), slot(size, 2 * size), rectangle(size, size))).moved(x, y))
    return [plate, *([plate] if random.random() < 0.2 else [])], cuts


STYLES: tuple[Callable[[Random], Mix], ...] = (
    near_edges,
    copies,
    tangent_circles,
    shared_arcs,
    tiny_turns,
    slivers,
    far_sizes,
    self_crossing,
    mirrored_glyphs,
    holes_on_edges,
)


def mix(style: Callable[[Random], Mix], seed: int) -> Mix:
    """The mix of that seed."""
    return style(Random(f"{style.__name__} {seed}"))
