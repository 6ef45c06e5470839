"""A table of 1,000,000 rows scrolled in headless Chromium without a GPU, beside a page that scrolls as many plain lines."""

import statistics
import tempfile
from pathlib import Path

from playwright.sync_api import Page

from bench.editor import editor
from bench.table import print_table
from bench.tables import written

FRAMES = """([grid, step]) => new Promise((done) => {
    const times = [];
    let last = performance.now();
    const next = (now) => {
        times.push(now - last); last = now; grid.scrollTop += step;
        if (times.length < 240) requestAnimationFrame(next); else done(times.slice(2));
    };
    requestAnimationFrame(next);
})"""
"""Scrolls by so many px in each frame, and says how long each of them took."""


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        file = written(folder / "wells.csv")
        with editor(folder, file, "Wells", "depth") as page:
            rows = measured(page)
    print_table("A table of 1,000,000 rows scrolled, Chromium without a GPU", rows)


def measured(page: Page) -> list[tuple[str, str]]:
    page.get_by_role("button", name="Wells").first.click()
    page.locator("[data-testid=map][data-inked=true][data-idle=true]").wait_for(timeout=120_000)
    page.get_by_role("tab", name="1 Gather").click()
    page.get_by_role("tab", name="Table").click()
    grid = page.get_by_role("grid")
    grid.get_by_role("row").nth(3).wait_for()
    page.wait_for_timeout(1_000)
    told = []
    for words, step in (("a row a frame", 23), ("a page a frame", 200), ("ten pages a frame", 2_000)):
        times = page.evaluate(FRAMES, [grid.element_handle(), step])
        told.append((words, times))
    page.wait_for_timeout(500)
    empty = page.evaluate(
        """() => { const box = document.createElement('div'), inner = document.createElement('div');
        box.style.cssText = 'position:fixed;inset:520px 0 0 0;overflow:auto;background:#fff;z-index:9999';
        inner.style.height = '9000000px'; inner.textContent = 'line '.repeat(20000); box.append(inner); document.body.append(box); box.id = 'bare'; }"""
    )
    assert empty is None
    bare = page.evaluate(FRAMES, [page.query_selector("#bare"), 23])
    rate = 1_000 / statistics.mean(bare)
    lines = [("plain text scrolled by as much", f"{rate:.0f} frames a second")]
    for words, times in told:
        mean = 1_000 / statistics.mean(times)
        lines.append(
            (
                f"the table, {words} (50 a second asked)",
                f"{mean:.0f} frames a second, {mean / rate:.2f}; slowest {max(times):.0f} ms",
            )
        )
    return lines


if __name__ == "__main__":
    main()
