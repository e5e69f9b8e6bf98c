"""The eye: lenses learnt from marks, stock found where it lies, and what is said where it is not."""

import json
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np
import pytest
import shapely

from foliant.core.cli import main
from foliant.core.design import resolve
from foliant.core.equipment import SHIPPED, read_shop_edit
from foliant.core.errors import Refused
from foliant.core.eye import marks
from foliant.core.eye.finding import find_stock
from foliant.core.eye.straightening import read_picture, straightened
from foliant.core.machine import LinkLost
from foliant.core.machine.camera import Camera
from foliant.core.machine.standin import Scene
from foliant.core.machine.watching import watch
from foliant.core.program.lie import Lie
from foliant.core.ticket.marks import marks_sheet
from tests.lies import corners, how_far_off, lens_over, scenes, seen
from tests.ports import free_ports

BENCH = SHIPPED.machine("bench-laser")
BED = (BENCH.bed_width, BENCH.bed_height)
ASKEW = Scene(BENCH, 300, 200, lie=Lie(60, 70, 12))


def as_file(picture: np.ndarray, ending: str = ".png") -> bytes:
    return cv2.imencode(ending, picture)[1].tobytes()


@pytest.mark.parametrize("lens", ["plain", "wide", "leaning"])
def test_a_lens_is_learnt_from_marks_on_the_bed(lens: str) -> None:
    known = lens_over("bench-laser", lens)
    assert known.off < 0.1
    there = np.array([(x, y) for x in (20, 200, 380) for y in (20, 200, 380)], float)
    for height in (0.0, 6.0):
        assert known.lying(known.seen(there, height), height) == pytest.approx(there, abs=0.01)
    assert known.eye[2] == pytest.approx(466, rel=0.12)  # so high the stand-in stands


@pytest.mark.parametrize("scene", list(scenes(2, seed=7)), ids=lambda scene: f"{scene.light}-{scene.lens}")
def test_stock_is_found_where_somebody_put_it(scene: Scene) -> None:
    assert how_far_off(scene) < 0.5


def test_what_is_not_seen_is_said_and_never_guessed() -> None:
    lens = lens_over("bench-laser", "wide")
    empty, off_the_bed = Scene(BENCH), replace(ASKEW, lie=Lie(250, 100, 10))
    for scene in (replace(empty, light="glare"), off_the_bed):
        with pytest.raises(Refused, match="No sheet is found"):
            find_stock(seen(scene), lens, BED, 3.0, (300, 200))
    found = find_stock(seen(ASKEW), lens, BED, 3.0, (280, 200))  # it was said to be smaller
    assert (found.width, found.height) == pytest.approx((300, 200), abs=0.3)
    assert found.corners == pytest.approx(corners(ASKEW), abs=0.4)


def test_pictures_that_show_nothing_are_answered_with_a_sentence() -> None:
    lens = lens_over("bench-laser", "wide")
    picture = seen(replace(ASKEW, marks=True))
    for content, says in (
        (b"", "no picture"),
        (b"nonsense" * 50, "no picture"),
        (as_file(np.zeros((40, 60, 3), np.uint8)), "is black"),
        (as_file(np.full((40, 60, 3), 128, np.uint8)), "everything in it is alike"),
    ):
        with pytest.raises(Refused, match=says):
            read_picture(content)
    with pytest.raises(Refused, match="learn its lens again"):
        find_stock(picture[::2, ::2], lens, BED)
    with pytest.raises(Refused, match="No marks are seen"):
        marks.learn(seen(ASKEW), *BED)
    few = seen(Scene(BENCH, marks=True, lens="plain"))
    few[:, : few.shape[1] // 2 - 40] = 90
    few[: few.shape[0] // 2] = 90
    with pytest.raises(Refused, match=r"marks are seen|Too few marks"):
        marks.learn(few[:, : few.shape[1] // 2 + 160], *BED)


def test_a_lens_is_of_one_camera_over_one_bed() -> None:
    keep = {"do": "keep-lens", "machine": "bench-laser", "lens": lens_over("bench-laser", "wide").model_dump()}
    shop = read_shop_edit(keep).apply(SHIPPED)
    assert shop.machine("bench-laser").lens
    other = {"do": "change", "of": "machine bench-laser", "values": {"camera": "192.168.1.41:80/bed.jpg"}}
    assert read_shop_edit(other).apply(shop).machine("bench-laser").lens is None
    named = {"do": "change", "of": "machine bench-laser", "values": {"name": "Old laser"}}
    assert read_shop_edit(named).apply(shop).machine("bench-laser").lens
    with pytest.raises(Refused, match="over the bed"):
        read_shop_edit({**keep, "lens": {**keep["lens"], "place": [0, 0, 0]}})


def test_the_picture_is_laid_straight_under_the_sheet() -> None:
    lens = lens_over("bench-laser", "wide")
    plain = straightened(seen(ASKEW), lens, 0, 0, *BED, 1.0, 3.0)
    inside, outside = ASKEW.lie.map.transformPoint((5, 5)), ASKEW.lie.map.transformPoint((-5, 5))
    shades = [int(plain[round(BED[1] - y), round(x)].mean()) for x, y in (inside, outside)]
    assert shades[0] > shades[1] + 60


def test_the_sheet_of_marks_is_a_design_of_the_same_marks() -> None:
    design = marks_sheet(SHIPPED, "bench-laser")
    engraved = resolve(design.pieces[0]).engraved.shape
    number, left, near = marks.grid(*BED)[10]
    cells = [
        (left + (column + 0.5) * marks.WIDE / 6, BED[1] - near - marks.WIDE + (row + 0.5) * marks.WIDE / 6, dark)
        for row, line in enumerate(marks.pattern(number))
        for column, dark in enumerate(line)
    ]
    assert [bool(shapely.contains_xy(engraved, x, y)) for x, y, _ in cells] == [bool(dark) for *_, dark in cells]
    with pytest.raises(Refused, match="no longer in the workshop"):
        marks_sheet(SHIPPED, "gone")


@contextmanager
def cameras() -> Iterator[int]:
    (port,) = free_ports(1)
    with watch(list(SHIPPED.machines), port) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        yield port
        server.shutdown()


def test_cameras_answer_over_http_and_say_what_is_wrong(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    with cameras() as port:
        camera = Camera("127.0.0.1", port, "/bench-laser")
        camera.lay({"marks": True})
        (tmp_path / "marks.jpg").write_bytes(camera.picture())
        camera.lay({"width": 300, "height": 200, "thickness": 3, "lie": (60, 70, 12), "light": "lamp"})
        (tmp_path / "bed.jpg").write_bytes(camera.picture())
        for wrong in ({"light": "moon"}, {"lie": "there"}):
            with pytest.raises(LinkLost, match="answers 400"):
                camera.lay(wrong)
        with pytest.raises(LinkLost, match="answers 404"):
            Camera("127.0.0.1", port, "/loft-laser").picture()
    with pytest.raises(LinkLost, match="No camera answers"):
        Camera("127.0.0.1", port, "/bench-laser").picture()
    look = ["look", str(tmp_path / "bed.jpg"), "--marks", str(tmp_path / "marks.jpg"), "--size", "300x200", "--json"]
    assert main(look) == 0
    told = json.loads(capsys.readouterr().out)
    assert (told["x"], told["y"], told["turn"]) == pytest.approx((60, 70, 12), abs=0.3)
    assert main(look[:2]) == 2
    assert "is not known: give a picture of its marks" in capsys.readouterr().err
