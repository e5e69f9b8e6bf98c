"""Starters that are hung, carried or tied to something."""

from foliant.core.starters.starter import Starter, do, piece, put

HANG_TAG = Starter(
    "hang-tag",
    "Hang tag",
    "with a name in a scored frame, and a hole",
    (55, 90),
    (
        piece("Hang tag"),
        put("rectangle", width=55, height=90, corners="cut", corner=10),
        do("surround-parts", "a2", role="scores", values={"distance": 3}),
        put("hole", width=5, height=5),
        put("words", "p1", "a2"),
    ),
    ("part a5 text", "part a2 width", "part a2 height"),
    ("Maud",),
)

KEY_TAG = Starter(
    "key-tag",
    "Key tag",
    "with a name and a hole at its end",
    (62, 24),
    (
        piece("Key tag"),
        put("rectangle", width=62, height=24, corners="rounded", corner=8),
        put("hole", width=5, height=5),
        put("words", "p1", "a2", font="alegreya-sans"),
    ),
    ("part a4 text", "part a2 width", "part a2 height"),
    ("Orrin",),
)

KEYRING_PLATE = Starter(
    "keyring-plate",
    "Keyring plate",
    "round a motif and a name, with an eye",
    (68.6, 23.0),
    (
        piece("Keyring plate"),
        put("words", text="Orrin", cap_height=9),
        put("motif", motif="planet", height=16),
        do("align-parts", "a3", to="a2", across="after", down="capitals", gap="1.5", hold=True),
        do("surround-parts", "a2", "a3", values={"distance": 3.5}),
        put("eye", hole=4),
    ),
    ("part a2 text", "part a3 motif", "part a4 distance"),
)

BOOKMARK = Starter(
    "bookmark",
    "Bookmark with a flap",
    "with a wavy end, and a slit round a flap that holds the page",
    (42, 150),
    (
        piece("Bookmark"),
        put("wave", width=42, height=150),
        put("flap", x=21, y=40, width=16, height=28),
        put("words", x=21, y=100, text="Quillmoor", cap_height=9, at_most=84, rotation=90),
    ),
    ("part a4 text", "part a2 width", "part a2 height"),
)

GIFT_TAGS = Starter(
    "gift-tags",
    "Gift tag set",
    "a plate, a disc and a heart, each with a name",
    (60, 32),
    (
        piece("Gift plate"),
        put("rectangle", width=60, height=32, corners="scooped", corner=6),
        put("hole", width=4, height=4),
        put("words", "p1", "a2"),
        piece("Gift disc"),
        put("circle", "p5", diameter=50),
        put("hole", "p5", x=25, y=6, width=4, height=4),
        put("words", "p5", "a6"),
        piece("Gift heart"),
        put("heart", "p9", width=58),
        put("words", "p9", "a10"),
        put("eye", "p9", hole=4),
    ),
    ("part a4 text", "part a8 text", "part a11 text"),
    ("Maud", "Orrin", "Ysolde"),
)

PENNANTS = Starter(
    "pennants",
    "Pennants of a word",
    "swallow-tailed, one for each letter, with two holes to thread",
    (50, 66),
    (
        piece("Pennant"),
        put("swallowtail", width=50, height=66, notch=14),
        put("hole", x=8, y=8, width=4, height=4),
        put("hole", x=42, y=8, width=4, height=4),
        put("words", x=25, y=30, text="COMET", font="bebas-neue", cap_height=28),
    ),
    ("part a5 text", "part a2 width", "part a2 height"),
    (),
    ({"do": "spell-pieces", "piece": "p1", "part": "a5"},),
)

FRAMED_MOTIF = Starter(
    "framed-motif",
    "Framed motif",
    "held by tabs in a ring, with an eye",
    (84, 91),
    (
        piece("Framed motif"),
        put("ring", diameter=84, band=6),
        put("motif", "p1", motif="star", height=48, role="adds", x=42, y=42),
        do("tab-parts", "a2", "a3", values={"count": "5", "width": 3}),
        put("eye", hole=4),
    ),
    ("part a3 motif", "part a2 diameter", "part a4 count"),
)

RING_ORNAMENT = Starter(
    "ring-ornament",
    "Ring ornament",
    "a name that fills a ring, with an eye",
    (80, 87),
    (
        piece("Ring ornament"),
        put("ring", diameter=80, band=6),
        put("words", text="Ysolde", font="pacifico", role="adds", x=40, y=40),
        do("set-letters", "a3", what="joined", to="on"),
        do("set-letters", "a3", what="fit", to="a2"),
        put("eye", hole=4),
    ),
    ("part a3 text", "part a2 diameter"),
)

TAGS = (HANG_TAG, KEY_TAG, KEYRING_PLATE, GIFT_TAGS, BOOKMARK, PENNANTS, RING_ORNAMENT, FRAMED_MOTIF)
