"""A write to the tile cache with 200,000 entries in it, against one with ten."""

import statistics
import tempfile
import time
from pathlib import Path

import django
from django.conf import settings

from bench.table import print_table

ENTRIES, WRITES = 200_000, 300


def main() -> None:
    """Print both medians and the ratio."""
    if not settings.configured:
        settings.configure()
        django.setup()
    from config.sharded_cache import ShardedFileCache

    with tempfile.TemporaryDirectory() as folder:
        cache = ShardedFileCache(folder, {"timeout": None, "max_entries": 2 * ENTRIES})
        few = _median(cache, 10)
        data = Path(cache._key_to_file("few-0", None)).read_bytes()
        for i in range(ENTRIES):
            path = Path(cache._key_to_file(f"filled-{i}", None))
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(data)
        many = _median(cache, ENTRIES)
    rows = [("with ten entries", few), (f"with {ENTRIES:,} entries", many)]
    print_table(
        "A write to the tile cache",
        [(name, f"{t * 1e3:.2f} ms") for name, t in rows] + [("ratio", f"{many / few:.2f}")],
    )


def _median(cache: object, known: int) -> float:
    times = []
    for i in range(WRITES):
        began = time.perf_counter()
        cache.set(f"{'few' if known == 10 else 'many'}-{i % 10 if known == 10 else i}", b"x" * 2_000)  # type: ignore[attr-defined]
        times.append(time.perf_counter() - began)
    return statistics.median(times)


if __name__ == "__main__":
    main()
