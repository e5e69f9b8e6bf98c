"""Guessing: settings to begin a test with, from the recipe that is the most like what is asked for."""

import math

from foliant.core.equipment.recipes import GUESSED, Recipe
from foliant.core.equipment.shop import Shop
from foliant.core.works import find_work

FARTHEST = 3.0
"""A thickness so many times another, or such a part of it, is too different to guess from."""

_FROM: dict[str, tuple[str, float]] = {"perforate": ("cut", 1.0), "kiss": ("cut", 0.5), "picture": ("engrave", 1.0)}
"""Works that are guessed from another where they have no recipe: which, and with what share of its power."""

_SLOWEST = 2.0
"""Rather than to go slower than that, mm/s, it is gone over once more."""


def guess(shop: Shop, machine: str, material: str, thickness: float, work: str) -> Recipe | None:
    """A recipe for a work that none of the shop's is for, guessed from one for another thickness of the material, or
    for a work that is much alike; it says so as its origin. None where there is nothing to guess from.
    """
    for like, share in ((work, 1.0), *([_FROM[work]] if work in _FROM else [])):
        fitting = [one for one in shop.recipes_for(machine, material) if one.work == like]
        near = min(fitting, key=lambda one: abs(math.log(one.thickness / thickness)), default=None)
        if near and 1 / FARTHEST <= thickness / near.thickness <= FARTHEST:
            return _adapted(near, thickness, work, share)
    return None


def _adapted(near: Recipe, thickness: float, work: str, share: float) -> Recipe:
    values = dict(near.values)
    if find_work(near.work).through or near.work == "drill":
        values |= _deeper(values, thickness / near.thickness)
    values["power"] = max(1.0, round(float(values["power"]) * share, 1))
    known = find_work(work).settings.model_fields
    kept = {name: value for name, value in values.items() if name in known}
    doing = "" if near.work == work else {"cut": "cutting ", "engrave": "engraving "}[near.work]
    what = f"{doing}{near.thickness:g} mm"
    return Recipe(
        key="guess", machine=near.machine, material=near.material, thickness=thickness, work=work,
        values=tuple(sorted(kept.items())), origin=f"{GUESSED} {what}",
    )  # fmt: skip


def _deeper(values: dict[str, float | str], times: float) -> dict[str, float | str]:
    """What goes so many times as deep: slower, or longer, or oftener where that would be too slow."""
    if "dwell" in values and "speed" not in values:
        return {"dwell": round(float(values["dwell"]) * times, 2)}
    speed, passes = float(values["speed"]) / times, float(values.get("passes", 1))
    while speed < _SLOWEST and passes < 20:
        speed, passes = speed * (passes + 1) / passes, passes + 1
    return {"speed": float(f"{speed:.2g}"), "passes": passes}
