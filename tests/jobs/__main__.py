"""`make jobs`: varied jobs with fresh seeds, each done and judged; what is wrong is told with its seed."""

import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from random import SystemRandom

from tests.jobs.drawing import drawn
from tests.jobs.judging import Verdict, judged

MOST_TOLD = 3
"""Verdicts of one judge that are told with their stories."""


def tried(seed: int) -> tuple[int, list[str], list[Verdict]]:
    """What a job was, and what is wrong with it."""
    try:
        doing = drawn(seed)
        return seed, doing.story, judged(doing)
    except Exception as trouble:
        return seed, [], [Verdict("nothing_breaks", f"{type(trouble).__name__}: {trouble}")]


def main(count: int, first: int | None) -> int:
    first = SystemRandom().randrange(10**9) if first is None else first
    print(f"{count} jobs, from seed {first}")
    wrong: Counter[str] = Counter()
    jobs = 0
    with ProcessPoolExecutor(2) as processes:
        for seed, story, verdicts in processes.map(tried, range(first, first + count)):
            jobs += bool(verdicts)
            for verdict in verdicts:
                wrong[verdict.judge] += 1
                print(f"{seed}  {verdict.judge}: {verdict.says}")
                if wrong[verdict.judge] <= MOST_TOLD:
                    print(*(f"    {line[:150]}" for line in story), sep="\n")
    print(f"\n{jobs} of {count} jobs are wrong")
    for judge, many in wrong.most_common():
        print(f"  {many:5d}  {judge}")
    return 1 if jobs else 0


if __name__ == "__main__":
    arguments = [int(one) for one in sys.argv[1:]]
    sys.exit(main(arguments[0] if arguments else 1000, arguments[1] if len(arguments) > 1 else None))
