"""Changing a maker's shop: applying an edit, opening a shop file, and walking the stored states."""

from dataclasses import dataclass
from typing import Any, Literal

from django.utils import timezone

from foliant.core.design.benches import on_bench
from foliant.core.design.budget import weight
from foliant.core.drawings import packed, unpacked
from foliant.core.drawings.intake import take_drawing
from foliant.core.equipment import SHIPPED, Jig, ShopEdit, read_shop_edit
from foliant.core.equipment.begun import GiveBack, TakeFromSheet
from foliant.core.equipment.edits import AddJig, KeepRecipe, ReplaceShop
from foliant.core.errors import Refused
from foliant.core.formats.recipes_csv import read_recipes
from foliant.core.formats.shop_file import read_shop_file
from foliant.core.layout.jigs import jig_of_drawing, jig_of_piece
from foliant.core.ticket import settings_of
from foliant.core.ticket.cards import kept
from foliant.workshop.actions.action import Action
from foliant.workshop.actions.drawings import name_of
from foliant.workshop.actions.history import StaleRevision, thin_out
from foliant.workshop.computing import work_out
from foliant.workshop.models import Project, Run, ShopState, Workshop, pack, shop_of, unpack
from foliant.workshop.reading import being_read


def _standing(owner: Any, revision: int) -> Workshop | None:
    """The maker's workshop, if it is still at this state; None (at 0) until it is changed. Raises `StaleRevision`."""
    found = Workshop.objects.filter(owner=owner).first()
    if (found.current if found else 0) != revision:
        raise StaleRevision
    return found


@dataclass
class ApplyShopEdit(Action):
    """Apply an edit made on `revision` and store the shop it gives; what had been undone before is dropped."""

    owner: Any
    revision: int
    edit: ShopEdit

    def prepare(self) -> None:
        _standing(self.owner, self.revision)
        before = shop_of(self.owner.pk)
        self.packed = pack(self.edit.apply(before).model_dump(mode="json"))
        self.done = pack(self.edit.model_dump(mode="json"))
        self.says = self.edit.says(before)[:120]

    def check(self) -> None:
        self.workshop = _standing(self.owner, self.revision)

    def perform(self) -> ShopState:
        workshop = self.workshop
        if workshop is None:
            workshop = Workshop.objects.create(owner=self.owner, current=1, latest=1)
            shipped = pack(SHIPPED.model_dump(mode="json"))
            ShopState.objects.create(workshop=workshop, number=1, packed=shipped, says="as it ships")
        workshop.shops.filter(number__gt=workshop.current).delete()
        workshop.latest += 1
        workshop.current = workshop.latest
        workshop.save(update_fields=["current", "latest"])
        state = ShopState.objects.create(
            workshop=workshop,
            number=workshop.latest,
            packed=self.packed,
            edit=self.done,
            author=self.owner,
            says=self.says,
        )
        thin_out(workshop)
        return state


def keep_in_shop(owner: Any, edit: ShopEdit) -> ShopState:
    """An edit of the shop as it stands, whatever page it comes from."""
    found = Workshop.objects.filter(owner=owner).first()
    result: ShopState = ApplyShopEdit(owner, found.current if found else 0, edit).execute()
    return result


@dataclass
class MarkTaken(Action):
    """Mark what a run has cut out of its sheet as gone on its owner's shelf."""

    run: Run

    def execute(self) -> None:
        run, owner = self.run, self.run.project.owner
        edit = read_shop_edit(unpack(bytes(run.takes)))
        if not isinstance(edit, TakeFromSheet) or not shop_of(owner.pk).has_material(edit.sheet.material):
            return
        shelf = keep_in_shop(owner, edit).shop.shelf
        sheet = next((sheet for sheet in shelf if set(edit.taken) <= set(sheet.used)), None)
        if sheet is None:
            return  # so much was gone already that it is told in one
        back = GiveBack(do="give-back", sheet=sheet.key, taken=edit.taken)
        Run.objects.filter(pk=run.pk).update(gives_back=pack(back.model_dump(mode="json")))


@dataclass
class UnmarkTaken(Action):
    """Mark what a run took as there after all."""

    run: Run

    def execute(self) -> None:
        if not self.run.gives_back:
            raise Refused("Nothing that this run took is marked as gone.")
        edit = read_shop_edit(unpack(bytes(self.run.gives_back)))
        keep_in_shop(self.run.project.owner, edit)
        Run.objects.filter(pk=self.run.pk).update(gives_back=b"")


@dataclass
class KeepUsed(Action):
    """Keep what a run that went well was done with as recipes in its owner's shop."""

    run: Run

    def execute(self) -> int:
        if not self.run.used or self.run.state != Run.State.DONE:
            raise Refused("Only of a job that has been done to its end is kept what it was done with.")
        edit = read_shop_edit(unpack(bytes(self.run.used)))
        keep_in_shop(self.run.project.owner, edit)
        Run.objects.filter(pk=self.run.pk).update(used=b"")
        return len(getattr(edit, "recipes", ()))


@dataclass
class OpenShop(Action):
    """Put the shop of a file in place of the maker's; raises `Refused` where it is none."""

    owner: Any
    content: bytes

    def execute(self) -> ShopState:
        return keep_in_shop(self.owner, ReplaceShop(do="replace", shop=read_shop_file(self.content)))


@dataclass
class TakeRecipeList(Action):
    """Take the recipes of a CSV file; raises `Refused` where it cannot be read."""

    owner: Any
    content: bytes

    def execute(self) -> ShopState:
        return keep_in_shop(self.owner, read_recipes(self.content, shop_of(self.owner.pk)))


@dataclass
class KeepAsRecipe(Action):
    """Keep the settings that an operation of a project's ticket has as the recipe for its work, in the owner's shop."""

    project: Project
    operation: str
    bench: str = ""

    def execute(self) -> ShopState:
        design = on_bench(self.project.design, self.bench)
        shop, owner = self.project.shop, self.project.owner
        operation = design.ticket.operation(self.operation)
        _, settings = settings_of(design, shop, operation)
        if settings is None:
            raise Refused(f"{operation.title} has no power and speed yet: type them, test them, then keep them.")
        edit = KeepRecipe(
            do="keep-recipe",
            machine=design.ticket.machine,
            material=design.stock.material,
            thickness=design.stock.thickness,
            work=operation.work,
            values={name: value for name, value in dict(settings).items() if value is not None},
            origin=f"kept from {self.project.name} on {timezone.localdate():%-d %B %Y}"[:120],
        )
        return keep_in_shop(owner, edit)


@dataclass
class KeepField(Action):
    """Keep the settings of the field of a test card that came out best, counted from 0, as the recipe."""

    project: Project
    row: int
    column: int

    def execute(self) -> ShopState:
        project = self.project
        origin = f"tested on {timezone.localdate():%-d %B %Y}"
        return keep_in_shop(project.owner, kept(project.design, project.shop, self.row, self.column, origin))


@dataclass
class KeepAsJig(Action):
    """Keep a piece of a project as a jig in the owner's shop: what is open in it, or drawn on it, are the slots."""

    project: Project
    piece: str
    name: str = ""

    def execute(self) -> ShopState:
        piece = self.project.design.piece(self.piece)
        jig = work_out(weight(piece), jig_of_piece, piece)
        return keep_in_shop(self.project.owner, AddJig(do="add-jig", name=self.name or piece.name, jig=jig))


@dataclass
class BringJig(Action):
    """Keep the drawing of a jig, as its file gives it, in the maker's shop."""

    owner: Any
    content: bytes
    file: str

    def execute(self) -> ShopState:
        with being_read(self.owner.pk) as watch:
            drawing, name = take_drawing(self.content, watch), name_of(self.file)
        jig = work_out(sum(len(item.path) for item in drawing.items), _jig_drawn, packed(drawing), name)
        return keep_in_shop(self.owner, AddJig(do="add-jig", name=name, jig=jig))


def _jig_drawn(drawing: bytes, name: str) -> Jig:
    return jig_of_drawing(unpacked(drawing), name)


@dataclass
class WalkShop(Action):
    """Go to the state before the current one, or to the one after it."""

    owner: Any
    revision: int
    way: Literal["undo", "redo"]

    def check(self) -> None:
        self.workshop = _standing(self.owner, self.revision)

    def perform(self) -> Any:
        target = self.workshop.neighbour(self.way) if self.workshop else None
        if self.workshop is None or target is None:
            raise Refused(f"There is nothing to {self.way}.")
        self.workshop.current = target.number
        self.workshop.save(update_fields=["current"])
        return target
