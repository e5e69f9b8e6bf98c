"""The ticket: what the machine does, in order, with which settings, and how long it takes."""

from foliant.core.ticket.job import MOST_MOVES, Job, Line, effort, plan
from foliant.core.ticket.recipes import RECIPES, Recipe, Settings, find_recipe
from foliant.core.ticket.toolpath import Toolpath

__all__ = ["MOST_MOVES", "RECIPES", "Job", "Line", "Recipe", "Settings", "Toolpath", "effort", "find_recipe", "plan"]
