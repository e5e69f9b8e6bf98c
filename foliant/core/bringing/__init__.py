"""Bringing in: what a foreign drawing holds, in groups with a guess of what each is for, and what becomes of it."""

from foliant.core.bringing.groups import KINDS, Group, groups_of
from foliant.core.bringing.taking import LEFT, WORDS, Answers, taken_in

__all__ = ["KINDS", "LEFT", "WORDS", "Answers", "Group", "groups_of", "taken_in"]
