"""Killing what does the work, at random moments, and looking at what is left.

    python -m bench.faults kills [--times N] [--seed S]      workers killed (-9) in imports, joins and publishes
    python -m bench.faults services [--times N] [--seed S]   Redis and PostgreSQL killed (-9) under a running worker

Each time what was begun is whole or absent, it goes on or ends in words, and after the sweep nothing is left behind. Wants a
PostgreSQL as the environment names it (GREYLATCH_DB_HOST and so on; bench/run starts one); makes a database of its own there.
"""

import argparse
import random
import sys

from bench.faults.kills import kills
from bench.faults.services import services


def main() -> int:
    """Run from the command line."""
    options_parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    options_parser.add_argument("what", choices=("kills", "services"))
    options_parser.add_argument("--times", type=int, default=200)
    options_parser.add_argument("--seed", type=int, default=random.SystemRandom().randrange(2**32))
    options = options_parser.parse_args()
    return 1 if {"kills": kills, "services": services}[options.what](options.times, options.seed) else 0


if __name__ == "__main__":
    sys.exit(main())
