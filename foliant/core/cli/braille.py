"""The command that tells words in Braille."""

import argparse
import json
from typing import Any

from foliant.core.braille import LANGUAGES, TYPED, Telling, numbers_of, tell


def add_braille(commands: Any) -> None:
    """Name the command and what it takes."""
    braille = commands.add_parser("braille", help="tell words in Braille: their cells, the dots of those, and back")
    braille.add_argument("words", help="what is to be told")
    braille.add_argument("--language", default="en", choices=(*LANGUAGES, TYPED), help="in which language")
    braille.add_argument("--contracted", action="store_true", help="with contractions, where the language has them")
    braille.add_argument("--no-capitals", action="store_true", help="leave the sign of capitals out, as doors do")
    braille.add_argument("--json", action="store_true", help="print JSON")
    braille.set_defaults(run=_braille)


def _braille(options: argparse.Namespace) -> int:
    telling = Telling(options.language, "contracted" if options.contracted else "plain", not options.no_capitals)
    told = tell(options.words, telling)
    found = {"cells": told.cells, "dots": numbers_of(told.cells), "reads": told.reads, "missing": told.missing}
    if options.json:
        print(json.dumps(found, ensure_ascii=False, indent=1))
        return 0
    print(told.cells, numbers_of(told.cells), told.reads, sep="\n")
    if told.missing:
        print(f"Not in this Braille: {' '.join(told.missing)}")
    return 0
