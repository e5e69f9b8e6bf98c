"""`make fuzz`: mixes of ten styles with fresh seeds, judged one by one; the seed of each failure is printed.

`python -m tests.fuzz --count 1000 --seed 7 --style slivers` repeats what was found.
"""

import argparse
import random
import sys
import time
from multiprocessing import Pool

from foliant.core.paths import combine
from tests.mixes import STYLES, mix
from tests.oracle import wrong_region


def judged(what: tuple[int, int]) -> str:
    """What is wrong with the mix of a style and seed; empty where nothing is."""
    style, seed = what
    adds, cuts = mix(STYLES[style], seed)
    try:
        result = combine(adds, cuts)
    except Exception as error:
        return f"raises {type(error).__name__}: {error}"
    wrong = wrong_region(result.path, adds, cuts)
    if wrong.is_empty:
        return f"rough: {len(result.rough)} short lines" if len(result.rough) else ""
    return f"{wrong.area:.4f} mm² wrong near {wrong.centroid.x:.3f}, {wrong.centroid.y:.3f}"


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=1000, help="how many mixes of each style")
    parser.add_argument("--seed", type=int, default=random.randrange(10**6), help="the first seed")
    parser.add_argument("--style", choices=[style.__name__ for style in STYLES])
    wanted = parser.parse_args()
    begun, failures = time.monotonic(), 0
    with Pool(2) as pool:
        for number, style in enumerate(STYLES):
            if wanted.style not in (None, style.__name__):
                continue
            seeds = range(wanted.seed, wanted.seed + wanted.count)
            found = pool.imap(judged, [(number, seed) for seed in seeds], chunksize=20)
            raised = rough = wrong = 0
            for seed, says in zip(seeds, found, strict=True):
                if says:
                    raised += says.startswith("raises")
                    rough += says.startswith("rough")
                    wrong += says[0].isdecimal()
                    print(f"  {style.__name__} {seed}: {says}", flush=True)
            failures += raised + wrong
            counts = f"{raised:>3} raise  {wrong:>3} wrong  {rough:>3} rough"
            print(f"{style.__name__:<16} {wanted.count:>6} mixes  {counts}", flush=True)
    print(f"{failures} failures in {time.monotonic() - begun:.0f} s; first seed {wanted.seed}")
    return 1 if failures else 0


if __name__ == "__main__":
    sys.exit(main())
