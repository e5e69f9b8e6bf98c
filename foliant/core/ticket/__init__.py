"""The ticket: what is done on the sheet, in order, with which settings, and the program it comes to."""

from foliant.core.ticket.job import (
    MOST_MOVES,
    Job,
    Line,
    cut_width,
    effort,
    effort_of_all,
    heights_of,
    plan,
    plan_all,
    settings_of,
)

__all__ = [
    "MOST_MOVES",
    "Job",
    "Line",
    "cut_width",
    "effort",
    "effort_of_all",
    "heights_of",
    "plan",
    "plan_all",
    "settings_of",
]
