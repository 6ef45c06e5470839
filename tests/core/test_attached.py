"""Pictures of features: what is kept of a stranger's file, and how cards and editions show it."""

import io
import json
from pathlib import Path

import numpy as np
import pytest
from greylatch.edition.attached_files import LIST, PICTURES, read_attached, write_attached
from greylatch.edition.plan import Plan, plan_edition
from greylatch.errors import BadFile
from greylatch.reading.attached import Attached, figures, ready_picture
from PIL import Image


def jpeg(side: tuple[int, int] = (400, 200), orientation: int | None = None) -> bytes:
    picture = Image.new("RGB", side, (200, 30, 30))
    picture.paste((30, 30, 200), (0, 0, side[0] // 2, side[1]))
    out = io.BytesIO()
    exif = Image.Exif()
    exif[0x010F] = "Camera of somebody"
    if orientation:
        exif[0x0112] = orientation
    picture.save(out, "JPEG", exif=exif, quality=95)
    return out.getvalue()


def test_it_is_upright_small_and_says_nothing_of_its_camera() -> None:
    """Orientation 6 of EXIF 2.32 (tag 274): the row that is stored first is the right side of what was seen."""
    ready = ready_picture(jpeg((4000, 2000), orientation=6), "a.jpg")
    shown = Image.open(io.BytesIO(ready.full))
    assert (shown.format, shown.size) == ("WEBP", (800, 1600)) == ("WEBP", (ready.width, ready.height))
    assert not shown.getexif() and b"Camera of somebody" not in ready.full
    top, bottom = (np.asarray(shown.convert("RGB"))[row, 400] for row in (100, 1500))
    assert top[2] > 150 > top[0] and bottom[0] > 150 > bottom[2], "blue was left, and is above now"
    assert max(Image.open(io.BytesIO(ready.thumb)).size) == 240
    assert ready.name == ready_picture(jpeg((4000, 2000), orientation=6), "b.jpg").name, "named by its content"


def test_small_ones_are_not_made_larger_and_glass_stays() -> None:
    out = io.BytesIO()
    Image.new("RGBA", (20, 10), (0, 200, 0, 90)).save(out, "PNG")
    ready = ready_picture(out.getvalue(), "a.png")
    shown = Image.open(io.BytesIO(ready.full))
    assert shown.size == (20, 10) and shown.mode == "RGBA"


@pytest.mark.parametrize("mode", ["1", "L", "LA", "P", "I;16", "CMYK"])
def test_pictures_of_every_kind_of_pixel_look_as_they_did(mode: str) -> None:
    """A ramp from black to white, in all kinds that PNG and JPEG have but the common ones."""
    ramp = np.tile(np.linspace(0, 255, 256), (32, 1))
    if mode == "I;16":
        picture = Image.fromarray((ramp * 257).astype(np.uint16))
    else:
        grey = Image.fromarray(ramp.astype(np.uint8))
        picture = (grey.convert("RGB") if mode == "CMYK" else grey).convert(mode)
    out = io.BytesIO()
    picture.save(out, "JPEG" if mode == "CMYK" else "PNG")
    shown = np.asarray(Image.open(io.BytesIO(ready_picture(out.getvalue(), "a").full)).convert("L"), dtype=float)
    sixteenth = shown.reshape(32, 16, 16).mean(axis=(0, 2))
    assert np.abs(sixteenth - np.linspace(8, 247, 16)).max() < 12


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"GIF89a" + b"\0" * 40,
        b"<svg xmlns='http://www.w3.org/2000/svg'/>",
        jpeg()[:300],
        b"\xff\xd8\xff" + b"\0" * 100,
        b"%PDF-1.4",
    ],
)
def test_what_is_no_picture(data: bytes) -> None:
    with pytest.raises(BadFile, match="a.jpg is no PNG, JPEG or WebP"):
        ready_picture(data, "a.jpg")


def test_pictures_that_swell_are_refused() -> None:
    out = io.BytesIO()
    Image.new("1", (20_000, 9_000)).save(out, "PNG")
    assert len(out.getvalue()) < 100_000
    with pytest.raises(BadFile):
        ready_picture(out.getvalue(), "a.png")


def test_words_bring_no_markup() -> None:
    hostile = Attached('a"onerror=.webp', Path("a"), 10, 10, "<script>alert(1)</script>", '"><img src=x>')
    html = figures([hostile], "pictures/")
    assert (
        "<script" not in html
        and html.count("<img") == 1
        and 'onerror=.webp"' in html.replace("&quot;", "'").replace("'", "", 1)
    ) or "&quot;onerror" in html


def test_an_edition_carries_the_pictures_of_layers_with_cards(demo: Path, tmp_path: Path) -> None:
    from greylatch.cli.draw import beside
    from greylatch.sheet.reading import parse_sheet

    picture = tmp_path / "a.webp"
    picture.write_bytes(ready_picture(jpeg(), "a.jpg").full)
    attached = {
        "ditches.geojson": {3: [Attached("a.webp", picture, 400, 200, "Isla Orr", "A ditch")]},
        "slips.csv": {0: [Attached("b.webp", picture, 1, 1)]},
    }
    layers = [
        {"id": "a", "name": "A", "dataset": "ditches.geojson", "symbology": {"kind": "symbols"}, "card": "A ditch"},
        {"id": "b", "name": "B", "dataset": "slips.csv", "symbology": {"kind": "symbols"}},
    ]
    found = plan_edition(parse_sheet({"title": "T", "layers": layers[:1]}), beside(demo), max_zoom=8)
    plan = Plan(found.sheet, found.composition, found.levels, attached=attached)
    out = tmp_path / "edition"
    out.mkdir()
    write_attached(plan, out)
    assert {path.name for path in (out / PICTURES).iterdir()} == {"a.webp", "attached.json"}
    read = read_attached(out / LIST)
    assert list(read) == ["ditches.geojson"] and read["ditches.geojson"][3][0].credit == "Isla Orr"
    assert json.loads((out / LIST).read_text())["ditches.geojson"]["3"][0][4] == "A ditch"
