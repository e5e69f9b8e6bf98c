"""Scoring: a line in the face of the material."""

from foliant.core.works.following import FollowingWork


class Score(FollowingWork):
    """Marks a line and does not go through."""

    key = "score"
    title = "Scoring"
    verb = "score"
    ink = "#b57a14"
    swatch = ("M0 8h36", 3.0, "8 5")
