"""Finding recipes by words: a material, a machine, what is done, a thickness, in any order."""

import re

from foliant.core.equipment.recipes import Recipe
from foliant.core.equipment.shop import Shop
from foliant.core.works import find_work

_NUMBER = re.compile(r"[0-9]+([.,][0-9]+)?(mm)?")
_ALIKE = 0.051


def found_recipes(shop: Shop, words: str, most: int = 40) -> list[Recipe]:
    """The recipes that every one of the words fits, thin before thick; none where nothing is asked for."""
    asked = words.lower().replace(" mm", "mm").split()
    if not asked:
        return []
    found = [recipe for recipe in shop.recipes if all(_fits(shop, recipe, word) for word in asked)]
    return sorted(found, key=lambda one: (one.material, one.thickness, one.machine, one.work))[:most]


def _fits(shop: Shop, recipe: Recipe, word: str) -> bool:
    if _NUMBER.fullmatch(word):
        return abs(float(word.removesuffix("mm").replace(",", ".")) - recipe.thickness) <= _ALIKE
    work = find_work(recipe.work)
    names = (
        shop.material(recipe.material).name,
        shop.machine(recipe.machine).name,
        work.verb,
        work.title,
        recipe.origin,
    )
    return any(word in name.lower() for name in names)
