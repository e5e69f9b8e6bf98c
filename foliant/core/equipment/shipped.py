"""The shop that ships: three machines, six materials, and recipes to start from.

Recipes are starting points. Machines of one kind differ, lenses are dirty, batches vary: test on a scrap.
"""

from collections.abc import Iterator
from typing import Any

from foliant.core.equipment.machines import MachineProfile
from foliant.core.equipment.materials import Material
from foliant.core.equipment.recipes import Recipe
from foliant.core.equipment.shop import Shop
from foliant.core.equipment.stock import ShelfSheet

_MATERIALS = (
    # key, name, thicknesses and thinnest web (mm), face, mark, edge, grain
    ("birch-ply", "birch ply", (3.0, 4.0), 1.2, "#e6cb98", "#4a2c1a", "#9a7647", "wood"),
    ("slate-acrylic", "slate acrylic", (3.0,), 1.5, "#5d7b7f", "#dfe9e8", "#38494d", "plain"),
    ("tan-leather", "veg-tan leather", (2.0,), 1.5, "#c98f5d", "#54301a", "#8a5a33", "fibre"),
    ("ivory-card", "ivory card", (0.4,), 0.8, "#f4ecd8", "#8d7b5f", "#b7a88a", "plain"),
    ("cork-sheet", "cork sheet", (2.0,), 1.2, "#c8a06c", "#5b3d22", "#8f6b40", "fibre"),
    ("grey-felt", "grey wool felt", (3.0,), 2.5, "#a9a8a4", "#55534f", "#76746f", "fibre"),
)
_MACHINES = (
    # key, name, kind, about, bed (mm), top and travel speed (mm/s), acceleration (mm/s²), corner speed, then in mm the
    # kerf, and how far a blade trails and goes on
    ("bench-laser", "Bench laser", "laser", "diode", 400, 400, 250, 200, 1200, 6, 0.12),
    ("cabin-laser", "Cabin laser", "laser", "CO2 tube", 600, 400, 500, 400, 3000, 10, 0.18),
    ("desk-cutter", "Desk cutter", "blade", "drag blade", 300, 600, 300, 300, 2000, 8, 0.05, 0.25, 0.4),
)
_RECIPES: tuple[tuple[str, str, float, *tuple[tuple[float, float, int] | None, ...]], ...] = (
    # machine, material, mm, then (power, speed, passes) to engrave, to score and to cut; None where it cannot.
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
_SHELF = (
    # material, width, height, thickness (mm), price, how many
    ("birch-ply", 300, 200, 3.0, 3.20, 12),
    ("birch-ply", 600, 400, 4.0, 9.80, 3),
    ("slate-acrylic", 300, 200, 3.0, 6.50, 6),
    ("tan-leather", 300, 200, 2.0, 11.00, 4),
    ("ivory-card", 297, 210, 0.4, 0.35, 50),
    ("cork-sheet", 300, 200, 2.0, 1.90, 8),
    ("grey-felt", 300, 200, 3.0, 2.40, 5),
)


def _recipes() -> Iterator[Recipe]:
    for machine, material, thickness, *settings in _RECIPES:
        found = dict(zip(("engrave", "score", "cut"), settings, strict=True))
        for work, numbers in found.items():
            if numbers:
                values = dict(zip(("power", "speed", "passes"), numbers, strict=True))
                yield _recipe(machine, material, thickness, work, values)
                if work == "engrave":
                    yield _recipe(machine, material, thickness, "picture", values)
        if machine != "desk-cutter" and (cut := found["cut"]):
            # Spots are burnt with the power of a cut, the longer the thicker the material.
            dwell = round(0.1 + 0.15 * thickness, 2)
            yield _recipe(machine, material, thickness, "drill", {"power": cut[0], "dwell": dwell, "passes": 1})


def _recipe(machine: str, material: str, thickness: float, work: str, values: dict[str, float]) -> Recipe:
    short = f"{machine[:5]}-{material[:12]}-{thickness:g}-{work}".replace(".", "")
    return Recipe(
        key=short, machine=machine, material=material, thickness=thickness, work=work, values=values, origin="shipped"
    )


_MORE: dict[str, dict[str, Any]] = {
    "bench-laser": {"watts": 10.0},
    "cabin-laser": {"watts": 45.0, "rise": 12.0},
    "desk-cutter": {"language": "hpgl"},
}


def _machine(*row: str | float) -> MachineProfile:
    known = dict(zip(MachineProfile.model_fields, row, strict=False))
    return MachineProfile(**known, **_MORE.get(str(row[0]), {}))


SHIPPED = Shop(
    materials=tuple(Material(**dict(zip(Material.model_fields, row, strict=True))) for row in _MATERIALS),
    machines=tuple(_machine(*row) for row in _MACHINES),
    recipes=tuple(_recipes()),
    shelf=tuple(
        ShelfSheet(
            key=f"{material[:30]}-{thickness:g}".replace(".", "-"),
            material=material,
            width=width,
            height=height,
            thickness=thickness,
            price=price,
            count=count,
        )
        for material, width, height, thickness, price, count in _SHELF
    ),
)
