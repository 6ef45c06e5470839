"""python -m bench.fuzz.run [--files N] [--seed S] [--keep FOLDER]: spoiled files through everything, from a fresh random seed.

Prints what came of them; exits with 1 where there was a traceback, a reading over 30 s or over 1 GB, or anything left behind.
"""

import argparse
import random
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor, as_completed
from pathlib import Path

from greylatch.formats import bounded

from bench.fuzz.seeds import seeds
from bench.fuzz.spoil import spoiled
from bench.fuzz.through import SECONDS, Outcome, through

GIGABYTE = 10**9
FRESH_SEEDS_AFTER = 500
bounded.LIBRARIES.append("bench.fuzz.warmed")


def outcomes(files: int, seed: int, keep: Path | None = None, processes: int = 2) -> Iterator[Outcome]:
    """What came of `files` spoiled files."""
    rng = random.Random(seed)
    with tempfile.TemporaryDirectory(prefix="greylatch-fuzz-") as home, ThreadPoolExecutor(processes) as pool:
        first = Path(home) / "first"
        first.mkdir()
        through("first.csv", b"a,b\n1,2\n", first)  # waits until all is loaded, which is not the first file's fault
        for start in range(0, files, FRESH_SEEDS_AFTER):
            sound = seeds(rng)
            waiting = {}
            for i in range(start, min(start + FRESH_SEEDS_AFTER, files)):
                name, data = spoiled(rng, sound)
                folder = Path(home) / str(i)
                folder.mkdir()
                waiting[pool.submit(through, name, data, folder)] = (i, name, data, folder)
            for done in as_completed(waiting):
                i, name, data, folder = waiting[done]
                outcome = done.result()
                if keep is not None and is_trouble(outcome):
                    keep.mkdir(parents=True, exist_ok=True)
                    (keep / f"{seed}-{i}-{name}").write_bytes(data)
                folder.rmdir() if not any(folder.iterdir()) else None
                yield outcome


def is_trouble(outcome: Outcome) -> bool:
    """Whether it is a defect."""
    return outcome.trouble is not None or outcome.seconds > SECONDS or outcome.peak > GIGABYTE


def main() -> int:
    """Run from the command line."""
    options_parser = argparse.ArgumentParser(description=__doc__)
    options_parser.add_argument("--files", type=int, default=20_000)
    options_parser.add_argument("--seed", type=int, default=None)
    options_parser.add_argument("--keep", type=Path, default=None)
    options = options_parser.parse_args()
    seed = options.seed if options.seed is not None else random.SystemRandom().randrange(2**32)
    print(f"seed {seed}, {options.files:,} files")
    reached: Counter[str] = Counter()
    troubles: Counter[str] = Counter()
    slowest, largest, began = 0.0, 0, time.monotonic()
    for n, outcome in enumerate(outcomes(options.files, seed, options.keep), 1):
        reached[outcome.reached] += 1
        slowest, largest = max(slowest, outcome.seconds), max(largest, outcome.peak)
        if is_trouble(outcome):
            last = (outcome.trouble or f"{outcome.seconds:.0f} s, {outcome.peak / 1e9:.2f} GB").strip().splitlines()
            troubles[
                f"{outcome.name.split('.')[-1]}: {last[-1][:150]} ({next((x.strip() for x in reversed(last) if 'greylatch' in x), '')[-90:]})"
            ] += 1
        if n % 1000 == 0:
            print(
                f"{n:,}: {dict(reached)}, {sum(troubles.values())} troubles, {time.monotonic() - began:.0f} s",
                flush=True,
            )
    for what, n in troubles.most_common():
        print(f"{n:5} {what}")
    print(
        f"{options.files:,} files, {sum(troubles.values())} troubles; slowest {slowest:.1f} s, largest {largest / 1e9:.2f} GB; reached {dict(reached)}"
    )
    return 1 if troubles else 0


if __name__ == "__main__":
    sys.exit(main())
