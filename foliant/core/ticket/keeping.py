"""Keeping: what a job ran with, as recipes."""

from foliant.core.equipment import Recipe
from foliant.core.equipment.edits import TakeRecipes
from foliant.core.ticket.job import Job


def ran_with(job: Job, origin: str) -> TakeRecipes | None:
    """The edit of the shop that keeps the settings of what a job does; of two operations that do the same work, those
    of the first on the ticket. None where it does nothing.
    """
    stock = job.design.stock
    found: dict[str, Recipe] = {}
    for line in (job.lines[index] for index in job.ready):
        assert line.settings
        values = {name: value for name, value in dict(line.settings).items() if value is not None}
        found.setdefault(
            line.work.key,
            Recipe(
                key=f"ran-{line.work.key}",
                machine=job.machine.key,
                material=job.shop.material(stock.material).key,
                thickness=stock.thickness,
                work=line.work.key,
                values=tuple(sorted(values.items())),
                origin=origin,
            ),
        )
    return TakeRecipes(do="take-recipes", recipes=tuple(found.values())) if found else None
