"""A maker's shop as the Workshop page shows it."""

from collections.abc import Sequence
from typing import Any

import shapely

from foliant.core.equipment import Jig, Material, Recipe, ShelfSheet, Shop, gone
from foliant.core.equipment.finding import found_recipes
from foliant.core.equipment.machines import KINDS, MachineProfile
from foliant.core.packing.room import largest_rectangle
from foliant.core.phrases import Bit as Word
from foliant.core.quantities import quantity_of
from foliant.core.units import format_length
from foliant.core.works import WORKS
from foliant.core.works.cut import CutSettings
from foliant.core.works.drill import DrillSettings
from foliant.workshop.models import Workshop, shop_of
from foliant.workshop.presenters.slots import slot_data
from foliant.workshop.presenters.spec import Bit, by_height, material_choices, said, say, settings_said, text, value


def shop_state(owner: Any) -> dict[str, Any]:
    """The whole of it, and what undo and redo would do."""
    workshop = Workshop.objects.filter(owner=owner).first()
    undo, redo = (workshop.neighbour("undo"), workshop.neighbour("redo")) if workshop else (None, None)
    return {
        "revision": workshop.current if workshop else 0,
        "undo": workshop.revision().says if workshop and undo else None,
        "redo": redo.says if redo else None,
        **shop_view(shop_of(owner.pk)),
    }


def shop_view(shop: Shop) -> dict[str, Any]:
    """Every thing as a sentence of values, and what works on what."""
    return {
        "unit": shop.unit,
        "materials": [
            {
                "key": material.key,
                "name": material.name,
                "look": {"face": material.face, "mark": material.mark, "edge": material.edge},
                "says": _briefly(material, shop),
                "spec": _said(f"material {material.key}", material, shop),
                "paints": [_paint(material, field) for field in ("face", "mark", "edge")],
                "sheets": [_sheet(sheet, shop) for sheet in shop.shelf if sheet.material == material.key],
            }
            for material in shop.materials
        ],
        "machines": [
            {
                "key": machine.key,
                "name": machine.name,
                "says": _briefly_of(machine),
                "specs": _specs(machine, shop),
                "focuses": machine.focuses,
            }
            for machine in shop.machines
        ],
        "recipes": _recipes(shop),
        "works": [{"key": work.key, "title": work.title} for work in WORKS.values()],
        "jigs": [_jig(jig, shop) for jig in shop.jigs],
        "rates": _said("rates", shop.rates, shop),
    }


def _briefly_of(machine: MachineProfile) -> str:
    watts = f"{machine.watts:g} W " if machine.watts else ""
    return watts + (machine.about or dict(KINDS)[machine.kind])


def _specs(machine: MachineProfile, shop: Shop) -> list[list[Bit]]:
    """A machine in sentences: what it is, how it is reached, how files for it are written."""
    of, told = f"machine {machine.key}", _with_rates(machine, shop)
    return [_said(of, told, shop, words) for words in (told.sentence(), told.reached(), told.filed())]


def _with_rates(machine: MachineProfile, shop: Shop) -> MachineProfile:
    """A machine with what an hour of it costs, of its own or not."""
    return machine.model_copy(update={"hour": shop.rates.machine_hour}) if machine.hour is None else machine


def _jig(jig: Jig, shop: Shop) -> dict[str, Any]:
    """A jig as a sentence and a picture."""
    return {
        "key": jig.key,
        "name": jig.name,
        "spec": _said(f"jig {jig.key}", jig, shop),
        "box": f"-1 -1 {jig.width + 2:g} {jig.height + 2:g}",
        "d": f"M0 0H{jig.width:g}V{jig.height:g}H0Z",
        "slots": "".join(map(slot_data, jig.slots)),
    }


def _paint(material: Material, field: str) -> dict[str, str]:
    """One of its colours."""
    return {"field": field, "label": quantity_of(Material, field).label, "colour": getattr(material, field)}


def _briefly(material: Material, shop: Shop) -> str:
    thick = quantity_of(Material, "thicknesses").show(material.thicknesses, shop.unit)
    count = sum(sheet.count for sheet in shop.shelf if sheet.material == material.key)
    return f"{thick} · {count} sheet{'' if count == 1 else 's'} on the shelf"


def _sheet(sheet: ShelfSheet, shop: Shop) -> dict[str, Any]:
    measured = sheet.thickness if sheet.measured is None else sheet.measured
    told = sheet.model_copy(update={"measured": measured})
    return {"key": sheet.key, "spec": _said(f"sheet {sheet.key}", told, shop), "begun": _begun(sheet, shop)}


def _begun(sheet: ShelfSheet, shop: Shop) -> dict[str, str] | None:
    """What is left of a begun sheet, as a picture and as words."""
    if not sheet.used:
        return None
    missing = gone(sheet.used)
    rings = [shapely.get_coordinates(part.exterior).round(2).tolist() for part in missing]
    left, top, right, bottom = largest_rectangle(sheet.width, sheet.height, missing)
    width = format_length(int(right - left), shop.unit, with_unit=False)
    free = f"{width} × {format_length(int(bottom - top), shop.unit)}"
    return {
        "box": f"-1 -1 {sheet.width + 2:g} {sheet.height + 2:g}",
        "d": f"M0 0H{sheet.width:g}V{sheet.height:g}H0Z",
        "gone": "".join("M" + "L".join(f"{x:g} {y:g}" for x, y in ring) + "Z" for ring in rings),
        "says": f"{sheet.left:.0%} is left, with a free rectangle of {free}".replace("%", "\u00a0%"),
    }


def _recipes(shop: Shop) -> dict[str, dict[str, list[dict[str, Any]]]]:
    """What works, by machine and material: thin before thick, and each in the order of the works."""
    order = list(WORKS)
    found: dict[str, dict[str, list[dict[str, Any]]]] = {}
    for recipe in sorted(shop.recipes, key=lambda one: (one.thickness, order.index(one.work))):
        row = {"key": recipe.key, "work": recipe.work, "spec": _recipe(recipe, shop), "origin": recipe.origin}
        found.setdefault(recipe.machine, {}).setdefault(recipe.material, []).append(row)
    return found


def found(shop: Shop, words: str) -> list[dict[str, str]]:
    """The recipes that words fit, as where they stand and what they say."""
    return [
        {
            "key": one.key,
            "machine": one.machine,
            "material": one.material,
            "says": f"{WORKS[one.work].verb.capitalize()} {one.thickness:g} mm {shop.material(one.material).name} on "
            f"{shop.machine(one.machine).name}: {one.settings.briefly(shop.rates.speeds)}",
            "origin": one.origin,
        }
        for one in found_recipes(shop, words)
    ]


def _recipe(recipe: Recipe, shop: Shop) -> list[Bit]:
    of, unit = f"recipe {recipe.key}", shop.unit
    settings = recipe.settings
    machine = shop.machine(recipe.machine)
    for kind, width in ((CutSettings, "kerf"), (DrillSettings, "across")):  # where nothing else is said, the machine's
        if isinstance(settings, kind) and getattr(settings, width) is None:
            settings = settings.model_copy(update={width: machine.kerf})
    thick = value(of, recipe, "thickness", unit)
    verb = WORKS[recipe.work].verb.capitalize()
    words = (*settings_said(settings, machine), *by_height(machine))
    said_of = (say(of, settings, word, unit, shop.rates.speeds) for word in words)
    return [text(f"{verb} "), thick, text(": "), *said_of]


def _said(of: str, thing: Any, shop: Shop, words: Sequence[Word] | None = None) -> list[Bit]:
    """A thing of the shop as its own sentence, or as another of its."""
    choices = {"material": material_choices(shop)}
    speeds = shop.rates.speeds
    return [*(said(of, thing, word, shop.unit, choices, speeds) for word in words or thing.sentence()), text(".")]
