"""Cutting: through the material, along every edge."""

from foliant.core.works.following import FollowingWork


class Cut(FollowingWork):
    """Goes through; what it goes round comes off the sheet."""

    key = "cut"
    title = "Cutting"
    verb = "cut"
    ink = "#7c2d5a"
    swatch = ("M0 8h36", 3.2, "")
    through = True
