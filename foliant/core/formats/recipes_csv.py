"""Recipes as CSV: a line each, a column for every setting that any of them has."""

import csv
import io
from typing import Any

from foliant.core.equipment import Shop
from foliant.core.equipment.edits import TakeRecipes
from foliant.core.equipment.recipes import Recipe
from foliant.core.errors import Refused
from foliant.core.formats.tables import read_table
from foliant.core.quantities import build, quantity_of
from foliant.core.works import WORKS

_FIRST = ("machine", "material", "thickness", "work", "origin")
_UNITS = {"length": "mm", "spacing": "mm", "percent": "%", "speed": "mm/s", "seconds": "s", "angle": "degrees"}
MOST_BYTES = 2_000_000


def write_recipes(shop: Shop) -> str:
    """Every recipe of a shop as CSV."""
    settings = list(dict.fromkeys(name for recipe in shop.recipes for name, _ in recipe.values))
    text = io.StringIO()
    rows = csv.writer(text)
    rows.writerow([*_FIRST, *(f"{name}{_unit(name)}" for name in settings)])
    for one in shop.recipes:
        values = dict(one.values)
        first = (one.machine, one.material, f"{one.thickness:g}", one.work, one.origin)
        rows.writerow([*first, *(_plain(values.get(name, "")) for name in settings)])
    return text.getvalue()


def read_recipes(content: bytes, shop: Shop) -> TakeRecipes:
    """The edit that takes the recipes of a CSV into a shop, in place of those for the same; raises `Refused` naming the
    line that cannot be read.
    """
    if len(content) > MOST_BYTES:
        raise Refused(f"A list of recipes has at most {MOST_BYTES / 1e6:g} MB.")
    table = read_table(content, headed=True)
    heading = [name.split(" (")[0].lower() for name in table.heading]
    if missing := [name for name in _FIRST[:4] if name not in heading]:
        raise Refused(f"A list of recipes names its columns first: {', '.join(missing)} is not among them.")
    taken: list[Recipe] = []
    for number, row in enumerate(table.rows, 2):
        cells = {name: cell.strip() for name, cell in zip(heading, row, strict=False)}
        try:
            recipe = _recipe(cells, shop)
            same = (recipe.machine, recipe.material, recipe.thickness, recipe.work)
            if any(other.is_for(*same) for other in taken):
                raise Refused("a line before it is for the same.")
            taken.append(recipe)
        except Refused as refusal:
            raise Refused(f"Line {number} cannot be taken: {refusal}") from None
    return TakeRecipes(do="take-recipes", recipes=tuple(taken))


def _recipe(cells: dict[str, str], shop: Shop) -> Recipe:
    machine, material, work = cells["machine"], cells["material"], cells["work"]
    if not shop.has_machine(machine):
        raise Refused(f"there is no machine “{machine[:40]}” in the workshop.")
    if not shop.has_material(material):
        raise Refused(f"there is no material “{material[:40]}” in the workshop.")
    if work not in WORKS:
        raise Refused(f"there is no work “{work[:40]}”; the works are {', '.join(WORKS)}.")
    kind = WORKS[work].settings
    values: dict[str, Any] = {}
    for name, cell in cells.items():
        if name in kind.model_fields and cell:
            values[name] = quantity_of(kind, name).read(cell, "mm")
    thickness = quantity_of(Recipe, "thickness").number(cells["thickness"], "mm")
    found = {"machine": machine, "material": material, "work": work, "thickness": thickness, "values": values}
    # The shop that takes it gives it a key of its own.
    return build(Recipe, {**found, "key": "read", "origin": cells.get("origin", "") or "read from a list"})


def _unit(name: str) -> str:
    for work in WORKS.values():
        if name in work.settings.model_fields:
            unit = _UNITS.get(quantity_of(work.settings, name).kind, "")
            return f" ({unit})" if unit else ""
    return ""


def _plain(value: float | str) -> str:
    return f"{value:g}" if isinstance(value, float) else str(value)
