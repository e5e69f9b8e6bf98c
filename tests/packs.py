"""How dense sheets are packed beside another packer, in the same seconds; and how soon many things are laid."""

import time
from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np
import shapely
import spyrrow

from foliant.core.design import resolve
from foliant.core.layout import Laid, lay_sheets, slid
from foliant.core.packing import Bed, Stamp, Task, fill, improving
from foliant.core.packing.task import filled_in
from tests.making import edited, one_piece, put, tag

Row = Callable[[str, str, str, str, str, bool], None]
QUARTERS = (0.0, 90.0, 180.0, 270.0)
HIGH = 300.0


def disc(radius: float, x: float = 0.0, y: float = 0.0) -> shapely.Geometry:
    return shapely.Point(x, y).buffer(radius, 32)


def stirrer() -> shapely.Geometry:
    return shapely.union_all([shapely.box(-2.5, 0, 2.5, 160), disc(10, 0, 10), disc(7, 0, 28), disc(5, 0, 42)])


def topper() -> shapely.Geometry:
    return shapely.union_all(
        [shapely.box(-2.5, 20, 2.5, 110), disc(13, -12, 10), disc(16, 10, 8), shapely.box(-25, 5, 28, 20)]
    )


def star(radius: float) -> shapely.Geometry:
    turns = np.arange(10) * np.pi / 5
    out = np.where(np.arange(10) % 2, 0.45 * radius, radius)
    return shapely.Polygon(np.c_[out * np.cos(turns), out * np.sin(turns)])


def mixed() -> Iterator[shapely.Geometry]:
    """Rings, tags, stars, toppers, discs and wedges of many sizes."""
    sizes = np.random.default_rng(3).uniform(0.7, 1.4, 46)
    for number, size in enumerate(sizes.tolist()):
        yield [
            disc(30 * size).difference(disc(30 * size - 5)), shapely.box(0, 0, 30 * size, 60 * size), star(20 * size),
            topper(), disc(12 * size), shapely.Polygon([(0, 0), (50 * size, 0), (25 * size, 20 * size)]),
        ][number % 6]  # fmt: skip


def letters() -> Iterator[shapely.Geometry]:
    for letter in "QUILLMOOROBSERVATORYFIRSTLIGHT":
        words = one_piece(put("words", text=letter, cap_height=40, role="adds", font="alegreya-sans"))
        yield resolve(words.pieces[0]).outline.shape


def tasks() -> dict[str, Task]:
    bed = Bed(4000, HIGH)
    ring = disc(40).difference(disc(34))
    each = [*mixed()], [*letters()]
    return {
        "60 stirrers": Task(bed, (Stamp(stirrer(), QUARTERS),), (0,) * 60),
        "46 mixed pieces": Task(bed, tuple(Stamp(shape, QUARTERS) for shape in each[0]), tuple(range(46))),
        "200 tags with 20 rings": Task(
            bed, (Stamp(shapely.box(0, 0, 30, 60), QUARTERS), Stamp(ring, QUARTERS)), (0,) * 200 + (1,) * 20
        ),
        "30 letters": Task(bed, tuple(Stamp(shape, QUARTERS) for shape in each[1]), tuple(range(30))),
    }


def packed_beside_another(row: Row) -> None:
    """The share of the strip that becomes pieces, no openings used; then what openings add."""
    for name, task in tasks().items():
        plain = replace(task, inside=False)
        for seconds in (3, 10, 30):
            ours, theirs = density(plain, seconds), by_the_other(plain, seconds)
            ratio = ours / theirs
            row(
                f"{name} packed for {seconds} s",
                f"{ours:.3f}",
                f"spyrrow {theirs:.3f}",
                f"{ratio:.2f}",
                "0.98",
                ratio >= 0.98,
            )
        begun = time.monotonic()
        first = next(iter(improving(task, 3)))
        took = time.monotonic() - begun
        row(f"{name}, openings used, first", f"{took:.1f} s", f"density {first.density:.3f}", "", "2 s quiet", took < 4)


def density(task: Task, seconds: float) -> float:
    *_, best = improving(task, seconds)
    assert not best.left_over
    return best.density


def by_the_other(task: Task, seconds: int) -> float:
    items = [
        spyrrow.Item(str(stamp), list(map(tuple, outline(task, stamp))), count, list(QUARTERS))
        for stamp, count in task.kinds.items()
    ]
    how = spyrrow.StripPackingConfig(min_items_separation=task.gap, total_computation_time=seconds, seed=1)
    width = spyrrow.StripPackingInstance("strip", HIGH, items).solve(how).width
    return sum(task.stamps[stamp].area * count for stamp, count in task.kinds.items()) / (width * HIGH)


def outline(task: Task, stamp: int) -> list[list[float]]:
    points: list[list[float]] = shapely.get_coordinates(filled_in(task.stamps[stamp].plain))[:-1].tolist()
    return points


def many_nodes(row: Row) -> None:
    """Five hundred of a piece that has two thousand nodes, all on one sheet."""
    angles = np.linspace(0, 2 * np.pi, 2001)[:-1]
    edge = np.c_[np.cos(angles), np.sin(angles)] * (4 + 0.4 * np.sin(80 * angles))[:, None]
    task = Task(Bed(600, 400, 4), (Stamp(shapely.Polygon(edge), QUARTERS),), (0,) * 500, gap=1.0)
    begun = time.process_time()
    packed = fill(task)
    took = time.process_time() - begun
    good = took < 30 and packed.left_over == 0
    row("500 copies of 2,000 nodes packed", f"{took:.1f} s", f"{packed.left_over} left over", "", "30 s", good)


def laid_and_dragged(row: Row) -> None:
    """A thousand in rows, and where one of five hundred comes to lie that is dragged."""
    many = edited(tag(copies=500), {"do": "duplicate-piece", "piece": "p1"})
    wide = edited(many, {"do": "change", "of": "stock", "values": {"width": 1500, "height": 1500}})
    begun = time.perf_counter()
    sheets = lay_sheets(wide)
    took = time.perf_counter() - begun
    row("1,000 instances in rows", f"{took * 1e3:.0f} ms", f"{len(sheets)} sheets", "", "1 s", took < 1)
    first: Laid = sheets[0].instances[0]
    of = (first.piece.id, "", first.number)
    slid(wide, of, 10, 10)
    taken = []
    for step in range(40):
        begun = time.perf_counter()
        slid(wide, of, 10 + 31.7 * step, 10 + 17.3 * step)
        taken.append(time.perf_counter() - begun)
    median = float(np.median(taken))
    row(
        "where a dragged one comes to lie",
        f"{median * 1e3:.0f} ms",
        f"p95 {np.percentile(taken, 95) * 1e3:.0f} ms",
        "",
        "50 ms",
        median < 0.05,
    )
