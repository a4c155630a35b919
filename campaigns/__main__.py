"""`python -m campaigns NAME [--count N] [--seed N]`: its figures as JSON, exit 1 when something was lost."""

from __future__ import annotations

import argparse
import json
import sys
import time

from campaigns import cover, designs, events, fuzz, holds, kernel, kill, leaks, mutate

CAMPAIGNS = {
    "kill": (kill.run, 1000, "kill -9 while editing, importing and backing up; every confirmed edit has to be there"),
    "fuzz": (fuzz.run, 100_000, "random text into every grammar, the importers and the command line"),
    "designs": (
        designs.run,
        20_000,
        "random sizes into every family: solved, drawn, planned, some rehearsed, or refused in words",
    ),
    "holds": (
        holds.run,
        5_000,
        "random things round random work under random cuts: solved and told in full, or refused in words",
    ),
    "events": (events.run, 10_000, "random clicks, drags, keys and sizes on the window of the demo shop"),
    "kernel": (kernel.run, 100, "the geometry kernel killed and stopped under a window that edits"),
    "mutate": (mutate.run, 60, "small random changes to holding, making and rehearsal: how many do their tests notice"),
    "cover": (cover.run, 85, "the whole suite once: lines run in each room, under a floor in %"),
    "leaks": (leaks.run, 7200, "editing for so many seconds, watching memory and widgets"),
}


def main(argv: list[str] | None = None) -> int:
    """Run one campaign and print its figures."""
    parser = argparse.ArgumentParser(prog="campaigns", description=__doc__)
    parser.add_argument("name", choices=CAMPAIGNS)
    parser.add_argument("--count", type=int, help="how many trials, or seconds; the long form when left out")
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args(argv)
    call, usual, _ = CAMPAIGNS[options.name]
    begun = time.monotonic()
    figures = call(options.count or usual, options.seed)
    figures["seconds"] = round(time.monotonic() - begun, 1)
    print(json.dumps({"campaign": options.name, "seed": options.seed, **figures}, indent=1))
    return 1 if figures.get("lost") else 0


if __name__ == "__main__":
    sys.exit(main())
