"""Whether what a finding offers mends it: a press that leaves it as it is, or spoils something else, is not offered."""

import re
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, Fix
from foliant.core.design import apply, resolve
from foliant.core.design.benches import alone
from foliant.core.design.budget import weight
from foliant.core.errors import Refused

Check = Callable[[Bench], Iterator[Finding]]
About = tuple[str, str]

_QUICK = 1500
"""Segments (see `design.budget`) of a piece on which fixes are tried before they are offered."""


def about(finding: Finding) -> About:
    """What a finding is about, whatever it measures."""
    return finding.check, re.sub(r"[\d./ ]+", " ", finding.title)


def proved(bench: Bench, found: Sequence[Finding], checks: Sequence[Check], finding: Finding) -> tuple[Fix, ...]:
    """Of the fixes of a finding, those after which it is gone and nothing of another kind is found; where there are
    none, those after which it is gone. Of a piece that is too large to try, all.
    """
    if not finding.fixes or weight(bench.piece) > _QUICK:
        return finding.fixes
    before, kinds = Counter(map(about, found)), {one.check for one in found}
    after = {fix: left for fix in finding.fixes if (left := _found_after(bench, fix, checks)) is not None}
    mending = [fix for fix, left in after.items() if Counter(map(about, left))[about(finding)] < before[about(finding)]]
    clean = [fix for fix in mending if kinds.issuperset(one.check for one in after[fix])]
    return tuple(clean or mending)


def _found_after(bench: Bench, fix: Fix, checks: Sequence[Check]) -> list[Finding] | None:
    """What is found once it is done; None where it cannot be done, or leaves what cannot be worked out."""
    try:
        pieces = apply(alone(bench.piece), fix.edit).pieces
    except Refused:
        return None
    piece = next((piece for piece in pieces if piece.id == bench.piece.id), None)
    if piece is None:
        return []
    now = replace(bench, piece=piece)
    return None if resolve(piece).trouble else [one for check in checks for one in check(now)]
