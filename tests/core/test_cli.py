"""The command line: the core without the web."""

import io
import json
import subprocess
import sys
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path

import pytest

from foliant.core.cli import main
from foliant.core.formats import write_design
from tests.making import edited, one_piece, put, tag


def foliant(*arguments: str, stdin: str = "") -> subprocess.CompletedProcess[str]:
    """What a command says and answers with, run here: Python takes seconds to begin anew."""
    out, err = io.StringIO(), io.StringIO()
    with pytest.MonkeyPatch.context() as patch, redirect_stdout(out), redirect_stderr(err):
        patch.setattr(sys, "stdin", io.TextIOWrapper(io.BytesIO(stdin.encode())))
        try:
            code = main(list(map(str, arguments)))
        except SystemExit as ended:
            code = int(ended.code or 0)
    return subprocess.CompletedProcess(arguments, code, out.getvalue(), err.getvalue())


def command(*arguments: str) -> subprocess.CompletedProcess[str]:
    """The same in a process of its own, which remembers nothing."""
    return subprocess.run([sys.executable, "-m", "foliant", *arguments], capture_output=True, text=True)


def test_it_is_a_command_of_python(file: str) -> None:
    said = command("outline", file)
    assert (said.returncode, said.stdout, said.stderr) == (0, foliant("outline", file).stdout, "")


@pytest.fixture(name="file")
def _file(tmp_path: Path) -> str:
    target = tmp_path / "tags.json"
    target.write_text(write_design(tag(copies=2)))
    return str(target)


def test_outline_prints_path_data_area_and_bodies(file: str) -> None:
    (row,) = json.loads(foliant("outline", file, "--json").stdout)
    assert row["piece"] == "Guide tag"
    assert row["bodies"] == 1
    assert row["area"] == pytest.approx(72 * 30 - 4 * 18 - (3.5 * 10.5 + 3.14159 * 1.75**2), abs=0.01)
    assert row["d"].startswith("M")
    assert foliant("outline", file).stdout.startswith("Guide tag: ")


def test_the_program_is_printed_move_by_move(file: str) -> None:
    rows = [json.loads(row) for row in foliant("program", file, "--json").stdout.splitlines()]
    assert {row["operation"] for row in rows} == {"engrave", "inner", "outer"}
    assert {row["instance"] for row in rows} == {"Guide tag 1", "Guide tag 2"}
    assert all((row["power"] == 0) == (row["move"] == "travel") for row in rows)
    assert len(foliant("program", file).stdout.splitlines()) == len(rows)


def test_estimate_and_check(file: str) -> None:
    estimate = json.loads(foliant("estimate", file, "--json").stdout)
    assert [row["operation"] for row in estimate["operations"]] == ["engrave", "inner", "outer"]
    assert estimate["seconds"] == pytest.approx(
        sum(row["seconds"] for row in estimate["operations"]) + estimate["home"], abs=0.1
    )
    assert "in all" in foliant("estimate", file).stdout
    checked = foliant("check", file, "--json")
    assert (checked.returncode, json.loads(checked.stdout)) == (0, {"findings": []})


def test_check_exits_1_where_the_job_would_be_spoilt() -> None:
    loose = one_piece(put("circle", diameter=40), put("words", role="cuts", text="O", cap_height=12))
    checked = foliant("check", "-", stdin=write_design(loose))
    assert checked.returncode == 1
    assert "falls out" in checked.stdout


def test_export_writes_every_format(file: str, tmp_path: Path) -> None:
    for ending, begins in (("svg", "<?xml"), ("gcode", "; Open-night tags"), ("json", "{")):
        target = tmp_path / f"out.{ending}"
        assert foliant("export", file, "--to", str(target)).returncode == 0
        assert target.read_text().startswith(begins)


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (("outline", "no-such-file.json"), "cannot be read"),
        (("check", "-"), "not valid JSON"),
        (("export", "-", "--to", "out.doc"), "should end in"),
        (("export", "-", "--to", "/no/such/folder/out.svg"), "not valid JSON"),
        (("machine", "--profile", "moonbeam"), "moonbeam"),
    ],
)
def test_bad_input_is_one_sentence_on_stderr_and_exit_2(arguments: tuple[str, ...], says: str) -> None:
    result = foliant(*arguments)
    assert result.returncode == 2
    assert says in result.stderr
    assert result.stderr.count("\n") == 1
    assert "Traceback" not in result.stderr


def test_a_design_of_another_version_is_refused(tmp_path: Path) -> None:
    text = write_design(edited(tag())).replace('"version": 4', '"version": 5')
    assert "version 5" in foliant("check", "-", stdin=text).stderr
