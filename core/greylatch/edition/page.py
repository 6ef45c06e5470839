"""The readers' page: what is there without script, its script, and the letters that it needs."""

import shutil
from collections.abc import Iterable, Sequence
from html import escape
from io import BytesIO
from pathlib import Path
from string import Template

from fontTools.subset import Options, Subsetter, load_font, save_font

from greylatch.edition.description import EditionPage, PublicKey, PublicSection
from greylatch.edition.plan import Plan
from greylatch.errors import BadInput
from greylatch.lettering.type import FONT_FILE
from greylatch.paint.passes import Composition
from greylatch.symbols.swatch import swatch_svg

__all__ = ["ASSETS", "BUILT", "LETTERS", "letters", "page_html", "write_page"]

BUILT = Path(__file__).parent / "page"
"""Where the build of the interface puts the page's script."""
ASSETS = "page"
"""The folder of script, styles and letters within an edition."""
LETTERS = "letters.woff"
CELL = 22
"""Px of a side of a field of a two-way key."""
DEGREES = "0123456789°′″.,−- NSEW"
"""What is written at the edge of a map, whatever its labels say."""

_PAGE = Template("""\
<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; \
img-src 'self' data: blob:$pictures; font-src 'self'; connect-src 'self'; base-uri 'self'">
<title>$title</title>
<link rel="icon" href="data:,">
<link rel="stylesheet" href="page/reader.css">
<script type="module" src="page/reader.js"></script>
</head>
<body>
<div id="reader">
<header class="title"><h1 title="$title">$title</h1></header>
<main class="sheet"><noscript><img class="picture" src="picture.png" alt="$title"></noscript></main>
$key<footer class="credits" title="$credits">$credits</footer>
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
    credits = " · ".join(part for part in (page.credits, page.source_date) if part)
    return _PAGE.substitute(
        title=escape(page.title),
        credits=escape(credits),
        pictures="".join(f" {escape(host)}" for host in pictures_from),
        key=_key(page.key),
    )


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
    (out / ASSETS / LETTERS).write_bytes(letters(label_texts(plan.composition)))


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


def label_texts(composition: Composition) -> Iterable[str]:
    """All that the map's labels may say."""
    for _, wanted in composition.lettered:
        yield from wanted.texts


def letters(texts: Iterable[str]) -> bytes:
    """The typeface of labels as WOFF, with no more of it than `texts` and degrees need.

    >>> letters(["Ard Mor"])[:4]
    b'wOFF'
    """
    options = Options(flavor="woff", notdef_outline=True)
    font = load_font(str(FONT_FILE), options)
    subsetter = Subsetter(options)
    subsetter.populate(unicodes={ord(letter) for text in (DEGREES, *texts) for letter in text})
    subsetter.subset(font)
    out = BytesIO()
    save_font(font, out, options)
    return out.getvalue()


def _key(parts: Sequence[PublicKey]) -> str:
    """The key as HTML; the page's script only folds it where there is no room."""
    if not parts:
        return ""
    sections = "".join(_section(part) for part in parts)
    return f'<aside class="beside" aria-label="Key"><details class="key" open><summary>Key</summary>{sections}</details></aside>\n'


def _section(part: PublicKey) -> str:
    unit = f"<p>{escape(part.unit)}</p>" if part.unit else ""
    lines = "".join(_lines(part, section, f"{part.layer}-{i}") for i, section in enumerate(part.sections))
    group = f'<p class="group">{escape(part.group)}</p>' if part.group else ""
    return f"{group}<section><h2>{escape(part.title)}</h2>{unit}{lines}</section>"


def _lines(part: PublicKey, section: PublicSection, name: str) -> str:
    """A part of a layer's key: its heading, its ramp or square, its entries."""
    several = len(section.entries) > 1 or section.ramp or section.square
    heading = f"<h3>{escape(section.heading)}</h3>" if section.heading and several else ""
    ramp = _ramp(name, section) if section.ramp else ""
    squared = section.square[0] * section.square[1] if section.square else 0
    entries = "".join(
        f"<li>{swatch_svg(entry.mark, part.kind, f'{name}-{i}')}{escape(entry.text)}</li>"
        for i, entry in enumerate(section.entries[squared:])
    )
    columns = f' class="columns-{part.columns}"' if part.columns > 1 else ""
    return f"{heading}{ramp}{_square(section) if section.square else ''}<ul{columns}>{entries}</ul>"


def _square(section: PublicSection) -> str:
    """The square of a two-way key, each field with its limits for who points at it."""
    assert section.square is not None
    across, up = section.square
    fields = "".join(
        f'<rect x="{CELL * (i % across)}" y="{CELL * (i // across)}" width="{CELL}" height="{CELL}" fill="{entry.mark.fill}" '
        f'fill-opacity="{entry.mark.fill_opacity:g}"><title>{escape(entry.text)}</title></rect>'
        for i, entry in enumerate(section.entries[: across * up])
    )
    return f'<svg class="square" width="{CELL * across}" height="{CELL * up}">{fields}</svg>'


def _ramp(name: str, section: PublicSection) -> str:
    last = max(1, len(section.ramp) - 1)
    stops = "".join(f'<stop offset="{i / last:.4g}" stop-color="{colour}"/>' for i, colour in enumerate(section.ramp))
    ends = "".join(f"<span>{escape(said)}</span>" for said in [_end(value) for value in section.ends] or section.words)
    name = f"ramp-{escape(name)}"
    return (
        f'<div class="ramp"><svg width="100%" height="10" aria-hidden="true"><linearGradient id="{name}">{stops}</linearGradient>'
        f'<rect width="100%" height="10" fill="url(#{name})"/></svg><p>{ends}</p></div>'
    )


def _end(value: float) -> str:
    """An end of a ramp with four significant figures, thousands parted.

    >>> _end(12345.678), _end(0.076672)
    ('12,350', '0.07667')
    """
    digits = float(f"{value:.4g}")
    return f"{digits:,.10g}".replace("-", "−")
