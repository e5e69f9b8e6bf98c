"""The ticket: what the machine does, in order, with which settings, and how long it takes."""

from foliant.core.ticket.job import Job, Line, plan
from foliant.core.ticket.recipes import RECIPES, Recipe, Settings, find_recipe
from foliant.core.ticket.toolpath import Toolpath

__all__ = ["RECIPES", "Job", "Line", "Recipe", "Settings", "Toolpath", "find_recipe", "plan"]
