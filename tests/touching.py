"""`make test T=lettering`: the tests that have to do with a change, by the name of a room, a file or a test.

A test is touched if the word stands in its name or its file's, or if its file imports a room or file of Foliant that is
called so. A journey takes long, so it is touched only by the name of its file: `make test T=board`.
"""

import ast
from collections.abc import Iterator
from functools import cache
from pathlib import Path

import pytest


def select(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Leave only the tests that are touched by what `--touching` names."""
    word = config.getoption("touching").lower().replace("-", "_")
    if not word:
        return
    touched = [item for item in items if _touched(item, word)]
    config.hook.pytest_deselected(items=[item for item in items if item not in touched])
    items[:] = touched


def _touched(item: pytest.Item, word: str) -> bool:
    if item.get_closest_marker("journey"):
        return word == item.path.stem.removeprefix("test_")
    return word in item.path.stem or word in item.name.lower().replace("-", "_") or word in _imported(item.path)


@cache
def _imported(file: Path) -> frozenset[str]:
    """Every room and file of Foliant that a test's file imports from."""
    return frozenset(part for name in _names(file) if name.startswith("foliant.") for part in name.split("."))


def _names(file: Path) -> Iterator[str]:
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom):
            yield from (f"{node.module}.{alias.name}" for alias in node.names)
