"""The readers' page of the demo, opened through the application in Chromium without a GPU: until its whole map is there, and its bytes;
the reference is a bare page that fetches the same addresses at once."""

import statistics
import tempfile
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

from bench.editor import ADDRESS, application_in, sign_in
from bench.table import print_table
from tests.browser.conftest import FLAGS

OPENED = 15
PUBLISH = """async () => {
    const sheets = await (await fetch('/api/sheets')).json();
    const sheet = sheets.find(({ title }) => title.startsWith('Carbon'));
    const token = /csrftoken=([^;]+)/.exec(document.cookie)[1];
    const headers = { 'X-CSRFToken': token, 'Content-Type': 'application/json' };
    await fetch(`/api/sheets/${sheet.id}/editions`, { method: 'POST', headers, body: '{}' });
    for (;;) {
        const { address, editions } = await (await fetch(`/api/sheets/${sheet.id}/editions`)).json();
        if (editions.length > 0) return address;
        await new Promise((again) => setTimeout(again, 500));
    }
}"""
WATCHED = """() => {
    const watch = new MutationObserver(() => {
        if (document.querySelector('#reader[data-idle=true]')) window.whole ??= performance.now();
    });
    watch.observe(document, { subtree: true, childList: true, attributes: true, attributeFilter: ['data-idle'] });
}"""
FETCHED = """() => performance.getEntriesByType('resource').map(({ name, transferSize }) => [name, transferSize])"""
BARE = """async (addresses) => {
    const begin = performance.now();
    await Promise.all(addresses.map(async (each) => (await fetch(each, { cache: 'no-store' })).arrayBuffer()));
    return performance.now() - begin;
}"""


def main() -> None:
    with (
        tempfile.TemporaryDirectory() as name,
        application_in(Path(name)) as application,
        sync_playwright() as playwright,
    ):
        application.manage("load_demo")
        application.start_web()
        application.start_worker()
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page()
        sign_in(page)
        page.get_by_role("button", name="Carbon").first.wait_for()
        address = page.evaluate(PUBLISH)
        opened = [page_opened(browser, address) for _ in range(OPENED)]
        fetched = opened[-1][2]
        page.goto(f"{ADDRESS}/e/none")
        bare = statistics.median(page.evaluate(BARE, sorted({each for each, _ in fetched})) for _ in range(5))
        browser.close()
    first, whole = (statistics.median(each[i] for each in opened) for i in (0, 1))
    print_table(
        "The readers' page of the demo through the application, Chromium without a GPU",
        [
            ("the reference: a bare page fetches the same addresses, whole", f"{bare:.0f} ms"),
            ("first paint", f"median {first:.0f} ms"),
            (
                "its whole map (1000 ms asked)",
                f"median {whole:.0f} ms, {whole / bare:.1f} of it; {min(each[1] for each in opened):.0f} to "
                f"{max(each[1] for each in opened):.0f}",
            ),
            ("its bytes (600 kB asked)", f"{sum(size for _, size in fetched) / 1000:.0f} kB, {len(fetched)} requests"),
        ],
    )


def page_opened(browser: Browser, address: str) -> tuple[float, float, list[tuple[str, int]]]:
    """Milliseconds to the first paint and to the whole map, by a browser that knows nothing of it, and what was fetched."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    context.add_init_script(f"({WATCHED})()")
    page = context.new_page()
    page.goto(address)
    page.wait_for_function("() => window.whole", polling=200)
    first = page.evaluate("() => performance.getEntriesByType('paint')[0].startTime")
    outcome = first, page.evaluate("() => window.whole"), page.evaluate(FETCHED)
    context.close()
    return outcome


if __name__ == "__main__":
    main()
