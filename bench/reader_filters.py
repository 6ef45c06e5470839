"""What readers ask of 100,000 points, in headless Chromium without a GPU: a slider moved, and time played; the reference is a bare canvas
that fills as many circles."""

import http.server
import json
import os
import statistics
import tempfile
import threading
from functools import partial
from pathlib import Path

import numpy as np
from greylatch.cli.main import main as greylatch
from playwright.sync_api import Page, sync_playwright

from bench.table import print_table

N = 100_000
ASKED = {
    "filters": [{"kind": "range", "layer": "a", "field": "depth", "title": "Depth"}],
    "time": {"layer": "a", "field": "since", "by": "month", "seconds": 8, "loop": False},
}
MOVED = """() => new Promise((done) => {
    const slider = document.querySelector('.strip input[type=range]');
    const [least, most] = [Number(slider.min), Number(slider.max)];
    const times = [];
    const next = (i) => {
        const begin = performance.now();
        slider.value = String(least + ((most - least) * (i % 20)) / 40);
        slider.dispatchEvent(new Event('input', { bubbles: true }));
        // The picture is there once the frame after the one that draws it begins.
        requestAnimationFrame(() => requestAnimationFrame(() => {
            times.push(performance.now() - begin);
            if (i < 40) setTimeout(() => next(i + 1), 60); else done(times);
        }));
    };
    next(0);
})"""
FRAMES = """() => new Promise((done) => {
    const times = []; let last = performance.now();
    const next = (now) => { times.push(now - last); last = now; if (times.length < 200) requestAnimationFrame(next); else done(times.slice(2)); };
    requestAnimationFrame(next);
})"""
BARE = """(n) => {
    const canvas = Object.assign(document.createElement('canvas'), { width: 1000, height: 700 });
    const context = canvas.getContext('2d'), begin = performance.now();
    for (let i = 0; i < n; i++) { context.beginPath(); context.arc((i * 7919) % 1000, (i * 104729) % 700, 3, 0, 7); context.fill(); }
    context.getImageData(0, 0, 1, 1);
    return performance.now() - begin;
}"""


class Quiet(http.server.SimpleHTTPRequestHandler):
    """Tells nothing of what it is asked."""

    def log_message(self, *_: object) -> None:
        """Nothing."""


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        written(folder)
        site = http.server.ThreadingHTTPServer(("127.0.0.1", 0), partial(Quiet, directory=str(folder / "map")))
        threading.Thread(target=site.serve_forever, daemon=True).start()
        with sync_playwright() as playwright:
            chromium = playwright.chromium.launch(
                executable_path=os.environ.get("CHROMIUM", "/usr/bin/chromium"), args=["--no-sandbox", "--disable-gpu"]
            )
            page = chromium.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"http://127.0.0.1:{site.server_port}/")
            page.locator("#reader[data-idle=true]").wait_for(timeout=120_000)
            page.wait_for_timeout(2_000)
            rows = measured(page)
            chromium.close()
        site.shutdown()
    print_table(f"{N:,} points asked by readers, Chromium without a GPU", rows)


def written(folder: Path) -> None:
    """An edition of so many dated points."""
    rng = np.random.default_rng(2)
    lon, lat = rng.uniform(-28, -26, N).round(5), rng.uniform(51, 53, N).round(5)
    days = np.datetime64("2015-01-01") + rng.integers(0, 3650, N)
    lines = [f"{x},{y},{d},{t}" for x, y, d, t in zip(lon, lat, rng.lognormal(3, 1, N).round(1), days, strict=True)]
    (folder / "a.csv").write_text("\n".join(["lon,lat,depth,since", *lines]) + "\n")
    symbol = {"radius": 3, "fill": "#1c5c6e", "strokes": []}
    layer = {"id": "a", "name": "A", "dataset": "a.csv", "symbology": {"kind": "symbols", "symbol": symbol}}
    (folder / "a.sheet.json").write_text(json.dumps({"version": 4, "title": "A", "layers": [layer], "reader": ASKED}))
    assert greylatch(["publish", str(folder / "a.sheet.json"), "--out", str(folder / "map"), "--max-zoom", "9"]) == 0


def measured(page: Page) -> list[tuple[str, str]]:
    """Milliseconds of a change of the slider, and of a frame while time plays."""
    bare = statistics.median(page.evaluate(BARE, N) for _ in range(5))
    moved = page.evaluate(MOVED)[1:]
    page.get_by_role("button", name="Play", exact=True).click()
    page.wait_for_timeout(500)
    played = page.evaluate(FRAMES)
    mean = statistics.mean(played)
    return [
        ("a bare canvas fills as many circles", f"{bare:.0f} ms"),
        (
            "a slider moved, until its picture is there (50 ms asked)",
            f"median {statistics.median(moved):.0f} ms, {statistics.median(moved) / bare:.2f}; slowest {max(moved):.0f} ms",
        ),
        (
            "time playing (30 frames a second asked)",
            f"{1_000 / mean:.0f} frames a second; slowest frame {max(played):.0f} ms",
        ),
    ]


if __name__ == "__main__":
    main()
