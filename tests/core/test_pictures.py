"""Pictures: taken in, toned, cropped and masked, and burnt dot by dot."""

import io
import json
import struct
import zipfile
import zlib
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from foliant.core.checks import check
from foliant.core.design import Design, resolve
from foliant.core.errors import Refused
from foliant.core.formats import WRITERS, write_design
from foliant.core.formats.bundle import read_bundle
from foliant.core.machine.strokes import shortly
from foliant.core.seeing import DITHERS, dots_of
from foliant.core.seeing.intake import KEPT_PIXELS, take_picture
from tests.core.test_cli import command, foliant
from tests.making import check_piece, edited, one_piece, plan, put
from tests.pictures import encoded, kept, waves

pytestmark = pytest.mark.usefixtures("read_here")

HALVES = np.repeat(np.array([[0, 255]], np.uint8), 100, 1).repeat(150, 0)  # the left black, the right white


def plate(picture: str, *more: dict, **values: object) -> Design:
    plated = one_piece(put("rectangle", width=120, height=90), put("picture", picture=picture, width=100, **values))
    return edited(plated, *more)


def darkness(design: Design, spacing: float = 0.5, tone: str = "grey") -> np.ndarray:
    ((_, pictured),) = resolve(design.pieces[0]).pictures
    return dots_of(pictured, spacing, tone).darkness


def line(design: Design):
    job = plan(design)
    number = next(number for number, one in enumerate(job.lines) if one.id == "picture")
    return job, job.lines[number], job.program.toolpath(), job.program.toolpath().operation == number


# Taking in


def test_a_photograph_is_turned_right_by_its_own_data() -> None:
    exif = Image.Exif()
    exif[0x0112] = 6  # held so that its top lay on the right
    found = take_picture(encoded(HALVES, "JPEG", exif=exif))
    assert (found.width, found.height) == (150, 200)
    upright = np.asarray(Image.open(io.BytesIO(found.data)))
    assert upright[:90].mean() < 5
    assert upright[110:].mean() > 250


@pytest.mark.parametrize("form", ["PNG", "JPEG", "WEBP", "GIF"])
def test_every_kind_is_read(form: str) -> None:
    found = take_picture(encoded(HALVES, form))
    assert (found.width, found.height) == (200, 150)
    assert np.asarray(Image.open(io.BytesIO(found.data))).mean() == pytest.approx(127.5, abs=2)


def test_deep_and_transparent_pictures_keep_their_greys() -> None:
    deep = take_picture(encoded(HALVES.astype(np.uint16) * 257))
    assert np.asarray(Image.open(io.BytesIO(deep.data)))[0, [0, -1]].tolist() == [0, 255]
    clear = np.zeros((150, 200, 4), np.uint8)
    clear[:, :100, 3] = 255  # black on the left, nothing on the right
    for inverted, whole in (("no", 0.5), ("yes", 0.0)):  # what is clear is never burnt, whichever way round
        found = darkness(plate(kept(clear), inverted=inverted))
        assert found.mean() / 255 == pytest.approx(whole, abs=0.02)
    with pytest.raises(Refused, match="transparent"):
        take_picture(encoded(np.zeros((9, 9, 4), np.uint8)))


def test_a_photograph_of_forty_megapixels_is_taken_and_kept_smaller() -> None:
    found = take_picture(encoded(np.tile(waves(720, 550), (10, 10)), "JPEG", quality=60))
    assert found.width * found.height <= KEPT_PIXELS * 1.01
    assert found.width / found.height == pytest.approx(7200 / 5500, rel=0.01)


def _png(wide: int, high: int) -> bytes:
    """A PNG that says it is so large."""
    head = struct.pack(">II5B", wide, high, 8, 0, 0, 0, 0)
    chunks = ((b"IHDR", head), (b"IDAT", zlib.compress(bytes(1000))), (b"IEND", b""))
    body = (
        struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data)) for kind, data in chunks
    )
    return b"\x89PNG\r\n\x1a\n" + b"".join(body)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "not a picture"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "not a picture"),
        (b"%PDF-1.7 and so on", "not a picture"),
        (encoded(HALVES)[:150], "damaged"),
        (_png(60_000, 60_000), "3,600 million pixels"),
        (_png(400, 300), "damaged"),
    ],
)
def test_what_is_no_picture_or_would_burst_is_refused_in_a_sentence(data: bytes, says: str) -> None:
    with pytest.raises(Refused, match=says):
        take_picture(data)


# Greys


@given(level=st.integers(0, 255), dither=st.sampled_from(sorted(set(DITHERS) - {"plain"})))
def test_dots_are_as_dark_on_the_whole_as_the_grey_they_tell(level: int, dither: str) -> None:
    told = DITHERS[dither](np.full((160, 200), level, np.uint8))
    assert told.mean() / 255 == pytest.approx(level / 255, abs=0.01)
    assert dither == "grey" or set(np.unique(told)) <= {0, 255}


@pytest.mark.parametrize("turn", [0, 90, 200])
@pytest.mark.parametrize("tone", sorted(set(DITHERS) - {"plain"}))
def test_a_picture_is_burnt_as_dark_as_it_is(tone: str, turn: int) -> None:
    pixels = waves()
    picture = plate(kept(pixels), {"do": "change", "of": "part a3", "values": {"rotation": turn}})
    burnt = darkness(picture, 0.1, tone).sum() / 255 * 0.01 / (100 * 75)
    assert burnt == pytest.approx(1 - pixels.mean() / 255, abs=0.01)


def test_tones_are_changed_one_by_one() -> None:
    key = kept(waves())
    plain = darkness(plate(key)).mean()
    assert darkness(plate(key, brightness=30)).mean() < plain - 40
    assert darkness(plate(key, gamma=2)).mean() < plain - 20
    assert darkness(plate(key, inverted="yes")).mean() == pytest.approx(255 - plain, abs=2)
    assert darkness(plate(key, contrast=60)).std() > darkness(plate(key)).std() + 20
    soft = kept(100 + HALVES // 5)
    assert np.ptp(darkness(plate(soft, sharpen=200))) > 1.5 * np.ptp(darkness(plate(soft)))
    even = edited(plate(kept(100 + waves() // 5)), {"do": "even-tones", "piece": "p1", "parts": ["a3"]})
    assert darkness(even).max() > 245
    assert darkness(even).min() < 10


# Where it lies


def test_a_picture_lands_in_proportion_and_leaves_an_edge_of_its_plate() -> None:
    design = one_piece(put("rectangle", width=120, height=60, x=60, y=30), put("picture", picture=kept(waves())))
    ((_, pictured),) = resolve(design.pieces[0]).pictures
    left, top, right, bottom = pictured.region.path.bounds
    assert (right - left) / (bottom - top) == pytest.approx(4 / 3)
    assert (left + right) / 2 == pytest.approx(60)
    assert bottom - top == pytest.approx(0.84 * 60)


def test_cropping_moves_nothing_and_sizes_go_by_what_is_seen() -> None:
    design = edited(plate(kept(HALVES)), {"do": "change", "of": "part a3", "values": {"left": 25}})
    before = resolve(plate(kept(HALVES)).pieces[0]).pictures[0][1].region.path.bounds
    after = resolve(design.pieces[0]).pictures[0][1].region.path.bounds
    assert after[0] == pytest.approx(before[0] + 25)
    assert after[1:] == pytest.approx(before[1:])
    assert darkness(design).mean() / 255 == pytest.approx(1 / 3, abs=0.02)
    wider = edited(design, {"do": "change", "of": "part a3", "values": {"width": 150}})
    assert resolve(wider.pieces[0]).pictures[0][1].region.path.bounds[2] - 150 == pytest.approx(
        resolve(wider.pieces[0]).pictures[0][1].region.path.bounds[0]
    )
    with pytest.raises(Refused, match="must be left"):
        plate(kept(HALVES), left=60, right=60)


@pytest.mark.parametrize(
    ("edit", "dark"),
    [
        ({"do": "rotate-parts", "piece": "p1", "parts": ["a3"], "by": 90}, (0, slice(None))),
        ({"do": "rotate-parts", "piece": "p1", "parts": ["a3"], "by": 180}, (slice(None), -1)),
        ({"do": "rotate-parts", "piece": "p1", "parts": ["a3"], "by": -90}, (-1, slice(None))),
        ({"do": "flip-parts", "piece": "p1", "parts": ["a3"], "axis": "across"}, (slice(None), -1)),
        ({"do": "flip-parts", "piece": "p1", "parts": ["a3"], "axis": "down"}, (slice(None), 0)),
    ],
)
def test_a_turned_picture_is_burnt_turned(edit: dict, dark: tuple) -> None:
    found = darkness(plate(kept(HALVES), edit))
    assert found[dark].min() > 250
    assert found.mean() / 255 == pytest.approx(0.5, abs=0.02)


def test_a_picture_turned_on_the_sheet_is_burnt_as_it_lies() -> None:
    sheet = {"do": "change", "of": "stock", "values": {"width": 300, "height": 300}}
    lies = edited(plate(kept(HALVES)), sheet, {"do": "place", "piece": "p1", "number": 1, "x": 10, "y": 10, "turn": 90})
    _, _, path, burns = line(lies)
    points = path.points[burns & path.working]
    across = np.ptp(points[:, :, 0])
    down = np.ptp(points[:, :, 1])
    assert (across, down) == (pytest.approx(75, abs=0.2), pytest.approx(49.9, abs=0.2))  # only the dark half of 100


def test_a_mask_is_a_shape_that_is_used_up_and_moves_with_the_picture() -> None:
    design = plate(kept(np.zeros((75, 100), np.uint8)), put("circle", diameter=40, x=60, y=45, role="guides"))
    masked = edited(design, {"do": "mask-pictures", "piece": "p1", "parts": ["a3", "a4"]})
    assert [part.id for part in masked.pieces[0].parts] == ["a2", "a3"]
    area = darkness(masked, 0.1).sum() / 255 * 0.01
    assert area == pytest.approx(np.pi * 20**2, rel=0.01)
    moved = edited(masked, {"do": "move-parts", "piece": "p1", "parts": ["a3"], "dx": 10, "dy": 5})
    assert darkness(moved, 0.1).sum() / 255 * 0.01 == pytest.approx(area, rel=0.01)
    within = edited(design, {"do": "mask-pictures", "piece": "p1", "parts": ["a3"]})  # the plate itself: it stays
    assert len(within.pieces[0].parts) == 3
    bare = edited(masked, {"do": "unmask-pictures", "piece": "p1", "parts": ["a3"]})
    assert darkness(bare).min() == 255
    for refused in ({"parts": ["a2"]}, {"parts": ["a9"]}):
        with pytest.raises(Refused):
            edited(design, {"do": "mask-pictures", "piece": "p1", **refused})


def test_a_picture_on_a_sign_that_is_split_is_whole_on_its_pieces_together() -> None:
    turned = {"do": "rotate-parts", "piece": "p1", "parts": ["a3"], "by": 8}
    whole = plate(kept(np.zeros((75, 100), np.uint8)), turned)
    split = edited(whole, {"do": "split-piece", "piece": "p1", "columns": 2, "rows": 1, "joint": "straight"})
    pieces = [resolve(piece) for piece in split.pieces[1:]]
    after = [one.region.shape for piece in pieces for _, one in piece.pictures]
    assert sum(one.area for one in after) == pytest.approx(100 * 75, rel=1e-4)
    assert len(after) == 2


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        ({"do": "make-plain", "parts": ["a3"]}, "no outline to be made plain"),
        ({"do": "combine-parts", "parts": ["a2", "a3"], "how": "intersect"}, "show it only inside"),
    ],
)
def test_what_would_lose_a_picture_is_refused(edit: dict, says: str) -> None:
    with pytest.raises(Refused, match=says):
        plate(kept(waves()), {"piece": "p1", **edit})


# On the machine


def test_rows_are_runs_and_blank_ends_are_left_out() -> None:
    _, found, path, burns = line(
        plate(kept(HALVES), {"do": "change", "of": "operation picture", "values": {"tone": "plain"}})
    )
    works = burns & path.working
    assert works.sum() == 750  # a row of 750 is one run, though it is 500 dots wide
    assert found.moves == 750
    left = path.points[works][:, :, 0].min()
    assert path.points[works][:, :, 0].max() - left == pytest.approx(50, abs=0.2)
    lengths = np.abs(path.points[works][:, 3, 0] - path.points[works][:, 0, 0])
    assert lengths == pytest.approx(50, abs=0.2)


def test_every_other_row_comes_back_over_blank_ones_too() -> None:
    stripes = np.full((150, 200), 255, np.uint8)
    stripes[::10] = 0
    _, _, path, burns = line(
        plate(kept(stripes), {"do": "change", "of": "operation picture", "values": {"tone": "plain"}})
    )
    rows = path.points[burns & path.working][:, [0, 3]]
    ways = np.sign(rows[:, 1, 0] - rows[:, 0, 0])
    assert (ways[1:] == -ways[:-1]).all()


def test_greys_by_power_reach_from_the_least_to_the_most() -> None:
    ramp = np.tile(np.linspace(0, 255, 300).astype(np.uint8), (50, 1))
    values = {"tone": "grey", "least": "8", "power": "40"}
    design = plate(kept(ramp), {"do": "change", "of": "operation picture", "values": values})
    job, _, path, burns = line(design)
    powers = path.power[burns & path.working]
    assert powers.max() == pytest.approx(40)
    assert 8 < powers.min() < 9.5
    assert len(np.unique(powers.round(3))) > 50
    text = WRITERS["gcode"].write(job).decode() if "gcode" in WRITERS else ""
    assert "S400" in text
    assert any(f"S{power}" in text for power in range(85, 95))


def test_two_machines_and_a_recipe_that_is_guessed_from_engraving() -> None:
    key = kept(waves())
    thicker = {"do": "change", "of": "stock", "values": {"thickness": 5}}
    _, found, _, _ = line(edited(plate(key), thicker))
    assert found.recipe.guessed
    cutter = plan(edited(plate(key), {"do": "change", "of": "ticket", "values": {"machine": "desk-cutter"}}))
    says = [finding.sentence for finding in check(cutter) if finding.check == "operations_have_settings"]
    assert any("cannot shade" in one for one in says)


def test_a_picture_is_given_only_to_what_burns_pictures() -> None:
    design = plate(kept(waves()), put("words", text="Luna", x=60, y=5))
    assign = {"do": "assign-marks", "piece": "p1", "mark": "engraves"}
    with pytest.raises(Refused, match="burns no pictures"):
        edited(design, {**assign, "parts": ["a3"], "operation": "engrave"})
    with pytest.raises(Refused, match="burns only pictures"):
        edited(design, {**assign, "parts": ["a4"], "operation": "picture"})
    own = edited(design, {"do": "add-operation", "piece": "p1", "parts": ["a3"], "mark": "engraves"})
    assert [one.work.key for one in plan(own).lines if one.marks[0][0].pictures] == ["picture"]


def test_what_spoils_a_picture_is_found_with_a_press_that_mends() -> None:
    checks = lambda design: {one.check: one for one in check_piece(design, design.pieces[0])}  # noqa: E731
    assert checks(plate(kept(waves()))) == {}
    gone = checks(plate("gone.png"))["what_parts_are_made_of_is_here"]
    assert gone.level == "stop"
    assert checks(edited(plate("gone.png"), gone.fixes[0].edit.model_dump(by_alias=True))) == {}
    for pixels in (np.full((300, 400), 254, np.uint8), waves(40, 30)):
        design = plate(kept(pixels))
        found = checks(design)["pictures_show_something"]
        assert checks(edited(design, found.fixes[0].edit.model_dump(by_alias=True))) == {}


def test_what_a_machine_burnt_is_told_shortly_and_as_dark() -> None:
    row = [
        [x / 10, y, x / 10 + 0.05, y, x / 10 + 0.1, y, 40.0 if x % 2 else 20.0] for y in range(20) for x in range(200)
    ]
    told = np.array(shortly(row, most=1000))
    assert len(told) <= 1000
    assert (told[:, 6] * (told[:, 4] - told[:, 0])).sum() == pytest.approx(20 * 20 * 30, rel=0.02)
    assert shortly(row) == row


# Beside a design file


def test_a_picture_lies_beside_the_design_file(tmp_path: Path) -> None:
    (tmp_path / "sky").mkdir()
    (tmp_path / "sky" / "waves.jpg").write_bytes(encoded(waves(), "JPEG"))
    file = tmp_path / "moon.json"
    file.write_text(write_design(plate("sky/waves.jpg")))
    estimate = json.loads(foliant("estimate", str(file), "--json").stdout)
    assert estimate["operations"][0]["operation"] == "picture"
    for ending, holds in (("svg", "data:image/png;base64,"), ("gcode", "; Pictures")):
        assert foliant("export", str(file), "--to", str(tmp_path / f"out.{ending}")).returncode == 0
        assert holds in (tmp_path / f"out.{ending}").read_text()
    assert foliant("proof", str(file), "--to", str(tmp_path / "proof.png")).returncode == 0
    proof = np.asarray(Image.open(tmp_path / "proof.png").convert("L"))
    assert len(np.unique(proof)) > 60  # greys, not one flat patch
    assert foliant("ticket", str(file), "--to", str(tmp_path / "ticket.pdf")).returncode == 0
    assert b"/SMask" in (tmp_path / "ticket.pdf").read_bytes()
    (tmp_path / "sky" / "waves.jpg").write_bytes(b"no picture at all")
    spoilt = command("estimate", str(file))
    assert spoilt.returncode == 2
    assert "sky/waves.jpg: This is not a picture" in spoilt.stderr
    (tmp_path / "sky" / "waves.jpg").unlink()
    assert "is not here" in command("check", str(file)).stdout
    with pytest.raises(Refused, match="cannot be called"):
        plate("../secret.png")


def test_a_design_goes_with_its_pictures_as_one_file(tmp_path: Path) -> None:
    bundle = WRITERS["zip"].write(plan(plate(kept(waves()), name="Luna")))
    (tmp_path / "moon.zip").write_bytes(bundle)
    assert json.loads(foliant("check", str(tmp_path / "moon.zip"), "--json").stdout) == {"findings": []}
    content, files = read_bundle(bundle)
    assert list(files) == ["pictures/1.png"]
    assert "pictures/1.png" in content.decode()
    for spoilt, says in ((bundle[:300], "damaged"), (_zipped({"a.txt": b"x"}), "no design file")):
        with pytest.raises(Refused, match=says):
            read_bundle(spoilt)
    with pytest.raises(Refused, match="unpacks to more"):
        read_bundle(_zipped({f"{number}.png": b"" for number in range(100)}))


def _zipped(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as written:
        for name, data in files.items():
            written.writestr(name, data)
    return out.getvalue()
