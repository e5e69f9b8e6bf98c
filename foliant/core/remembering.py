"""Remembering: results kept by what they were asked with, bounded by bytes, and all forgotten at once where the world
has changed.

All functions share one store, so that none is too small for what is walked in turn while another stands empty.
"""

import threading
from collections.abc import Callable
from contextlib import suppress
from functools import wraps
from typing import Any, TypeVar

import numpy as np
import shapely
from cachetools import LRUCache
from cachetools.keys import hashkey

Function = TypeVar("Function", bound=Callable[..., Any])

MOST_BYTES = 320_000_000
"""How much all results together may weigh; those that were not asked for the longest go first."""

_SAMPLE = 32
_lock = threading.RLock()


def remembered(function: Function) -> Function:
    """Keep the results of a pure function of hashable arguments."""

    @wraps(function)
    def asked(*args: Any, **named: Any) -> Any:
        key = hashkey(function, *args, **named)
        with _lock, suppress(KeyError):
            return _store[key][1]
        found = function(*args, **named)
        _keep(key, args, found)
        return found

    return asked  # type: ignore[return-value]


def told(function: Callable[..., Any], found: Any, *args: Any) -> None:
    """Have a remembered function know a result that was come by in another way."""
    _keep(hashkey(function.__wrapped__, *args), args, found)  # type: ignore[attr-defined]


def recalled(function: Callable[..., Any], *args: Any) -> bool:
    """Whether a remembered function knows its result for these arguments."""
    with _lock:
        return hashkey(function.__wrapped__, *args) in _store  # type: ignore[attr-defined]


def _keep(key: Any, args: tuple[Any, ...], found: Any) -> None:
    heavy = weight((args, found))
    if heavy < MOST_BYTES:
        with _lock:
            _store[key] = (heavy, found)


def forget() -> None:
    """Forget every result: a font that was missing has come, say."""
    with _lock:
        _store.clear()


def weight(thing: Any) -> int:
    """About how many bytes a result takes; long lists are judged by a sample."""
    match thing:
        case np.ndarray():
            return int(thing.nbytes) + 112
        case str() | bytes():
            return len(thing) + 64
        case int() | float() | bool() | None:
            return 32
        case shapely.Geometry():
            return 16 * int(shapely.get_num_coordinates(thing)) + 256
        case dict():
            return 64 + _weight_of_many([*thing.keys(), *thing.values()])
        case tuple() | list() | frozenset():
            return 64 + _weight_of_many(thing if not isinstance(thing, frozenset) else list(thing))
    if found := getattr(thing, "_weight", 0):
        return int(found)
    inner = getattr(thing, "__dict__", None)
    # Listed in one go: another thread may keep one more of its properties meanwhile.
    found = 64 + sum(map(weight, list(inner.values()))) if inner else 64
    with suppress(AttributeError, TypeError):
        object.__setattr__(thing, "_weight", found)  # parts of a design are weighed once, and are in many keys
    return int(found)


def _weight_of_many(things: Any) -> int:
    if len(things) <= 2 * _SAMPLE:
        return sum(map(weight, things)) + 8 * len(things)
    step = len(things) // _SAMPLE
    sample = things[::step]
    return int(sum(map(weight, sample)) * len(things) / len(sample)) + 8 * len(things)


_store: LRUCache[Any, Any] = LRUCache(MOST_BYTES, getsizeof=lambda kept: kept[0])
