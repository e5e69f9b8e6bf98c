"""Edits of a shop: everything a maker can change in it, as typed commands."""

from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, ValidationError

from foliant.core.equipment.begun import GiveBack, TakeFromSheet
from foliant.core.equipment.command import ShopCommand
from foliant.core.equipment.jigs import Jig
from foliant.core.equipment.machines import USUAL, MachineProfile
from foliant.core.equipment.materials import Material
from foliant.core.equipment.names import Name, key_for
from foliant.core.equipment.recipes import Recipe
from foliant.core.equipment.shop import Shop
from foliant.core.equipment.stock import ShelfSheet
from foliant.core.errors import Refused
from foliant.core.eye.lens import Lens
from foliant.core.frozen import Figures
from foliant.core.quantities import build, explain, in_speeds, with_values
from foliant.core.units import Unit
from foliant.core.works import find_work

Values = dict[str, Any]
Thing = Material | MachineProfile | Recipe | ShelfSheet | Jig

_WHERE = {"material": "materials", "machine": "machines", "recipe": "recipes", "sheet": "shelf", "jig": "jigs"}
_KINDS: dict[str, type[Thing]] = {
    "material": Material,
    "machine": MachineProfile,
    "recipe": Recipe,
    "sheet": ShelfSheet,
    "jig": Jig,
}
_LOOKED_AT = {"bed_width", "bed_height", "camera"}
_FIRST = {"power": 20.0, "passes": 1.0, "speed": 50.0, "dwell": 0.5}
"""What a recipe starts from where there is none like it."""


class ChangeThing(ShopCommand):
    """Set typed values of one thing: `material birch-ply`, `machine bench-laser`, a `recipe`, `sheet` or `jig` by its
    key, or `rates`.
    """

    do: Literal["change"]
    of: str
    values: Values

    def apply(self, shop: Shop) -> Shop:
        unit = shop.unit
        if self.of == "rates":
            return build(Shop, {**dict(shop), "rates": with_values(shop.rates, self.values, unit)})
        what, thing = _found(shop, self.of)
        if isinstance(thing, Recipe):
            own = {field: raw for field, raw in self.values.items() if field == "thickness"}
            rest = {field: raw for field, raw in self.values.items() if field not in own}
            rest = in_speeds(type(thing.settings), rest, shop.rates.speeds)
            new: Thing = with_values(thing, own, unit).with_settings(rest, unit)
        else:
            values = in_speeds(type(thing), self.values, shop.rates.speeds)
            new = with_values(thing, values, unit)
            if isinstance(thing, MachineProfile) and isinstance(new, MachineProfile) and new.kind != thing.kind:
                new = with_values(thing.model_copy(update=USUAL[new.kind]), values, unit)
            if _LOOKED_AT & set(values) and isinstance(new, MachineProfile):
                new = new.model_copy(update={"lens": None})  # it was learnt of another
        if isinstance(new, ShelfSheet) and not shop.has_material(new.material):
            raise Refused(f"There is no material “{new.material}” in the workshop.")
        return _with(shop, what, [new if old.key == new.key else old for old in getattr(shop, _WHERE[what])])

    def says(self, shop: Shop) -> str:
        fields = " and ".join(self.values).replace("_", " ")
        return f"change {fields} of {'the rates' if self.of == 'rates' else _title(shop, self.of)}"


class AddMaterial(ShopCommand):
    """One more material; what is not said of it is taken from the one of the key `like`, or from the first."""

    do: Literal["add-material"]
    name: Name
    like: str = ""

    def apply(self, shop: Shop) -> Shop:
        return _added(shop, "material", self.name, {**dict(shop.material(self.like or shop.materials[0].key))})

    def says(self, shop: Shop) -> str:
        return f"add {self.name}"


class AddMachine(ShopCommand):
    """One more machine, likewise; it has no address yet."""

    do: Literal["add-machine"]
    name: Name
    like: str = ""

    def apply(self, shop: Shop) -> Shop:
        alike = shop.machine(self.like or shop.machines[0].key)
        return _added(shop, "machine", self.name, {**dict(alike), "about": "", "link": "", "camera": "", "lens": None})

    def says(self, shop: Shop) -> str:
        return f"add {self.name}"


class KeepLens(ShopCommand):
    """The lens of the camera over a machine, as it was learnt."""

    do: Literal["keep-lens"]
    machine: str
    lens: Lens

    def apply(self, shop: Shop) -> Shop:
        if not shop.has_machine(self.machine):
            raise Refused("That machine is no longer in the workshop.")
        new = shop.machine(self.machine).model_copy(update={"lens": self.lens})
        return _with(shop, "machine", [new if old.key == new.key else old for old in shop.machines])

    def says(self, shop: Shop) -> str:
        return f"learn the lens over {shop.machine(self.machine).name}"


class AddJig(ShopCommand):
    """One more jig, as it was drawn; or with the slots that most have, and what is measured of it is typed then."""

    do: Literal["add-jig"]
    name: Name
    jig: Jig | None = None

    def apply(self, shop: Shop) -> Shop:
        return _added(shop, "jig", self.name, dict(self.jig) if self.jig else {})

    def says(self, shop: Shop) -> str:
        return f"add {self.name}"


class AddSheet(ShopCommand):
    """One more kind of sheet on the shelf, as large as those of its material are, or else as the first are."""

    do: Literal["add-sheet"]
    material: str

    def apply(self, shop: Shop) -> Shop:
        material = _known(shop, self.material)
        sheets = [sheet for sheet in shop.shelf if sheet.material == material.key] or list(shop.shelf)
        width, height = (sheets[0].width, sheets[0].height) if sheets else (300.0, 200.0)
        keys = {sheet.key for sheet in shop.shelf}
        size = {"width": width, "height": height, "thickness": material.thicknesses[0]}
        new = ShelfSheet(key=key_for(material.key, keys), material=material.key, **size)
        return _with(shop, "sheet", [*shop.shelf, new])

    def says(self, shop: Shop) -> str:
        return f"add sheets of {shop.material(self.material).name}"


class AddRecipe(ShopCommand):
    """One more recipe, with the settings of the one that is the most like it, to be tested."""

    do: Literal["add-recipe"]
    machine: str
    material: str
    work: str

    def apply(self, shop: Shop) -> Shop:
        material = _known(shop, self.material)
        known = {found.thickness for found in shop.recipes_for(self.machine, material.key) if found.work == self.work}
        free = [thickness for thickness in material.thicknesses if thickness not in known]
        if not free:
            raise Refused(
                f"For every thickness that {material.name} is sold in there is a recipe to "
                f"{find_work(self.work).verb} it; change that, or give the material another thickness first."
            )
        values = _nearest_values(shop, self.machine, material.key, free[0], self.work)
        return _kept(shop, self.machine, material.key, free[0], self.work, values, "to be tested")

    def says(self, shop: Shop) -> str:
        return f"add a recipe to {find_work(self.work).verb} {shop.material(self.material).name}"


class KeepRecipe(ShopCommand):
    """Settings that worked, kept as the recipe for a work, in place of the one there was."""

    do: Literal["keep-recipe"]
    machine: str
    material: str
    thickness: float
    work: str
    values: Figures
    origin: str = ""

    def apply(self, shop: Shop) -> Shop:
        material = _known(shop, self.material)
        return _kept(shop, self.machine, material.key, self.thickness, self.work, dict(self.values), self.origin)

    def says(self, shop: Shop) -> str:
        return f"keep a recipe to {find_work(self.work).verb} {shop.material(self.material).name}"


class CopyRecipes(ShopCommand):
    """The recipes of one machine for a material for another machine too, but for what that has recipes for; of a laser
    of another power, as much faster or slower.
    """

    do: Literal["copy-recipes"]
    machine: str
    material: str
    onto: str

    def apply(self, shop: Shop) -> Shop:
        if not shop.has_machine(self.onto):
            raise Refused(f"There is no machine “{self.onto[:40]}” in the workshop.")
        found = shop.recipes_for(self.machine, self.material)
        missing = [one for one in found if shop.recipe(self.onto, one.material, one.thickness, one.work) is None]
        if not missing:
            raise Refused(f"{shop.machine(self.onto).name} has a recipe for all of that already.")
        for one in missing:
            origin = f"copied from {shop.machine(self.machine).name}, to be tested"
            values = _as_strong(dict(one.values), shop.machine(self.machine), shop.machine(self.onto))
            shop = _kept(shop, self.onto, one.material, one.thickness, one.work, values, origin)
        return shop

    def says(self, shop: Shop) -> str:
        return f"copy recipes to {shop.machine(self.onto).name}"


class TakeRecipes(ShopCommand):
    """Recipes from a list, in place of those for the same."""

    do: Literal["take-recipes"]
    recipes: Annotated[tuple[Recipe, ...], Field(min_length=1, max_length=2000)]

    def apply(self, shop: Shop) -> Shop:
        for one in self.recipes:
            material = _known(shop, one.material)
            same = (one.machine, material.key, one.thickness, one.work)
            old = next((found for found in shop.recipes if found.is_for(*same)), None)
            more = _more(shop, old, *same, dict(one.values), one.origin)
            shop = shop.model_copy(update={"recipes": tuple(more)})
        return _with(shop, "recipe", list(shop.recipes))  # looked at once, as a whole

    def says(self, shop: Shop) -> str:
        return f"take {len(self.recipes)} recipes"


class RemoveThing(ShopCommand):
    """One thing less; with a material or a machine go its recipes and sheets."""

    do: Literal["remove"]
    of: str

    def apply(self, shop: Shop) -> Shop:
        what, thing = _found(shop, self.of)
        things = [other for other in getattr(shop, _WHERE[what]) if other.key != thing.key]
        if not things and what in ("material", "machine"):
            raise Refused(f"A workshop keeps at least one {what}; add another before you take this one out.")
        shop = _with(shop, what, things)
        if what in ("material", "machine"):
            shop = _with(shop, "recipe", [found for found in shop.recipes if getattr(found, what) != thing.key])
        if what == "material":
            shop = _with(shop, "sheet", [found for found in shop.shelf if found.material != thing.key])
        return shop

    def says(self, shop: Shop) -> str:
        return f"take out {_title(shop, self.of)}"


class SetShopUnit(ShopCommand):
    """Show and read lengths of the workshop, and of new projects, in another unit."""

    do: Literal["set-unit"]
    unit: Unit

    def apply(self, shop: Shop) -> Shop:
        return shop.model_copy(update={"unit": self.unit})

    def says(self, shop: Shop) -> str:
        return "change the unit"


class ReplaceShop(ShopCommand):
    """Another shop in place of this one: from a file, say."""

    do: Literal["replace"]
    shop: Shop

    def apply(self, shop: Shop) -> Shop:
        return self.shop

    def says(self, shop: Shop) -> str:
        return "open a shop file"


ShopEdit = Annotated[
    ChangeThing
    | AddMaterial
    | AddMachine
    | AddJig
    | KeepLens
    | AddSheet
    | AddRecipe
    | KeepRecipe
    | CopyRecipes
    | TakeRecipes
    | RemoveThing
    | TakeFromSheet
    | GiveBack
    | SetShopUnit
    | ReplaceShop,
    Field(discriminator="do"),
]

_ADAPTER: TypeAdapter[ShopEdit] = TypeAdapter(ShopEdit)


def read_shop_edit(data: object) -> ShopEdit:
    """An edit from parsed JSON; raises `Refused`."""
    try:
        return _ADAPTER.validate_python(data)
    except ValidationError as error:
        raise Refused(explain(error)) from None


def _found(shop: Shop, of: str) -> tuple[str, Thing]:
    what, _, key = of.partition(" ")
    for thing in getattr(shop, _WHERE[what]) if what in _WHERE else ():
        if thing.key == key:
            return what, thing
    raise Refused("That is no longer in the workshop.")


def _with(shop: Shop, what: str, things: list[Any]) -> Shop:
    return build(Shop, {**dict(shop), _WHERE[what]: tuple(things)})


def _as_strong(values: Values, machine: MachineProfile, onto: MachineProfile) -> Values:
    """Settings of one laser for another: what it burns in a mm stays the same."""
    if not (machine.kind == onto.kind == "laser" and machine.watts and onto.watts and "speed" in values):
        return values
    speed = float(values["speed"]) * onto.watts / machine.watts
    return {**values, "speed": min(float(f"{speed:.2g}"), onto.top_speed)}


def _title(shop: Shop, of: str) -> str:
    _, thing = _found(shop, of)
    match thing:
        case Recipe():
            return f"the recipe to {find_work(thing.work).verb} {shop.material(thing.material).name}"
        case ShelfSheet():
            return f"the sheets of {shop.material(thing.material).name}"
    return thing.name


def _known(shop: Shop, material: str) -> Material:
    if not shop.has_material(material):
        raise Refused(f"There is no material “{material[:40]}” in the workshop.")
    return shop.material(material)


def _added(shop: Shop, what: str, name: str, values: Values) -> Shop:
    things = getattr(shop, _WHERE[what])
    key = key_for(name, {thing.key for thing in things})
    return _with(shop, what, [*things, build(_KINDS[what], {**values, "name": name, "key": key})])


def _kept(shop: Shop, machine: str, material: str, thickness: float, work: str, values: Values, origin: str) -> Shop:
    """The shop with a recipe, in place of the one for the same if there is one."""
    old = shop.recipe(machine, material, thickness, work)
    return _with(shop, "recipe", _more(shop, old, machine, material, thickness, work, values, origin))


def _more(
    shop: Shop,
    old: Recipe | None,
    machine: str,
    material: str,
    thickness: float,
    work: str,
    values: Values,
    origin: str,
) -> list[Recipe]:
    """The recipes with one more, or with another in place of an old one."""
    if not shop.has_machine(machine):
        raise Refused(f"There is no machine “{machine[:40]}” in the workshop.")
    keys = {found.key for found in shop.recipes}
    key = old.key if old else key_for(f"{work}-{material}", keys)
    size = old.thickness if old else thickness
    data = {
        "machine": machine,
        "material": material,
        "thickness": size,
        "work": work,
        "values": values,
        "origin": origin,
    }
    new = build(Recipe, {"key": key, **data})
    if old:
        return [new if found.key == key else found for found in shop.recipes]
    return [*shop.recipes, new]


def _nearest_values(shop: Shop, machine: str, material: str, thickness: float, work: str) -> dict[str, float | str]:
    """Values to start from: those of the recipe for that work that is the most like this."""
    alike = [found for found in shop.recipes if found.work == work]
    if alike:

        def unlike(found: Recipe) -> tuple[bool, bool, float]:
            return found.machine != machine, found.material != material, abs(found.thickness - thickness)

        return dict(min(alike, key=unlike).values)
    needed = find_work(work).settings.model_fields
    return {name: value for name, value in _FIRST.items() if name in needed}
