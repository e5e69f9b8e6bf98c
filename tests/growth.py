"""Rows of the bench about work that grows, and about makers beside each other; see `tests.bench`."""

import math
import resource
import statistics
import time
from collections.abc import Callable
from random import Random
from typing import Any

import numpy as np
import shapely

from foliant.core.design import Design, proved, read_edit
from foliant.core.equipment import SHIPPED
from foliant.core.lettering import FONTS
from foliant.core.paths import Path, combine, offset
from foliant.core.paths.corners import largest_corner
from foliant.core.paths.shapes import heart, rectangle, sector, star
from foliant.core.paths.thin import thin_places
from tests.load import beside_guessers, beside_the_worst, many_edits, one_name_each
from tests.making import edited, glyphs, one_piece, plan, put, tag

Row = Callable[[str, str, str, str, str, bool], None]
SENTENCE = "Quillmoor Observatory open night, first light at nine, dress"
NAMES = ("Tamsin", "Bertil", "Ione", "Quenby", "Orla", "Perrin", "Vesper", "Ysolde")


def once(run: Callable[[], Any]) -> float:
    begun = time.perf_counter()
    run()
    return time.perf_counter() - begun


def percentile(times: list[float]) -> float:
    return float(np.percentile(times, 95))


def letters_of_three_fonts(row: Row, as_polygons: Callable[[list[Path]], np.ndarray]) -> None:
    random = Random(3)
    fonts = [font.key for font in FONTS if not font.single_line]
    worst, told = 0.0, ""
    for _ in range(6):
        mixed: list[Path] = []
        for line, font in enumerate(random.sample(fonts, 3)):
            mixed += [glyph.moved(0, 5.0 * line) for glyph in glyphs(SENTENCE * 2, font, 9)[:100]]
        ready = as_polygons(mixed)
        ours = statistics.median(once(lambda mixed=mixed: combine(mixed)) for _ in range(3))
        bare = statistics.median(once(lambda ready=ready: shapely.union_all(ready)) for _ in range(3))
        if ours / bare > worst:
            worst, told = ours / bare, f"{ours * 1e3:.0f} ms"
            reference = f"GEOS {bare * 1e3:.0f} ms"
    row("resolve 300 glyphs of three kinds, the worst", told, reference, f"{worst:.2f}", "3x GEOS", worst <= 3)


def offsets_that_grow(row: Row, script_glyphs: Callable[[int], list[Path]]) -> None:
    taken, ratios = [], []
    for count in (300, 1000):
        source = combine(script_glyphs(count))
        ours = min(once(lambda source=source: offset(source, 2.0)) for _ in range(3))
        bare = min(once(lambda source=source: source.shape.buffer(2.0, quad_segs=24)) for _ in range(3))
        taken.append(ours)
        ratios.append(ours / bare)
        what = f"offset of {count} glyphs by 2 mm"
        row(what, f"{ours:.2f} s", f"GEOS buffer {bare:.2f} s", f"{ours / bare:.1f}", "8x", ours / bare <= 8)
    power = math.log(taken[1] / taken[0]) / math.log(1000 / 300)
    row("how that grows, as a power of the glyphs", f"{power:.2f}", "", "", "1.15", power <= 1.15)
    source = combine(script_glyphs(1000))
    ours = once(lambda: thin_places(source, 1.2))
    bare = once(lambda: source.shape.buffer(-0.6, quad_segs=12).buffer(0.6, quad_segs=12))
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e3
    good = ours / bare <= 8
    row("thin places of 1,000 glyphs", f"{ours:.1f} s", f"opening {bare:.1f} s", f"{ours / bare:.1f}", "8x", good)
    row("memory at its highest so far", f"{peak:.0f} MB", "", "", "", True)


def edits_that_follow(row: Row) -> None:
    words = one_piece(put("words", text=SENTENCE, cap_height=9, font="pacifico", role="adds"))
    around = edited(words, {"do": "surround-parts", "piece": "p1", "parts": ["a2"]})
    texts = [SENTENCE[i:] + SENTENCE[:i] for i in range(1, 21)]
    times = _typed(around, "a2", texts)
    row("one word in a surround of 60 glyphs, p95", f"{times * 1e3:.0f} ms", "", "", "250 ms", times <= 0.25)
    times = _typed(_nested(), "a2", list(NAMES))
    row("the innermost of 30 nested operations, p95", f"{times * 1e3:.0f} ms", "", "", "400 ms", times <= 0.4)
    shapes = (sector(60, 75), heart(30, 30, 6), star(8, 40, 20), rectangle(40, 20, "scooped", 5))
    most = max(once(lambda shape=shape: largest_corner(shape, "rounded")) for shape in shapes)
    row("the largest corner that fits, the slowest", f"{most * 1e3:.0f} ms", "", "", "100 ms", most <= 0.1)
    first = region = offset(offset(combine(glyphs("Orrin", "pacifico", 12)), 2), -2)
    for _ in range(20):
        region = offset(offset(region, 2), -2)
    nodes = len(region.path) / len(first.path)
    drift = shapely.hausdorff_distance(first.shape.boundary, region.shape.boundary, densify=0.1)
    row("out and in by 2 mm, twenty times: nodes", f"{nodes:.1f}x", "", "", "3x", nodes <= 3)
    row("and how far it drifts", f"{drift:.3f} mm", "", "", "0.05 mm", drift <= 0.05)


def _typed(design: Design, part: str, texts: list[str]) -> float:
    def change(text: str) -> None:
        proved(design, read_edit({"do": "change", "of": f"part {part}", "values": {"text": text}}))

    return percentile([once(lambda text=text: change(text)) for text in texts])


def _nested() -> Design:
    """Thirty operations, each of what the one before made: surrounds, welds with a disc, growing."""
    random = Random(2)
    design = one_piece(put("words", text="Orrin", font="pacifico", cap_height=12, role="adds"))
    last = "a2"
    for step in range(30):
        if step % 3 == 0:
            edits = [{"do": "surround-parts", "piece": "p1", "parts": [last]}]
        elif step % 3 == 1:
            disc = put("circle", diameter=10, x=random.uniform(-20, 20), y=random.uniform(-10, 10))
            design = edited(design, disc)
            parts = [last, design.pieces[0].parts[-1].id]
            edits = [{"do": "combine-parts", "piece": "p1", "parts": parts, "how": "weld"}]
        else:
            grown = {"treatment": "grown", "values": {"distance": 0.3}}
            edits = [{"do": "treat-parts", "piece": "p1", "parts": [last], **grown}]
        design = edited(design, *edits)
        last = design.pieces[0].parts[-1].id if step % 3 != 2 else last
    return design


def hundred_tags() -> Design:
    """A project of a hundred pieces, each with another name."""
    design = Design(name="Hundred tags")
    for number in range(100):
        design = edited(design, {"do": "add-piece", "name": f"Tag {number}"})
        piece = design.pieces[-1].id
        plate = put("rectangle", piece=piece, width=30 + number / 10, height=12, x=15, y=6)
        design = edited(design, plate, put("words", piece=piece, text=f"N{number}", cap_height=5, x=15, y=6))
    return design


def standings(row: Row) -> None:
    from foliant.workshop.presenters.standing import design_standing

    design = hundred_tags()
    design_standing(design, SHIPPED)
    times = []
    for number in range(10):
        part = design.pieces[number].parts[0].id
        design = edited(design, {"do": "change", "of": f"part {part}", "values": {"width": 50 + number}})
        times.append(once(lambda design=design: design_standing(design, SHIPPED)))
    ours = statistics.median(times)
    row("what stations say after an edit, 100 pieces", f"{ours * 1e3:.0f} ms", "", "", "50 ms", ours <= 0.05)


def names_of_a_hundred(row: Row) -> None:
    """One name of a hundred pieces changed, as the page feels it."""
    design = hundred_tags()
    taken = one_name_each(design, 40)
    ours = percentile(taken)
    row("one name of 100 pieces changed, answer, p95", f"{ours * 1e3:.0f} ms", "", "", "150 ms", ours <= 0.15)


def sheets_that_grow(row: Row) -> None:
    """A thousand instances, and what a change of one thing plans anew."""
    large = {"do": "change", "of": "stock", "values": {"width": 2200, "height": 1200}}
    second = {"do": "add-piece", "name": "Marker"}
    sheet = edited(tag(copies=500), large, second)
    piece = sheet.pieces[1].id
    plate = put("rectangle", piece=piece, width=60, height=20, x=30, y=10)
    name = put("words", piece=piece, text="VESPER", cap_height=6, x=30, y=10)
    sheet = edited(sheet, plate, name, {"do": "change", "of": f"piece {piece}", "values": {"copies": 500}})
    ours = once(lambda: plan(sheet).program.seconds)
    row("1,000 instances planned, first time", f"{ours:.2f} s", "", "", "3 s", ours <= 3)
    renamed = edited(sheet, {"do": "rename", "name": "Another"})
    ours = once(lambda: plan(renamed).program.seconds)
    row("the same, renamed", f"{ours * 1e3:.1f} ms", "", "", "5 ms", ours <= 0.005)
    changed = edited(sheet, {"do": "change", "of": f"part {sheet.pieces[1].parts[1].id}", "values": {"text": "ORRIN"}})
    ours = once(lambda: plan(changed).program)
    row("the same, one name changed", f"{ours * 1e3:.0f} ms", "", "", "", True)


def makers_beside_each_other(row: Row) -> None:
    felt = beside_the_worst()
    alone, beside = percentile(felt.alone), percentile(felt.beside)
    told = f"{beside * 1e3:.0f} ms", f"alone {alone * 1e3:.0f} ms", f"{beside / alone:.1f}"
    row("another's edit beside the worst, p95", *told, "300 ms", beside <= 0.3)
    row("STOP reaches the machine beside it", f"{felt.stop * 1e3:.0f} ms", "", "", "500 ms", felt.stop <= 0.5)
    still = felt.burning_still
    row("the machine stood still with its tool on", f"{still * 1e3:.0f} ms", "", "", "500 ms", still <= 0.5)
    felt = beside_guessers()
    alone, beside = percentile(felt.alone), percentile(felt.beside)
    told = f"{beside * 1e3:.0f} ms", f"alone {alone * 1e3:.0f} ms", f"{beside / alone:.1f}"
    row("an edit beside sixteen who guess passwords, p95", *told, "2x", beside <= 2 * alone)
    grown, taken = many_edits()
    first, last = statistics.median(taken[:100]), statistics.median(taken[-100:])
    row("1,000 edits on 200 parts take", f"{grown / 1e6:.1f} MB", "", "", "10 MB", grown < 10e6)
    told = f"{last * 1e3:.0f} ms", f"first {first * 1e3:.0f} ms", f"{last / first:.2f}"
    row("the last hundred of them, the median", *told, "as the first", last <= 1.2 * first)
