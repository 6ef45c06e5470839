"""Exact natural breaks against mapclassify.FisherJenks."""

import time
import warnings

import mapclassify
import numpy as np
from greylatch.classes.classify import assign, within_sum_of_squares
from greylatch.classes.natural import natural_breaks

from bench.table import median_seconds, print_table


def main() -> None:
    rng = np.random.default_rng(7)
    natural_breaks(rng.lognormal(size=1000), 7)  # compile
    million, thousands = rng.lognormal(size=1_000_000), rng.lognormal(size=20_000)
    large = median_seconds(lambda: natural_breaks(million, 7), runs=3)
    small = median_seconds(lambda: natural_breaks(thousands, 7))
    start = time.perf_counter()
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        theirs = mapclassify.FisherJenks(thousands, k=7)
    reference = time.perf_counter() - start
    ours = within_sum_of_squares(thousands, assign(thousands, natural_breaks(thousands, 7)))
    other = within_sum_of_squares(thousands, assign(thousands, theirs.bins))
    print_table(
        "Natural breaks, 7 classes of lognormal values",
        [
            ("1,000,000 values", f"{large:.2f} s"),
            ("20,000 values", f"{small * 1000:.1f} ms"),
            ("20,000 values, mapclassify.FisherJenks", f"{reference:.1f} s"),
            ("times faster", f"{reference / small:,.0f}"),
            ("sum of squares, ours / theirs", f"{ours / other:.6f}"),
        ],
    )


if __name__ == "__main__":
    main()
