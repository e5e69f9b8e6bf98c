"""The floors: a room stands only on those below it."""

import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
CORE = sorted(
    ".".join(file.relative_to(ROOT).with_suffix("").parts) for file in (ROOT / "foliant" / "core").rglob("*.py")
)


def test_the_contracts_of_the_import_linter_hold() -> None:
    linter = Path(sys.executable).parent / "lint-imports"
    result = subprocess.run([linter], cwd=ROOT, capture_output=True, text=True)
    assert result.returncode == 0, result.stdout[-2000:]


def test_the_core_runs_without_the_web() -> None:
    modules = [name.removesuffix(".__init__") for name in CORE]
    script = f"import importlib, sys\nfor name in {modules!r}: importlib.import_module(name)\n"
    script += "print([name for name in ('django', 'ninja', 'gunicorn') if name in sys.modules])"
    result = subprocess.run([sys.executable, "-c", script], cwd=ROOT, capture_output=True, text=True)
    assert result.stdout.strip() == "[]", result.stderr


@pytest.mark.parametrize("name", CORE)
def test_every_file_says_what_it_is_for(name: str) -> None:
    text = (ROOT / Path(*name.split("."))).with_suffix(".py").read_text()
    assert text.startswith('"""')
