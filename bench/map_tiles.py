"""Whole-map tiles of the demo sheet: how many a second, and where the time goes."""

import cProfile
import pstats
import tempfile
import time
from pathlib import Path

from greylatch.cli.draw import beside
from greylatch.paint.passes import compose
from greylatch.sheet.reading import read_sheet
from greylatch.tiles.map_pyramid import cut_map
from vaskerry.write import write_demo

from bench.table import median_seconds, print_table

PARTS = {
    "draw_raster": "relief: read, shade, warp", "paint_shapes": "areas", "_paint_points": "wells", "_paint_letters": "labels",
    "placement": "placing labels", "png": "PNG",
}  # fmt: skip


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        write_demo(folder)
        sheet = read_sheet(folder / "carbon.sheet.json")
        composition = compose(sheet, beside(folder))
        cut_map(composition, folder / "warm.pmtiles", "warm", max_zoom=8)
        profile = cProfile.Profile()
        start = time.perf_counter()
        summary = profile.runcall(cut_map, composition, folder / "map.pmtiles", "map", processes=1)
        whole = time.perf_counter() - start
        both = median_seconds(lambda: cut_map(composition, folder / "both.pmtiles", "map"))
        relief = compose(
            sheet.model_copy(update={"layers": [layer for layer in sheet.layers if layer.id == "relief"]}),
            beside(folder),
        )
        start = time.perf_counter()
        alone = cut_map(
            relief,
            folder / "relief.pmtiles",
            "relief",
            min_zoom=summary["min_zoom"],
            max_zoom=summary["max_zoom"],
            processes=1,
        )
        reference = time.perf_counter() - start
    stats = pstats.Stats(profile).stats  # type: ignore[attr-defined]
    spent = {words: sum(v[3] for k, v in stats.items() if k[2] == function) for function, words in PARTS.items()}
    rows = [
        (
            "whole map",
            f"{summary['tiles']} tiles in {whole:.1f} s, {summary['tiles'] / whole:.0f} a second in one process",
        ),
        ("the same by all cores (60 a second asked of two)", f"{both:.1f} s, {summary['tiles'] / both:.0f} a second"),
        ("relief alone", f"{alone['tiles']} tiles in {reference:.1f} s"),
        ("whole map / relief alone", f"{(whole / summary['tiles']) / (reference / alone['tiles']):.2f} a tile"),
    ]
    rows += [(words, f"{seconds:.2f} s, {100 * seconds / whole:.0f} %") for words, seconds in spent.items()]
    print_table(f"Tiles of the demo sheet, levels {summary['min_zoom']} to {summary['max_zoom']}", rows)


if __name__ == "__main__":
    main()
