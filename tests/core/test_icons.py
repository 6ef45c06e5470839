"""Icons: strangers' SVGs and PNGs made safe, drawn once as pixels, shown by every painter."""

import io
from base64 import b64decode, b64encode
from pathlib import Path

import django
import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
import skia
from greylatch.errors import BadFile
from greylatch.paint.brush import _icon
from greylatch.paint.passes import Composition, pass_of
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.places.frame import MERCATOR
from greylatch.places.view import View
from greylatch.sheet.document import Furniture, Sheet
from greylatch.sheet.layers import Layer
from greylatch.sheet.parts import Icon, Symbol
from greylatch.sheet.symbology import Symbols
from greylatch.symbols.credits import credits_of
from greylatch.symbols.icons import SIDE, cleaned_svg, icon_from, icon_png
from greylatch.symbols.marks import mark_of
from greylatch.symbols.swatch import swatch_svg
from greylatch.tables.dataset import Dataset
from greylatch.tiles.image import png
from PIL import Image, ImageColor

NS = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
HALF = f'<svg {NS} viewBox="0 0 20 10"><path fill="#c03020" d="M0 0h10v10H0z"/></svg>'
DJANGO = sorted((Path(django.__file__).parent / "contrib" / "admin" / "static" / "admin" / "img").glob("*.svg"))
"""Icons of Django's administration (BSD licence), drawn by people who never heard of us."""


@pytest.mark.parametrize(
    ("dangerous", "gone"),
    [
        ("<script>alert(1)</script>", "script"),
        ('<image xlink:href="http://192.0.2.1/a.png"/>', "192.0.2.1"),
        ('<use xlink:href="http://192.0.2.1/a.svg#b"/>', "192.0.2.1"),
        ('<a xlink:href="javascript:alert(1)"><path d="M0 0h1v1z"/></a>', "javascript"),
        ("<style>path { fill: url(http://192.0.2.1/a) }</style>", "192.0.2.1"),
        ('<path fill="url(http://192.0.2.1/a#b)" d="M0 0h1v1z"/>', "192.0.2.1"),
        ('<path style="fill:url(//192.0.2.1/a)" d="M0 0h1v1z"/>', "192.0.2.1"),
        ('<foreignObject><body xmlns="http://www.w3.org/1999/xhtml">x</body></foreignObject>', "body"),
        ('<path onload="alert(1)" d="M0 0h1v1z"/>', "onload"),
        ('<animate attributeName="d" to="M0 0"/>', "animate"),
    ],
)
def test_what_acts_or_asks_is_thrown_away(dangerous: str, gone: str) -> None:
    clean = cleaned_svg(HALF.replace("</svg>", f"{dangerous}</svg>"))
    assert gone not in clean and 'fill="#c03020"' in clean


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (f'<!DOCTYPE svg [<!ENTITY a "b">]>{HALF}', "entities"),
        (f'<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///etc/passwd">]>{HALF}', "entities"),
        (f'<svg {NS} viewBox="0 0 1 1"><g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g><path d="M0 0h1v1z"/></svg>', "without end"),
        ("<html/>", "no SVG"),
        ("<svg", "no readable SVG"),
        (f'<svg {NS} viewBox="0 0 1 1"><text>Ard</text></svg>', "turned into paths"),
        (f'<svg {NS}><path d="M0 0h1v1z"/></svg>', "neither its viewBox"),
        (f'<svg {NS} viewBox="0 0 0 1"><path d="M0 0h1v1z"/></svg>', "no extent"),
        (f'<svg {NS} viewBox="5 5 1 1"><path d="M0 0h1v1z"/></svg>', "outside of its viewBox"),
        (f'<svg {NS} viewBox="0 0 1 1">{"<g/>" * 2_001}</svg>', "2,000 elements"),
        (HALF.replace("M0 0h10v10H0z", "M0 0h10v10H0z" * 3_000), "characters"),
        ("x" * 200_001, "at most 200 kB"),
        ("\x89PNG\r\n", "no readable"),
    ],
)  # fmt: skip
def test_what_cannot_be_an_icon_is_told(data: str, said: str) -> None:
    with pytest.raises(BadFile, match=said):
        icon_from(data.encode("utf-8" if "\x89" not in data else "latin-1"))


@pytest.mark.parametrize("path", DJANGO, ids=lambda path: path.stem)
def test_icons_of_strangers_are_drawn(path: Path) -> None:
    with Image.open(io.BytesIO(icon_png(icon_from(path.read_bytes(), path.stem)))) as picture:
        assert max(picture.size) == SIDE
        assert 0.01 < (np.asarray(picture)[..., 3] > 0).mean() <= 1


def test_a_document_type_without_entities_is_no_harm() -> None:
    """As many drawing programs write it (SVG 1.1, 1.3)."""
    typed = f'<?xml version="1.0"?><!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd">{HALF}'
    assert cleaned_svg(typed) == cleaned_svg(HALF)


def test_a_png_is_made_small() -> None:
    out = io.BytesIO()
    Image.new("RGBA", (400, 200), "#336699").save(out, "PNG")
    icon = icon_from(out.getvalue(), "flag", "Ulla Brand")
    assert (icon.kind, icon.name, icon.credit) == ("png", "flag", "Ulla Brand")
    with Image.open(io.BytesIO(icon_png(icon))) as picture:
        assert picture.size == (SIDE, SIDE // 2)


@pytest.mark.parametrize("side", [100, 215])
def test_a_png_full_of_detail_is_made_as_small_as_it_must(side: int) -> None:
    """As a logo of a package with a soft shadow was, of 100 px; noise is the worst that may come."""
    noise = np.random.default_rng(4).integers(0, 256, (side, side, 4), dtype=np.uint8)
    out = io.BytesIO()
    Image.fromarray(noise, "RGBA").save(out, "PNG")
    icon = icon_from(out.getvalue())
    assert len(icon.content) <= 20_000
    assert Image.open(io.BytesIO(b64decode(icon.content))).width < 96


def test_a_sheet_of_somebody_else_is_cleaned_again() -> None:
    """Whoever writes a sheet by hand writes what they like into it."""
    wild = Icon(content=HALF.replace("</svg>", "<script>alert(1)</script></svg>"))
    assert icon_png(wild) == icon_png(Icon(content=HALF))
    with pytest.raises(BadFile):
        icon_png(Icon(kind="png", content="no base64"))


def test_the_painter_draws_it_turned_and_as_large_as_asked() -> None:
    """Twenty wide and ten high, of which the left half is red: turned by a quarter the red is above."""
    points = VectorSource(Dataset(pa.table({"a": [1]}), "points", shapely.points([[0.0, 0.0]]), pyproj.CRS(3857)))

    def red(turn: float) -> np.ndarray:
        symbol = Symbol(icon=Icon(content=HALF), radius=20, turn=turn)
        layer = Layer(id="a", name="A", dataset="d", symbology=Symbols(symbol=symbol))
        composition = Composition([pass_of(layer, lambda name, frame: points)], [], Furniture())
        picture = paint(composition, View.around(MERCATOR, 0, 0, 1, 100, 100), ground=False)
        return np.argwhere((picture[..., 0] > 150) & (picture[..., 3] > 200))

    level, turned = red(0), red(90)
    assert level.min(axis=0) == pytest.approx([40, 30], abs=1.5) and level.max(axis=0) == pytest.approx(
        [59, 49], abs=1.5
    )
    assert turned.min(axis=0) == pytest.approx([30, 40], abs=1.5) and turned.max(axis=0) == pytest.approx(
        [49, 59], abs=1.5
    )


PLAIN = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><path d="M0 0h10v10h-5v-5h-5z"/></svg>'


@pytest.mark.parametrize("colour", ["#2a6f4e", "#a33a2a"])
def test_an_icon_without_colours_takes_that_of_its_feature(colour: str) -> None:
    icon = icon_from(PLAIN.encode(), "step")
    assert icon.stencil and not icon_from(HALF.encode()).stencil
    with Image.open(io.BytesIO(icon_png(icon, colour))) as picture:
        alpha = np.asarray(picture)[..., 3]
        assert {tuple(rgb) for rgb in np.asarray(picture)[alpha > 0][:, :3].tolist()} == {ImageColor.getrgb(colour)}
    with Image.open(io.BytesIO(icon_png(icon))) as picture:
        assert (np.asarray(picture)[..., 3] == alpha).all(), "the same outline"
    marks = [mark_of(Symbol(icon=each), "points", colour=colour) for each in (icon, Icon(content=icon.content))]
    assert marks[0].icon != marks[1].icon == mark_of(Symbol(icon=Icon(content=icon.content)), "points").icon


def test_key_and_credits_name_it() -> None:
    icon = icon_from(HALF.encode(), "half", "Ulla Brand")
    mark = mark_of(Symbol(icon=icon), "points")
    assert "data:image/png;base64," in swatch_svg(mark, "points", "a") and mark.stretch > 1
    layer = Layer(id="a", name="A", dataset="d", symbology=Symbols(symbol=Symbol(icon=icon)))
    sheet = Sheet(title="S", layers=[layer], furniture=Furniture(credits="Survey"))
    assert credits_of(sheet) == "Survey · Icons: Ulla Brand"
    assert credits_of(sheet.model_copy(update={"layers": [layer.model_copy(update={"visible": False})]})) == "Survey"


def test_an_icon_outlives_the_text_that_it_came_in() -> None:
    """Skia decodes a picture when it is first drawn, long after the bytes that Python decoded are gone."""
    random = np.random.default_rng(3)
    for _ in range(20):
        pixels = random.integers(0, 255, (64, 64, 4), dtype=np.uint8)
        pixels[..., 3] = 255
        pixels[0, 0, 3] = 254  # a picture with alpha
        icon = _icon(b64encode(png(pixels)).decode())
        other_memory = [random.bytes(12_000) for _ in range(20)]
        drawn = icon.toarray(colorType=skia.ColorType.kRGBA_8888_ColorType)
        assert np.abs(drawn.astype(int) - pixels).max() <= 1, len(other_memory)
