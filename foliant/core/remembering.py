"""Remembering: results kept by what they were asked with, and all forgotten at once where the world has changed."""

from collections.abc import Callable
from functools import _lru_cache_wrapper, lru_cache
from typing import Any, TypeVar

Result = TypeVar("Result")

_remembered: list["_lru_cache_wrapper[Any]"] = []


def remembered(maxsize: int) -> Callable[[Callable[..., Result]], "_lru_cache_wrapper[Result]"]:
    """Keep the newest `maxsize` results of a pure function."""

    def keep(function: Callable[..., Result]) -> "_lru_cache_wrapper[Result]":
        cached = lru_cache(maxsize=maxsize)(function)
        _remembered.append(cached)
        return cached

    return keep


def forget() -> None:
    """Forget every result: a font that was missing has come, say."""
    for cached in _remembered:
        cached.cache_clear()
