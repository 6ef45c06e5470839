"""What a readers' page gets: shapes by fid, ink, cards, labels, its letters; and pictures where there are too many shapes."""

import gzip
import io
import json
from html.parser import HTMLParser
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
from fontTools.ttLib import TTFont
from greylatch.cli.draw import beside
from greylatch.edition.faces import face_file, part_of_face
from greylatch.edition.live import live_from, tiled_layers
from greylatch.edition.page import page_html
from greylatch.edition.plan import Plan, plan_edition
from greylatch.edition.publish import publish
from greylatch.edition.vector_tiles import label_archives
from greylatch.lettering.faces import PLAIN
from greylatch.paint.passes import VectorPass, compose
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import LONLAT
from greylatch.places.frame import Frame
from greylatch.places.grid import Tile
from greylatch.sheet.document import Sheet
from greylatch.sheet.reading import parse_sheet, read_sheet
from greylatch.tables.dataset import Dataset
from greylatch.tiles.archive import ArchiveInfo
from greylatch.tiles.mvt import EXTENT
from greylatch.tiles.read import open_tiles
from mapbox_vector_tile import decode
from pmtiles.reader import MemorySource, all_tiles

PAGE_LETTERS = face_file(PLAIN)


@pytest.fixture(scope="module")
def edition(demo: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    out = tmp_path_factory.mktemp("live") / "edition"
    publish(plan_edition(read_sheet(demo / "carbon.sheet.json"), beside(demo), max_zoom=9), out, 1)
    return out


def told(edition: Path) -> dict:  # type: ignore[type-arg]
    return json.loads((edition / "edition.json").read_text())  # type: ignore[no-any-return]


def test_shapes_carry_fids_and_nothing_else(edition: Path, demo: Path) -> None:
    layers = {one["id"]: one for one in told(edition)["layers"]}
    data = compose(read_sheet(demo / "carbon.sheet.json"), beside(demo))
    fids = {one.layer.id: set(one.source.dataset.fids.tolist()) for one in data.passes if isinstance(one, VectorPass)}
    for name in ("carbon", "wells"):
        shapes = layers[name]["shapes"]
        found = set()
        for _, tile in all_tiles(MemorySource((edition / shapes["archive"]).read_bytes())):
            for feature in decode(tile)["shapes"]["features"]:
                assert feature["properties"] == {}
                found.add(feature["id"])
        assert found <= fids[name] and len(found) > 0.9 * len(fids[name])
        assert (shapes["min_zoom"], shapes["max_zoom"]) == (7, 8)


def test_ink_is_what_is_painted(edition: Path, demo: Path) -> None:
    (carbon,) = (one for one in told(edition)["layers"] if one["id"] == "carbon")
    data = gzip.decompress((edition / carbon["ink"]).read_bytes())
    length = int.from_bytes(data[:4], "little")
    header = json.loads(data[4 : 4 + length])
    painted = next(
        one for one in compose(read_sheet(demo / "carbon.sheet.json"), beside(demo)).passes if one.layer.id == "carbon"
    )
    assert np.array_equal(np.frombuffer(data, "<u2", header["n"], 4 + length), painted.ink.mark)  # type: ignore[union-attr]
    assert [one["fill"] for one in header["palette"]] == [mark.fill for mark in painted.ink.palette]  # type: ignore[union-attr]


def test_every_card_is_in_the_block_that_its_number_says(edition: Path) -> None:
    for layer in told(edition)["layers"]:
        if layer["cards"] is None:
            continue
        starts = layer["cards"]
        assert starts == sorted(starts)
        seen = 0
        for number, first in enumerate(starts):
            block = {
                int(fid): html
                for fid, html in json.loads((edition / f"cards/{layer['id']}/{number}.json").read_text()).items()
            }
            last = starts[number + 1] if number + 1 < len(starts) else float("inf")
            assert min(block) == first and max(block) < last
            seen += len(block)
        assert seen > 200 and not (edition / f"cards/{layer['id']}/{len(starts)}.json").exists()


def test_the_letters_are_those_of_the_labels(edition: Path) -> None:
    there = TTFont(io.BytesIO((edition / "page" / "letters.woff").read_bytes())).getBestCmap()
    assert {ord(letter) for letter in "KelasyHn0°"} <= set(there)
    assert ord("Ж") not in there
    assert ord("Ж") in TTFont(io.BytesIO(part_of_face(PLAIN, "Жук"))).getBestCmap()
    faces = told(edition)["labels"]["faces"]
    assert set(faces) == {"sans-500", "serif-400-italic"}
    names = TTFont(io.BytesIO((edition / faces["serif-400-italic"]).read_bytes())).getBestCmap()
    assert {ord(letter) for letter in "Kellasy"} <= set(names) and ord("x") not in names


class Texts(HTMLParser):
    """All text of a page, and its tags."""

    def __init__(self) -> None:
        super().__init__()
        self.words: list[str] = []
        self.tags: list[str] = []

    def handle_data(self, data: str) -> None:
        self.words.append(data)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.append(tag)


def test_titles_and_keys_bring_no_markup_into_the_page(edition: Path, demo: Path) -> None:
    sheet = read_sheet(demo / "carbon.sheet.json").model_copy(update={"title": "<script>alert(1)</script> & peat"})
    sheet.layers[1].key = sheet.layers[1].key.model_copy(update={"title": 'Carbon "><img src=x onerror=y>'})
    page = publish(plan_edition(sheet, beside(demo), max_zoom=8), edition.parent / "odd", 1)
    from greylatch.edition.description import EditionPage

    html = page_html(EditionPage.model_validate(page), ["https://pictures.example.org"])
    read = Texts()
    read.feed(html)
    assert "<script>alert(1)</script> & peat" in read.words
    assert read.tags.count("script") == 1 and read.tags.count("img") == 1
    assert "img-src 'self' data: blob: https://pictures.example.org;" in html


def test_what_the_page_has_browsers_fetch_early_is_there_and_is_asked_for(edition: Path) -> None:
    early = [attributes["href"] for attributes in Links.of(edition) if attributes["rel"] == "preload"]
    assert early[0] == "edition.json" and PAGE_LETTERS in early
    assert set(early) >= {layer["ink"] for layer in told(edition)["layers"] if layer["ink"]}
    assert all((edition / str(name)).is_file() for name in early)


class Links(HTMLParser):
    """What a page's links say."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[dict[str, str | None]] = []

    @classmethod
    def of(cls, edition: Path) -> list[dict[str, str | None]]:
        read = cls()
        read.feed((edition / "index.html").read_text())
        return read.found

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag == "link":
            self.found.append(dict(attrs))


@pytest.fixture(scope="module")
def dense() -> Plan:
    """30,000 fields in a small country: too many for the tiles of the first levels."""
    rng = np.random.default_rng(6)
    n = 30_000
    places = rng.uniform((5, 50), (7, 52), (n, 2))
    fields = shapely.buffer(shapely.points(places), 0.004, quad_segs=4)
    source = VectorSource(Dataset(pa.table({"v": rng.lognormal(size=n)}), "areas", fields, pyproj.CRS.from_epsg(4326)))
    layer = {"id": "fields", "name": "Fields", "dataset": "f", "symbology": {"kind": "symbols"}, "card": "{{ v }}"}

    def find(name: str, frame: Frame) -> VectorSource:
        return source

    return plan_edition(Sheet.model_validate({"title": "Dense", "layers": [layer]}), find, min_zoom=5, max_zoom=11)


def test_too_many_shapes_come_as_pictures_until_they_are_few_enough(dense: Plan, tmp_path: Path) -> None:
    (one,) = dense.composition.passes
    first = live_from(one, 11)
    assert first is not None and 5 < first <= 10
    (tiled,) = tiled_layers(dense.composition, dense.levels).values()
    assert tiled.last >= first
    (layer,) = publish(dense, tmp_path / "edition", 1)["layers"]
    assert layer["shapes"]["min_zoom"] == first
    assert (layer["pictures"]["min_zoom"], layer["pictures"]["max_zoom"]) == (5, tiled.last)
    sizes = [
        len(tile)
        for _, tile in all_tiles(MemorySource((tmp_path / "edition" / layer["shapes"]["archive"]).read_bytes()))
    ]
    assert max(sizes) < 550_000
    x, y = one.source.bounds[0], one.source.bounds[3]
    at = dense.frame.grid.tile_at(x + 1000, y - 1000, 6)
    assert open_tiles(tmp_path / "edition" / layer["pictures"]["archive"]).tile(Tile(*at))[8:12] == b"WEBP"  # type: ignore[index]
    style = json.loads((tmp_path / "edition" / "style.json").read_text())
    pictures, fill = (next(one for one in style["layers"] if one["type"] == kind) for kind in ("raster", "fill"))
    assert pictures["maxzoom"] == fill["minzoom"] <= 11
    assert EXTENT == 4096, "what limits are counted with"


def test_labels_of_a_map_far_wider_than_its_first_level_begin_where_it_fits_a_page() -> None:
    """Found with counties from Guam to Maine, published from level 5 on: labels of level 4 lay on one another at level 2."""
    places = shapely.points([[-170, -14], [170, 60]])
    source = VectorSource(Dataset(pa.table({"name": ["Ard", "Bren"]}), "points", places, LONLAT))
    look = {"id": "a", "name": "A", "dataset": "d", "symbology": {"kind": "symbols"}, "lettering": {"field": "name"}}
    composition = compose(parse_sheet({"title": "t", "layers": [look]}), lambda *_: source)
    whole = ArchiveInfo("t", "png", 5, 7, (-170, -14, 170, 60))
    assert label_archives(composition, whole)["labels"].info.min_zoom == 0
