"""Files for other machines: the same moves in every dialect, a picture of true size, all sheets in one archive."""

import io
import re
import zipfile
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from foliant.core.formats import every_sheet, write_design, write_gcode
from foliant.core.formats.dialects import dialect_of, read_dialect
from foliant.core.formats.png import write_png
from foliant.core.ticket import Job
from tests.core.test_cli import foliant
from tests.core.test_resuming import mixed
from tests.making import edited, plan, tag

JOBS = {"tag": plan(tag()), "mixed": plan(mixed())}
DIALECTS = ("", "lines", "steady", "inch", "s=255", "lines,steady,inch,s=255")


def burnt(text: str, full: float) -> list[tuple[float, float, float, float, float]]:
    """What a file has burnt, read by nothing of Foliant's: straight steps in mm as (x, y, x, y, power in %)."""
    unit, x, y, code, power, mode, on = 1.0, 0.0, 0.0, "", 0.0, "", False
    found = []
    for line in text.splitlines():
        words = re.findall(r"([A-Z])([-+.\d]+)", line.partition(";")[0])
        values = {letter: float(number) for letter, number in words}
        for letter, number in words:
            if letter + number in ("G20", "G21"):
                unit = 25.4 if number == "20" else 1.0
            elif letter == "G" and number in "0123":
                code = number
            elif letter == "M" and number in ("3", "4", "5"):
                mode, on = number, number != "5"
        power = values.get("S", power)
        if not {"X", "Y"} & values.keys() or "Z" in values:
            continue
        to_x, to_y = values.get("X", x / unit) * unit, values.get("Y", y / unit) * unit
        if code == "0":
            assert not (mode == "3" and on and power), "a steady beam is off when it travels"
        elif code == "1" and on and power:
            found.append((x, y, to_x, to_y, power / full * 100))
        elif on and power:
            centre = complex(x, y) + complex(values.get("I", 0), values.get("J", 0)) * unit
            a, b = complex(x, y) - centre, complex(to_x, to_y) - centre
            turn = np.angle(b / a)
            turn += 2 * np.pi * ((code == "3") and turn <= 1e-9) - 2 * np.pi * ((code == "2") and turn >= -1e-9)
            at = [centre + a * np.exp(1j * turn * share) for share in np.linspace(0, 1, 200)]
            found += [(p.real, p.imag, q.real, q.imag, power / full * 100) for p, q in pairwise(at)]
        x, y = to_x, to_y
    return found


@pytest.mark.parametrize("name", list(JOBS))
@pytest.mark.parametrize("typed", DIALECTS)
def test_every_dialect_burns_the_same(name: str, typed: str) -> None:
    text = write_gcode(JOBS[name], read_dialect(typed))
    plain, said = np.array(burnt(write_gcode(JOBS[name]), 1000)), np.array(burnt(text, 255 if "255" in typed else 1000))
    lengths = [np.hypot(*(one[:, 2:4] - one[:, :2]).T) for one in (plain, said)]
    assert lengths[1].sum() == pytest.approx(lengths[0].sum(), rel=2e-4)
    assert said[:, :4].min(axis=0) == pytest.approx(plain[:, :4].min(axis=0), abs=0.011)
    assert said[:, :4].max(axis=0) == pytest.approx(plain[:, :4].max(axis=0), abs=0.011)
    energy = [(length * one[:, 4]).sum() for length, one in zip(lengths, (plain, said), strict=True)]
    assert energy[1] == pytest.approx(energy[0], rel=1e-3)
    assert ("G2 " in text or "G3 " in text) == ("lines" not in typed)
    assert ("G20" in text) == ("inch" in typed)
    assert text.rstrip().endswith("M2")


@pytest.mark.parametrize("origin", ["near-right", "far-left", "far-right", "middle"])
def test_files_are_measured_from_where_the_machine_has_its_origin(origin: str) -> None:
    job = JOBS["mixed"]
    wide, high = job.machine.bed_width, job.machine.bed_height
    plain, said = (np.array(burnt(write_gcode(job, read_dialect(one)), 1000))[:, :4] for one in ("", origin))
    across = {"near-right": (-1, wide), "far-right": (-1, wide), "middle": (1, -wide / 2)}.get(origin, (1, 0))
    away = {"far-left": (-1, high), "far-right": (-1, high), "middle": (1, -high / 2)}.get(origin, (1, 0))
    assert said[:, 0] == pytest.approx(across[0] * plain[:, 0] + across[1], abs=0.01)
    assert said[:, 3] == pytest.approx(away[0] * plain[:, 3] + away[1], abs=0.01)


def test_a_machine_has_a_dialect_with_lines_of_its_own() -> None:
    machine = SHIPPED.machine("bench-laser").model_copy(
        update={"arcs": "lines", "beam": "steady", "full": 255.0, "head": "M8, G92 X0 Y0", "tail": "M9"}
    )
    shop = SHIPPED.model_copy(update={"machines": (machine, *SHIPPED.machines[1:])})
    lines = [one for one in write_gcode(plan(tag(), shop)).splitlines() if not one.startswith(";")]
    assert (lines[:2], lines[-2:]) == (["M8", "G92 X0 Y0"], ["M9", "M2"])
    assert dialect_of(machine).full == 255
    assert not any(" S8" in line and float(line.rpartition("S")[2]) > 255 for line in lines)
    with pytest.raises(Refused, match="is no dialect"):
        read_dialect("klingon")


def _sheets(job: Job) -> bytes:
    many = edited(job.design, {"do": "change", "of": "piece p1", "values": {"copies": 60}})
    return every_sheet(many, job.shop, "svg")


def test_a_picture_of_true_size_and_all_sheets_in_one_archive(tmp_path: Path) -> None:
    job = JOBS["tag"]
    picture = Image.open(io.BytesIO(write_png(job, 100)))
    stock = job.design.stock
    assert picture.size == pytest.approx((stock.width / 25.4 * 100, stock.height / 25.4 * 100), abs=1)
    assert np.asarray(picture.convert("L")).min() < 200
    with pytest.raises(Refused, match="too large"):
        write_png(job, 4000)
    assert zipfile.ZipFile(io.BytesIO(_sheets(job))).namelist()[:2] == ["sheet-1.svg", "sheet-2.svg"]
    design = tmp_path / "tag.json"
    design.write_text(write_design(tag()))
    for target, more in (
        ("a.hpgl", ()), ("a.gcode", ("--operation", "outer", "--dialect", "lines,far-left,s=255")),
        ("a.png", ("--dots", "72")), ("a.zip", ("--each", "dxf")),
    ):  # fmt: skip
        said = foliant("export", str(design), "--to", str(tmp_path / target), *more)
        assert (said.returncode, (tmp_path / target).stat().st_size > 100) == (0, True), said.stderr
    assert foliant("export", str(design), "--to", str(tmp_path / "a.gcode"), "--dialect", "x").returncode == 2
