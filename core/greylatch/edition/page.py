"""The readers' page: what is there without script, its script, and the letters that it needs."""

import re
import shutil
from collections.abc import Iterable, Sequence
from html import escape
from pathlib import Path
from string import Template
from unicodedata import bidirectional

from greylatch.edition.description import EditionPage, PageReader
from greylatch.edition.faces import ASSETS, face_file, letters_by_face, part_of_face
from greylatch.edition.key_html import KEY, key_html
from greylatch.edition.plan import Plan
from greylatch.errors import BadInput
from greylatch.lettering.faces import PLAIN
from greylatch.symbols.credits import line_of

__all__ = ["BUILT", "direction_of", "page_html", "write_page"]

BUILT = Path(__file__).parent / "page"
"""Where the build of the interface puts the page's script."""

TOLD = re.compile(r"\{\w+\}")
"""What stands in words for what is told."""
_PAGE = Template("""\
<!doctype html>
<html lang="$language" dir="$direction" data-look="$look">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; \
img-src 'self' data: blob:$pictures; font-src 'self'; connect-src 'self'; base-uri 'self'">
<title>$title</title>
<link rel="icon" href="data:,">
<link rel="stylesheet" href="page/reader.css">
<script type="module" src="page/reader.js"></script>
$early</head>
<body>
<div id="reader" data-key="$key_at">
<header class="title"><h1 title="$title">$logo$title</h1></header>
<main class="sheet"><noscript><img class="picture" src="picture.png" alt="$title"></noscript></main>
$key$text<footer class="credits" title="$credits">$credits</footer>
</div>
</body>
</html>
""")


def page_html(page: EditionPage, pictures_from: Sequence[str] = ()) -> str:
    """The document that readers open: title, key and credits as text, a picture of the map where no script runs.

    Its script draws the map in the picture's place. Cards may show pictures of `pictures_from` and of nobody else.

    Parameters
    ----------
    page : EditionPage
        What the page shows.
    pictures_from : Sequence[str]
        Addresses whose pictures cards may show.

    Returns
    -------
    str
    """
    credits = line_of(page.credits, page.source_date, page.terms)
    words = page.reader.words if page.reader else {}
    return _PAGE.substitute(
        title=escape(page.title),
        early="".join(map(_asked_early, _first_files(page))),
        credits=escape(credits),
        pictures="".join(f" {escape(host)}" for host in pictures_from),
        key=key_html(page.key, words.get("key", KEY)),
        direction=direction_of(words.values()),
        language=page.reader.language if page.reader else "en",
        look=page.reader.look if page.reader else "light",
        key_at=page.reader.key_at if page.reader else "right",
        logo=_logo(page.reader) if page.reader and page.reader.logo else "",
        text=f'<aside class="text">{page.reader.text}</aside>\n' if page.reader and page.reader.text else "",
    )


def direction_of(words: Iterable[str]) -> str:
    """Whether words are written from the right, 'rtl', or from the left, 'ltr': as most of their letters are (Unicode Standard Annex 9).

    Parameters
    ----------
    words : Iterable[str]
        The words.

    Returns
    -------
    str

    Examples
    --------
    >>> direction_of(["متى", "km"]), direction_of(["Wann"]), direction_of([])
    ('rtl', 'ltr', 'ltr')
    """
    kinds = [bidirectional(letter) for text in words for letter in TOLD.sub("", text)]
    return "rtl" if sum(kind in ("R", "AL") for kind in kinds) > kinds.count("L") else "ltr"


def _first_files(page: EditionPage) -> list[str]:
    """What the script asks for as soon as it runs; browsers fetch it while they read the script."""
    inks = [layer.ink for layer in page.layers if layer.ink]
    faces = [face_file(PLAIN), *(page.labels.faces.values() if page.labels else ())]
    return ["edition.json", *inks, *dict.fromkeys(faces)]


def _asked_early(name: str) -> str:
    kind = "font" if name.endswith(".woff") else "fetch"
    return f'<link rel="preload" href="{escape(name)}" as="{kind}" crossorigin>\n'


def _logo(reader: PageReader) -> str:
    return f'<img class="logo" src="data:image/png;base64,{reader.logo}" alt="{escape(reader.logo_words)}">'


def write_page(plan: Plan, page: EditionPage, out: Path) -> None:
    """Write `index.html` and the folder `page` into the folder `out`.

    Parameters
    ----------
    plan : Plan
        The sheet to be published, and how.
    page : EditionPage
        What the page shows.
    out : Path
        The folder of the edition.

    Raises
    ------
    BadInput
        Where the page's script has not been built.
    """
    write_assets(out / ASSETS)
    (out / "index.html").write_text(page_html(page, plan.sheet.pictures_from), "utf-8")
    for face, letters in letters_by_face(wanted for _, wanted in plan.composition.lettered).items():
        (out / face_file(face)).write_bytes(part_of_face(face, letters))


def write_assets(folder: Path) -> None:
    """Copy the page's script and styles to `folder`.

    Raises
    ------
    BadInput
        Where they have not been built.
    """
    if not (BUILT / "reader.js").exists():
        raise BadInput("The script of readers' pages has not been built.", "Run bin/start or bin/test once.")
    shutil.copytree(BUILT, folder, ignore=shutil.ignore_patterns(".*"), copy_function=shutil.copyfile)
