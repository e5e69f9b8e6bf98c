"""`make presses`: every job of `docs/presses.md` at the page, as it stands there and with other sizes and words.

Prints how many presses each took and what Check found, and fails where one takes more than it may, comes to pieces or
is not what was meant.
"""

import sys
from random import Random, SystemRandom

from playwright.sync_api import expect

from tests.patience import FOREVER
from tests.presses.jobs import JOBS, done
from tests.stack import chromium, enter_as, new_context, running_stack

SIZES = (0.5, 0.7, 1.4, 2.0)

WORDS = {
    "Hollis": ("Bo", "Maximiliana", "Éloïse"),
    "Orrin": ("Al", "Bartholomew", "Zoë"),
    "gate 4": ("12", "by the old shed"),
    "COMET": ("OPEN", "WELCOME", "ÉTÉ"),
    "Quillmoor": ("Ada", "Éloïse", "Observatory"),
    "open night": ("est. 1924", "2 to 9", "every first friday"),
    "Ysolde": ("Jo", "Petronella", "Jörn"),
    "Q": ("W", "é", "7"),
    "Zoë": ("Bartholomew", "Ida"),
    "thirty": ("40", "is seven"),
    "KEEP": ("PLEASE", "NO"),
    "THE GATE": ("DOOR", "THE FIRE LANE"),
    "SHUT": ("CLOSED", "CLEAR"),
}


def varied(seed: int, name: str) -> tuple[float, dict[str, str]]:
    """Another size for a job, and another word for each of its own."""
    chance = Random(f"{name} {seed}")
    return chance.choice(SIZES), {word: chance.choice(others) for word, others in WORDS.items()}


def main(variations: int, first: int) -> int:
    wrong = 0
    expect.set_options(timeout=1000 * FOREVER)
    with running_stack(30) as stack, chromium() as browser:
        page = new_context(browser, base_url=stack.address).new_page()
        enter_as(page.context, stack, stack.new_maker())
        for job in JOBS:
            for seed in (None, *range(first, first + variations)):
                times, words = (1.0, {}) if seed is None else varied(seed, job.name)
                presses, made, findings = done(page, job, times, words)
                faults = [f"more than {job.most}"] if presses > job.most else []
                faults += [] if made.is_whole() else ["it is in pieces"]
                faults += [] if job.meant(made) else ["it is not what was meant"]
                faults += [f"“{finding}”" for finding in findings]
                wrong += bool(faults)
                how = "as it stands" if seed is None else f"× {times:g}, seed {seed}"
                print(f"{job.name:10} {presses:3} presses  {how:20} {'; '.join(faults) or 'clean'}", flush=True)
    return 1 if wrong else 0


if __name__ == "__main__":
    given = [int(one) for one in sys.argv[1:]]
    sys.exit(main(given[0] if given else 2, given[1] if len(given) > 1 else SystemRandom().randrange(10**6)))
