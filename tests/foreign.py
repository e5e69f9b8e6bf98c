"""Drawings as nobody would draw them: SVG of any shapes, looks and transforms, from a seed."""

from random import Random

from tests.drawings import svg

_FILLS = ("none", "none", "#000", "red")
_STROKES = ("none", "blue", "red", "#000")
_MOVES = (
    "scale(-1 1)",
    "rotate(37)",
    "skewX(60)",
    "scale(1 .001)",
    "matrix(1 2 3 4 5 6)",
    "translate(1e3)",
)
_WORDS = ("", "a", "Ysolde", "  ", "😀")


def any_svg(seed: int) -> bytes:
    """An SVG file of a few things, some of them clipped, in groups, written, dashed or without any extent."""
    dice = Random(seed)
    things = "".join(_thing(dice, 0) for _ in range(dice.randint(1, 6)))
    return svg(f'<clipPath id="c"><path d="{_path(dice)}"/></clipPath>{things}')


def _number(dice: Random) -> float:
    return dice.choice([0, 0, 5, 10, 20, dice.randint(0, 90), round(dice.random() * 100, 3)])


def _point(dice: Random) -> str:
    return f"{_number(dice)} {_number(dice)}"


def _path(dice: Random) -> str:
    data = ""
    for _ in range(dice.randint(1, 3)):
        data += f"M{_point(dice)}"
        for _ in range(dice.randint(0, 6)):
            radii = f"{dice.choice([0, 1, 5, 20, 50])} {dice.choice([1, 5, 20])} {dice.choice([0, 30])}"
            data += dice.choice(
                [
                    f"L{_point(dice)}",
                    f"C{_point(dice)} {_point(dice)} {_point(dice)}",
                    f"A{radii} {dice.randint(0, 1)} {dice.randint(0, 1)} {_point(dice)}",
                    f"Q{_point(dice)} {_point(dice)}",
                    f"H{_number(dice)}",
                ]
            )
        data += dice.choice(["", "Z"])
    return data


def _look(dice: Random) -> str:
    look = f'fill="{dice.choice(_FILLS)}" fill-rule="{dice.choice(["evenodd", "nonzero"])}" '
    look += f'stroke="{dice.choice(_STROKES)}" stroke-width="{dice.choice([0, 0.1, 1, 4, 30])}" '
    look += f'stroke-linecap="{dice.choice(["butt", "round", "square"])}" '
    look += f'stroke-linejoin="{dice.choice(["miter", "round", "bevel"])}" '
    if dice.random() < 0.2:
        look += f'stroke-dasharray="{dice.choice(["3", "2 1", "0 4", "0", "1 2 3"])}" '
    if dice.random() < 0.2:
        look += f'transform="{dice.choice(_MOVES)}" '
    return look + ('clip-path="url(#c)"' if dice.random() < 0.1 else "")


def _thing(dice: Random, depth: int) -> str:
    size = f'x="{_number(dice)}" y="{_number(dice)}" width="{_number(dice)}" height="{_number(dice)}"'
    look = _look(dice)
    plain = [
        *[f'<path d="{_path(dice)}" {look}/>'] * 4,
        f'<rect {size} rx="{_number(dice)}" {look}/>',
        f'<ellipse cx="{_number(dice)}" cy="{_number(dice)}" rx="{_number(dice)}" ry="{_number(dice)}" {look}/>',
        f'<polyline points="{_point(dice)} {_point(dice)} {_point(dice)}" {look}/>',
        f'<text x="{_number(dice)}" font-size="{dice.choice([0, 1, 8, 400])}">{dice.choice(_WORDS)}</text>',
    ]
    if depth < 3 and dice.random() < 0.15:
        inside = "".join(_thing(dice, depth + 1) for _ in range(dice.randint(0, 4)))
        return f'<g id="{dice.choice(["", "cut", "guide", "a b"])}">{inside}</g>'
    return dice.choice(plain)
