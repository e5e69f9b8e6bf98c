"""Recipes: settings for one work on one material, thickness and machine.

They are starting points. Machines of one kind differ, lenses are dirty, batches vary: test on a scrap.
"""

from dataclasses import dataclass

from foliant.core.quantities import build
from foliant.core.works import Settings, find_work
from foliant.core.works.drill import DrillSettings


@dataclass(frozen=True)
class Recipe:
    """Settings with what they are for; thickness in mm."""

    machine: str
    material: str
    thickness: float
    work: str
    settings: Settings

    @property
    def name(self) -> str:
        """What the ticket calls it."""
        return f"{find_work(self.work).verb.capitalize()} recipe"


def _settings(work: str, power: float, speed: float, passes: int) -> Settings:
    return build(find_work(work).settings, {"power": power, "speed": speed, "passes": passes})


def _recipes() -> tuple[Recipe, ...]:
    # machine, material, mm, then (power, speed, passes) to engrave, to score and to cut; None where it cannot.
    rows: tuple[tuple[str, str, float, *tuple[tuple[float, float, int] | None, ...]], ...] = (
        ("bench-laser", "birch-ply", 3.0, (32, 90, 1), (18, 40, 1), (85, 6, 2)),
        ("bench-laser", "birch-ply", 4.0, (32, 90, 1), (18, 40, 1), (90, 5, 3)),
        ("bench-laser", "slate-acrylic", 3.0, (35, 80, 1), (25, 40, 1), (90, 4, 3)),
        ("bench-laser", "tan-leather", 2.0, (22, 90, 1), (18, 40, 1), (85, 6, 2)),
        ("bench-laser", "ivory-card", 0.4, (12, 120, 1), (8, 50, 1), (40, 25, 1)),
        ("bench-laser", "cork-sheet", 2.0, (20, 100, 1), (15, 50, 1), (70, 10, 1)),
        ("bench-laser", "grey-felt", 3.0, (15, 110, 1), (10, 60, 1), (60, 12, 1)),
        ("cabin-laser", "birch-ply", 3.0, (22, 300, 1), (14, 120, 1), (65, 18, 1)),
        ("cabin-laser", "birch-ply", 4.0, (22, 300, 1), (14, 120, 1), (75, 14, 1)),
        ("cabin-laser", "slate-acrylic", 3.0, (18, 300, 1), (12, 100, 1), (70, 12, 1)),
        ("cabin-laser", "tan-leather", 2.0, (15, 300, 1), (12, 120, 1), (45, 20, 1)),
        ("cabin-laser", "ivory-card", 0.4, (9, 350, 1), (8, 150, 1), (18, 60, 1)),
        ("cabin-laser", "cork-sheet", 2.0, (14, 320, 1), (10, 120, 1), (35, 35, 1)),
        ("cabin-laser", "grey-felt", 3.0, (10, 350, 1), (9, 120, 1), (25, 40, 1)),
        ("desk-cutter", "tan-leather", 2.0, None, (25, 40, 1), (95, 20, 3)),
        ("desk-cutter", "ivory-card", 0.4, None, (12, 120, 1), (35, 100, 1)),
        ("desk-cutter", "cork-sheet", 2.0, None, (20, 60, 1), (75, 30, 2)),
        ("desk-cutter", "grey-felt", 3.0, None, None, (80, 30, 3)),
    )
    works = ("engrave", "score", "cut")
    return tuple(
        Recipe(machine, material, thickness, work, _settings(work, *found))
        for machine, material, thickness, *settings in rows
        for work, found in zip(works, settings, strict=True)
        if found
    )


def _drilling(cuts: tuple[Recipe, ...]) -> tuple[Recipe, ...]:
    """Spots are burnt with the power of a cut, the longer the thicker the material."""
    lasers = (recipe for recipe in cuts if recipe.work == "cut" and recipe.machine != "desk-cutter")
    return tuple(
        Recipe(cut.machine, cut.material, cut.thickness, "drill", DrillSettings(power=cut.settings.power, dwell=dwell))
        for cut in lasers
        for dwell in [round(0.1 + 0.15 * cut.thickness, 2)]
    )


RECIPES = (*_recipes(), *_drilling(_recipes()))

NEAR = 0.15
"""How far, in mm, a stock's thickness may lie from a recipe's."""


def find_recipe(machine: str, material: str, thickness: float, work: str) -> Recipe | None:
    """The recipe for a job, if the library has one for that thickness."""
    fitting = [
        recipe
        for recipe in RECIPES
        if (recipe.machine, recipe.material, recipe.work) == (machine, material, work)
        and abs(recipe.thickness - thickness) <= NEAR
    ]
    return min(fitting, key=lambda recipe: abs(recipe.thickness - thickness), default=None)
