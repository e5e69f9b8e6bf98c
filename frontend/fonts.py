"""Writes foliant/core/lettering/fonts: the shipped fonts as plain sfnt files, which open without being unpacked.

Run `.venv/bin/python frontend/fonts.py` after `npm ci` here. Each font is a chain of subset files of its @fontsource
package; of a variable one, those with both axes. EB Garamond, with its swashes and alternates, comes whole from
Debian's `fonts-ebgaramond`: `apt-get download fonts-ebgaramond && dpkg -x fonts-ebgaramond*.deb ebgaramond` puts it
in place.
"""

import shutil
from pathlib import Path

from fontTools.ttLib import TTFont

HERE = Path(__file__).parent
FONTS = HERE.parent / "foliant" / "core" / "lettering" / "fonts"
SUBSETS = ("latin", "latin-ext", "greek", "greek-ext", "cyrillic", "cyrillic-ext", "hebrew", "arabic")
PLAIN = """damion great-vibes lobster cookie sacramento satisfy yellowtail allura alex-brush parisienne leckerli-one
    kaushan-script playball pacifico marck-script patrick-hand indie-flower alfa-slab-one bebas-neue righteous bungee
    pirata-one allerta-stencil saira-stencil-one"""
HEAVIER = {"caveat": 600, "josefin-sans": 600, "oswald": 600, "fredoka": 600, "zilla-slab": 600, "sniglet": 800}
BOLD = """dancing-script amatic-sc playfair-display cormorant-garamond lora alegreya cinzel alegreya-sans montserrat
    comfortaa roboto-slab oleo-script stardos-stencil big-shoulders-stencil rubik el-messiri"""
WEIGHTS = {**dict.fromkeys(PLAIN.split(), 400), **HEAVIER, **dict.fromkeys(BOLD.split(), 700)}
VARIABLE = ("archivo",)
GARAMOND = {"eb-garamond": "EBGaramond12-Regular.otf", "eb-garamond-italic": "EBGaramond12-Italic.otf"}


def main() -> None:
    packages = {key: (f"@fontsource/{key}", weight) for key, weight in WEIGHTS.items()}
    packages |= {key: (f"@fontsource-variable/{key}", "standard") for key in VARIABLE}
    for key, (name, weight) in packages.items():
        package = HERE / "node_modules" / name
        folder = FONTS / key
        folder.mkdir(exist_ok=True)
        for subset in SUBSETS:
            packed = package / "files" / f"{key}-{subset}-{weight}-normal.woff2"
            if packed.is_file():
                font = TTFont(packed, recalcTimestamp=False)  # the same file each time
                font.flavor = None
                font.save(folder / f"{subset}.ttf")
        shutil.copyfile(package / "LICENSE", folder / "LICENSE")
    debian = HERE / "ebgaramond" / "usr" / "share"
    for key, file in GARAMOND.items():
        (FONTS / key).mkdir(exist_ok=True)
        shutil.copyfile(debian / "fonts" / "opentype" / "ebgaramond" / file, FONTS / key / file)
        shutil.copyfile(debian / "doc" / "fonts-ebgaramond" / "copyright", FONTS / key / "LICENSE")


if __name__ == "__main__":
    main()
