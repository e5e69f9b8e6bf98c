"""Starters that stand, or are stuck into something."""

from foliant.core.starters.starter import Starter, do, piece, put, typed

SPIKED_MARKER = Starter(
    "spiked-marker",
    "Spiked marker",
    "a plate with a name on a spike",
    (90, 104),
    (
        piece("Marker"),
        put("rectangle", width=90, height=36, corners="rounded", corner=6),
        put("words", "p1", "a2"),
        put("spike", length=80, width=8, point=14),
    ),
    ("part a3 text", "part a2 width", "part a4 length"),
    ("Orrin",),
)

TOPPER = Starter(
    "topper",
    "Topper",
    "joined words on a spike",
    (71.4, 131.6),
    (
        piece("Topper"),
        put("words", text="Zoë\nthirty", font="pacifico", cap_height=26),
        do("set-letters", "a2", what="joined", to="on"),
        put("spike", length=90, width=6, point=12),
    ),
    ("part a2 text", "part a2 cap_height", "part a3 length"),
)

BETWEEN_BARS = Starter(
    "name-between-bars",
    "Name between bars",
    "joined, and fitted between two bars",
    (73.7, 38.9),
    (
        piece("Name"),
        put("words", text="Ysolde", font="pacifico", cap_height=20),
        do("bar-words", "a2"),
    ),
    ("part a2 text",),
)

STIRRER = Starter(
    "stirrer",
    "Stirrer",
    "three discs on a bar, the middle one with an initial",
    (20, 168),
    (
        piece("Stirrer"),
        put("rectangle", width=6, height=140),
        put("circle", diameter=20),
        do("repeat-parts", "a3", kind="rows"),
        typed("repeat a3", "down", "-2"),
        put("words", "p1", "a3"),
        typed("piece p1", "copies", "12"),
    ),
    ("part a4 text", "part a3 diameter", "part a2 height", "piece p1 copies"),
    ("Q",),
)

SLOTTED_STAND = Starter(
    "slotted-stand",
    "Slotted stand",
    "an arched plate with words, and the foot that it is lapped with",
    (90, 80),
    (
        piece("Plate"),
        put("arch", width=90, height=80, rise=30),
        put("words", "p1", "a2"),
        piece("Foot"),
        put("rectangle", "p4", width=60, height=26),
        {"do": "cross-lap", "piece": "p4", "other": "p1"},
    ),
    ("part a3 text", "part a2 width", "part a2 height"),
    ("Open night",),
)

STANDING = (SPIKED_MARKER, TOPPER, BETWEEN_BARS, STIRRER, SLOTTED_STAND)
