"""The fonts that ship with Foliant. Each has a folder under `fonts/`, beside its licence."""

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Literal, get_args

FOLDER = Path(__file__).parent / "fonts"

FontKind = Literal[
    "joined script", "hand", "serif", "sans", "slab", "display", "stencil", "single-line", "other scripts", "your own"
]
KINDS: tuple[FontKind, ...] = get_args(FontKind)
_SUBSETS = ("latin", "latin-ext", "greek", "greek-ext", "cyrillic", "cyrillic-ext", "hebrew", "arabic")


@dataclass(frozen=True)
class FontEntry:
    """One face: `key` names it in designs, `files` are tried in order for each character.

    strokes  the name of a single-line font, whose letters are strokes without width; it has no files
    licence  what the font may be used for, in a few words
    """

    key: str
    name: str
    kind: FontKind
    files: tuple[Path, ...] = ()
    strokes: str = ""
    licence: str = ""

    @property
    def single_line(self) -> bool:
        """Whether its letters are strokes without width."""
        return bool(self.strokes)


def _shipped(kind: FontKind, names: Mapping[str, str]) -> list[FontEntry]:
    licences = {key: "Apache 2.0" if key in _APACHE else "OFL 1.1" for key in names}
    return [FontEntry(key, name, kind, _files(key), licence=licences[key]) for key, name in names.items()]


def _files(key: str) -> tuple[Path, ...]:
    """The files of a font, basic Latin first."""
    folder = FOLDER / key
    subsets = tuple(file for subset in _SUBSETS if (file := folder / f"{subset}.ttf").is_file())
    return subsets or tuple(sorted(folder.glob("*.otf")))


_APACHE = ("roboto-slab", "satisfy", "yellowtail")
_JOINED = {
    "pacifico": "Pacifico",
    "damion": "Damion",
    "great-vibes": "Great Vibes",
    "dancing-script": "Dancing Script bold",
    "lobster": "Lobster",
    "cookie": "Cookie",
    "sacramento": "Sacramento",
    "satisfy": "Satisfy",
    "yellowtail": "Yellowtail",
    "allura": "Allura",
    "alex-brush": "Alex Brush",
    "parisienne": "Parisienne",
    "leckerli-one": "Leckerli One",
    "kaushan-script": "Kaushan Script",
    "playball": "Playball",
}
_HANDS = {
    "caveat": "Caveat semibold",
    "marck-script": "Marck Script",
    "patrick-hand": "Patrick Hand",
    "indie-flower": "Indie Flower",
    "amatic-sc": "Amatic SC bold",
}
_SERIFS = {
    "playfair-display": "Playfair Display bold",
    "cormorant-garamond": "Cormorant Garamond bold",
    "lora": "Lora bold",
    "alegreya": "Alegreya bold",
    "cinzel": "Cinzel bold",
    "eb-garamond": "EB Garamond",
    "eb-garamond-italic": "EB Garamond italic",
}
_SANS = {
    "archivo": "Archivo",
    "alegreya-sans": "Alegreya Sans bold",
    "montserrat": "Montserrat bold",
    "josefin-sans": "Josefin Sans semibold",
    "oswald": "Oswald semibold",
    "comfortaa": "Comfortaa bold",
    "fredoka": "Fredoka semibold",
}
_SLABS = {
    "zilla-slab": "Zilla Slab semibold",
    "roboto-slab": "Roboto Slab bold",
    "alfa-slab-one": "Alfa Slab One",
}
_DISPLAY = {
    "bebas-neue": "Bebas Neue",
    "sniglet": "Sniglet extrabold",
    "righteous": "Righteous",
    "bungee": "Bungee",
    "oleo-script": "Oleo Script bold",
    "pirata-one": "Pirata One",
}
_STENCILS = {
    "allerta-stencil": "Allerta Stencil",
    "saira-stencil-one": "Saira Stencil One",
    "stardos-stencil": "Stardos Stencil bold",
    "big-shoulders-stencil": "Big Shoulders Stencil bold",
}
_STROKES = {
    "line-plain": ("Line Plain", "futural"),
    "line-double": ("Line Double", "futuram"),
    "line-serif": ("Line Serif", "timesr"),
    "line-script": ("Line Script", "scripts"),
    "line-gothic": ("Line Gothic", "gothitt"),
}
_OTHERS = {
    "rubik": "Rubik bold, with Hebrew and Arabic",
    "el-messiri": "El Messiri bold, with Arabic",
}

FONTS: tuple[FontEntry, ...] = (
    *_shipped("joined script", _JOINED),
    *_shipped("hand", _HANDS),
    *_shipped("serif", _SERIFS),
    *_shipped("sans", _SANS),
    *_shipped("slab", _SLABS),
    *_shipped("display", _DISPLAY),
    *_shipped("stencil", _STENCILS),
    *(
        FontEntry(key, name, "single-line", strokes=strokes, licence="public domain")
        for key, (name, strokes) in _STROKES.items()
    ),
    *_shipped("other scripts", _OTHERS),
)
