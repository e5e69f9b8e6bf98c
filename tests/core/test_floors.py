"""The core stands alone, and says what it is for. That a room stands on those below it, `make lint` proves."""

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]
CORE = sorted(
    ".".join(file.relative_to(ROOT).with_suffix("").parts) for file in (ROOT / "foliant" / "core").rglob("*.py")
)


def test_the_core_runs_without_the_web() -> None:
    modules = [name.removesuffix(".__init__") for name in CORE]
    script = f"import importlib, sys\nfor name in {modules!r}: importlib.import_module(name)\n"
    script += "print([name for name in ('django', 'ninja', 'gunicorn') if name in sys.modules])"
    result = subprocess.run([sys.executable, "-c", script], cwd=ROOT, capture_output=True, text=True)
    assert result.stdout.strip() == "[]", result.stderr


def test_every_file_says_what_it_is_for() -> None:
    files = (ROOT / "foliant" / "core").rglob("*.py")
    assert [str(file) for file in files if not file.read_text().startswith('"""')] == []
