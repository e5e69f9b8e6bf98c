"""Starters that lie or hang flat: coasters, signs, boards."""

from foliant.core.braille.louis import is_here
from foliant.core.starters.starter import Starter, do, piece, put

COASTER = Starter(
    "coaster",
    "Coaster",
    "round, with a script word in a scored line",
    (95, 95),
    (
        piece("Coaster"),
        put("circle", diameter=95),
        do("surround-parts", "a2", role="scores", values={"distance": 4}),
        put("words", "p1", "a2", font="pacifico"),
    ),
    ("part a4 text", "part a2 diameter"),
)

ROUND_LETTERING = Starter(
    "round-lettering",
    "Round lettering",
    "words above and below along the edge, and a motif between",
    (110, 110),
    (
        piece("Disc"),
        put("circle", diameter=110),
        {"do": "words-on-edge", "piece": "p1", "part": "a2", "top": "Quillmoor", "bottom": "open night"},
        put("motif", motif="planet", height=42, x=55, y=55),
    ),
    ("part a3 text", "part a4 text", "part a5 motif", "part a2 diameter"),
)

DOOR_SIGN = Starter(
    "door-sign",
    "Door sign",
    "with a scored frame and a hole in each corner",
    (180, 70),
    (
        piece("Door sign"),
        put("rectangle", width=180, height=70),
        do("surround-parts", "a2", role="scores", values={"distance": 12}),
        put("hole", width=4, height=4, x=6, y=6),
        do("corner-parts", "a4"),
        put("words", "p1", "a2", font="alegreya"),
    ),
    ("part a5 text", "part a2 width", "part a2 height"),
    ("Dome",),
)

TOUCH_SIGN = Starter(
    "touch-sign",
    "Sign with Braille",
    "a raised pictogram in its field, a raised word and the same in Braille",
    (286, 160),
    (
        piece("Sign with Braille"),
        put("rectangle", width=286, height=160, corners="rounded", corner=6),
        put("rectangle", width=152, height=152, x=80, y=80, role="guides"),
        put("motif", motif="stairs", height=110),
        do("align-parts", "a4", to="a3", across="middle", down="middle", hold=True),
        put("rectangle", width=110, height=76, x=218, y=72, role="guides"),
        put("words", font="archivo", cap_height=20, capitals="all", at_most=110, tracking=6),
        do("align-parts", "a6", to="a5", across="middle", down="capitals", hold=True),
        do("braille-beneath", "a6"),
    ),
    ("part a6 text", "part a4 motif", "part a7 language"),
    ("Stairs",),
    (do("raise-parts", "a4", "a6"),),
)

MAGNET_BOARD = Starter(
    "magnet-board",
    "Board with magnet places",
    "lines of words, and a place for a magnet in each corner",
    (180, 120),
    (
        piece("Board"),
        put("rectangle", width=180, height=120, corners="rounded", corner=4),
        put("hole", width=6.2, height=6.2, x=8, y=8),
        do("corner-parts", "a3"),
        put("words", "p1", "a2", font="zilla-slab"),
    ),
    ("part a4 text", "part a2 width", "part a2 height", "part a3 width"),
    ("Keep\nlooking\nup",),
)

PLATES = (COASTER, ROUND_LETTERING, DOOR_SIGN, *([TOUCH_SIGN] if is_here() else []), MAGNET_BOARD)
