"""Clients of services, against documents written by the standards: OGC API - Features 1.0 (17-069r4), WMTS 1.0.0 (07-057r7), TileJSON 3.0.0.

The fragments of documents follow the examples of those standards' own text; their names are made up.
"""

import io
from pathlib import Path
from typing import Any

import morecantile
import numpy as np
import pytest
import rasterio
from greylatch.errors import BadFile, BadInput
from greylatch.services.features import Collection, collections, is_service, pages
from greylatch.services.tile_layers import TileLayer, from_template, from_tilejson, wmts_layers
from greylatch.services.tile_mosaic import excerpt, levels_for, proposed_level, put_together
from PIL import Image

HOME = "https://isles.example/ogc/"
LANDING = {
    "title": "Isles",
    "links": [
        {"href": "./", "rel": "self", "type": "application/json"},
        {"href": "conformance", "rel": "conformance", "type": "application/json"},
        {"href": "collections.html", "rel": "data", "type": "text/html"},
        {"href": "collections", "rel": "data", "type": "application/json"},
    ],
}
WELLS = {
    "id": "wells", "title": "Dip wells", "description": "All of them", "license": "CC-BY-4.0", "attribution": "Vaskerry Survey",
    "extent": {"spatial": {"bbox": [[-28, 51, 0, -26, 53, 900], [0, 0, 0, 1, 1, 1]]}},
    "links": [
        {"href": "collections/wells/items?f=html", "rel": "items", "type": "text/html"},
        {"href": "collections/wells/items?f=json", "rel": "items", "type": "application/geo+json"},
        {"href": "https://isles.example/terms", "rel": "license", "type": "text/html", "title": "Free, with credit"},
    ],
}  # fmt: skip
COVERAGE = {"id": "relief", "itemType": "coverage", "links": [{"href": "x", "rel": "items"}]}
CONFORMS = {
    "conformsTo": [
        "http://www.opengis.net/spec/ogcapi-features-3/1.0/conf/filter",
        "http://www.opengis.net/spec/cql2/1.0/conf/cql2-text",
    ]
}


def getter(documents: dict[str, Any], asked: list[str] | None = None) -> Any:
    def get(address: str) -> Any:
        if address not in documents:
            raise BadInput("404")
        if asked is not None:
            asked.append(address)
        return documents[address]

    return get


def feature(n: int) -> dict[str, Any]:
    return {"type": "Feature", "id": n, "properties": {"n": n}, "geometry": {"type": "Point", "coordinates": [n, 0]}}


def test_from_the_first_page_to_the_collections() -> None:
    get = getter({f"{HOME}collections": {"collections": [WELLS, COVERAGE, {"id": ""}]}, f"{HOME}conformance": CONFORMS})
    (found,) = collections(get, HOME, LANDING)
    assert found == Collection(
        "wells", "Dip wells", f"{HOME}collections/wells/items?f=json", "All of them", (-28.0, 51.0, -26.0, 53.0), "Vaskerry Survey", "Free, with credit", True,
    )  # fmt: skip
    assert is_service(WELLS) and collections(get, f"{HOME}collections/wells", WELLS)[0].filtered
    for document in ({"type": "FeatureCollection", "features": []}, {"links": 3}, [], {"links": [{"rel": "data"}]}):
        assert not is_service(document)
    with pytest.raises(BadFile, match="no collection"):
        collections(get, HOME, {"collections": [COVERAGE]})


def test_the_address_of_a_page_is_that_of_all_of_them() -> None:
    """As somebody pastes it from a browser: the first 20 of 241 were taken for the whole, of a server of OGC API from PyPI."""
    page = {
        "type": "FeatureCollection",
        "features": [feature(1)],
        "links": [{"rel": "next", "href": "items?f=json&offset=20"}],
    }
    assert is_service(page)
    (found,) = collections(getter({}), "https://isles.example/collections/wells/items?f=json&offset=0&limit=20", page)
    assert (found.id, found.items) == ("wells", "https://isles.example/collections/wells/items?f=json")
    assert not is_service({**page, "links": []}), "a file of GeoJSON"


def test_pages_follow_their_links_and_carry_the_question() -> None:
    first = f"{HOME}items?f=json&limit=2&bbox=-28%2C51%2C-26%2C53&filter=n+%3E+1&filter-lang=cql2-text"
    documents = {
        first: {
            "features": [feature(1), feature(2)],
            "numberMatched": 3,
            "links": [{"rel": "next", "href": "items?cursor=abc"}],
        },
        f"{HOME}items?cursor=abc": {"features": [feature(3)], "links": []},
    }
    asked: list[str] = []
    collection = Collection("wells", "Wells", f"{HOME}items?f=json", filtered=True)
    found = list(pages(getter(documents, asked), collection, (-28, 51, -26, 53), "n > 1", 2))
    assert [[each["id"] for each in page.features] for page in found] == [[1, 2], [3]]
    assert [page.of for page in found] == [3, None] and len(asked) == 2


@pytest.mark.parametrize(
    ("documents", "words"),
    [
        (
            {"a?limit=1000": {"features": [feature(1)], "links": [{"rel": "next", "href": "a?limit=1000"}]}},
            "in a circle",
        ),
        ({"a?limit=1000": {"code": "400", "description": "No such thing"}}, "No such thing"),
        ({"a?limit=1000": [1, 2]}, "no page of features"),
    ],
)
def test_what_is_no_page(documents: dict[str, Any], words: str) -> None:
    with pytest.raises(BadFile, match=words):
        list(pages(getter(documents), Collection("a", "A", "a")))


def test_conditions_only_where_they_are_taken() -> None:
    with pytest.raises(BadFile, match="takes no conditions"):
        list(pages(getter({}), Collection("a", "A", "a"), where="n > 1"))


MATRIX = """<TileMatrix><ows:Identifier>{z}</ows:Identifier><ScaleDenominator>{scale}</ScaleDenominator><TopLeftCorner>{corner}</TopLeftCorner>
<TileWidth>256</TileWidth><TileHeight>256</TileHeight><MatrixWidth>{w}</MatrixWidth><MatrixHeight>{h}</MatrixHeight></TileMatrix>"""


def capabilities(layer: str, crs: str, matrices: str, operations: str = "") -> bytes:
    return f"""<?xml version="1.0"?><Capabilities xmlns="http://www.opengis.net/wmts/1.0" xmlns:ows="http://www.opengis.net/ows/1.1"
    xmlns:xlink="http://www.w3.org/1999/xlink" version="1.0.0">{operations}<Contents><Layer><ows:Title>Relief</ows:Title><ows:Identifier>relief</ows:Identifier>
    <ows:WGS84BoundingBox><ows:LowerCorner>-28 51</ows:LowerCorner><ows:UpperCorner>-26 53</ows:UpperCorner></ows:WGS84BoundingBox>
    {layer}<TileMatrixSetLink><TileMatrixSet>set</TileMatrixSet></TileMatrixSetLink></Layer>
    <TileMatrixSet><ows:Identifier>set</ows:Identifier><ows:SupportedCRS>{crs}</ows:SupportedCRS>{matrices}</TileMatrixSet></Contents></Capabilities>""".encode()


def test_the_levels_of_a_wmts_are_those_of_the_standard() -> None:
    """The scales of web maps, as morecantile (PyPI) has them from OGC 17-083r4: 559082264.029 first (from memory), of a pixel of 0.28 mm."""
    quad = morecantile.tms.get("WebMercatorQuad").tileMatrices
    matrices = "".join(
        MATRIX.format(z=z, scale=quad[z].scaleDenominator, corner="-20037508.3428 20037508.3428", w=2**z, h=2**z)
        for z in (0, 1, 2)
    )
    style = '<Style isDefault="true"><ows:Identifier>grey</ows:Identifier></Style><Format>image/jpeg</Format><Format>image/png</Format>'
    resource = '<ResourceURL format="image/png" resourceType="tile" template="tiles/{style}/{TileMatrix}/{TileRow}/{TileCol}.png"/>'
    (layer,) = wmts_layers(capabilities(style + resource, "urn:ogc:def:crs:EPSG:6.18.3:3857", matrices), HOME)
    assert (layer.id, layer.title, layer.crs, layer.bounds) == (
        "relief",
        "Relief",
        "EPSG:3857",
        (-28.0, 51.0, -26.0, 53.0),
    )
    assert [level.resolution for level in layer.levels] == pytest.approx(
        [quad[z].cellSize for z in (0, 1, 2)], rel=1e-9
    )
    assert layer.tile(layer.levels[1], 1, 0) == f"{HOME}tiles/grey/1/0/1.png"


def test_a_wmts_in_degrees_that_is_asked_by_names_and_values() -> None:
    """A well-known scale set of 07-057r7, annex E (from memory): 1.40625 degrees a pixel at the scale 559082264.0287178. EPSG:4326 names the
    latitude first, so its corner stands as 90 -180."""
    matrices = MATRIX.format(z=0, scale=559082264.0287178, corner="90 -180", w=1, h=1)
    operations = """<ows:OperationsMetadata><ows:Operation name="GetTile"><ows:DCP><ows:HTTP><ows:Get xlink:href="https://isles.example/wmts?">
    <ows:Constraint name="GetEncoding"><ows:AllowedValues><ows:Value>KVP</ows:Value></ows:AllowedValues></ows:Constraint></ows:Get></ows:HTTP></ows:DCP></ows:Operation></ows:OperationsMetadata>"""
    style = "<Style><ows:Identifier>default</ows:Identifier></Style><Format>image/png</Format>"
    (layer,) = wmts_layers(capabilities(style, "urn:ogc:def:crs:EPSG::4326", matrices, operations), HOME)
    level = layer.levels[0]
    assert (level.left, level.top) == (-180, 90) and level.resolution == pytest.approx(1.40625, rel=1e-9)
    address = layer.tile(level, 0, 0)
    assert address.startswith("https://isles.example/wmts?SERVICE=WMTS&REQUEST=GetTile&VERSION=1.0.0&LAYER=relief")
    assert address.endswith("&TILEMATRIX=0&TILECOL=0&TILEROW=0")


@pytest.mark.parametrize(
    "document",
    [
        b"<html/>", b"no xml", b"<Capabilities/>",
        b'<!DOCTYPE a [<!ENTITY b "c">]><Capabilities xmlns="http://www.opengis.net/wmts/1.0">&b;</Capabilities>',
        capabilities("<Format>image/tiff</Format>", "EPSG:3857", ""), capabilities("<Format>image/png</Format>", "EPSG:nonsense", MATRIX.format(z=0, scale=1, corner="0 0", w=1, h=1)),
        capabilities("<Format>image/png</Format>", "EPSG:3857", MATRIX.format(z=0, scale="a", corner="0", w=1, h=1)),
    ],
)  # fmt: skip
def test_what_is_no_wmts(document: bytes) -> None:
    with pytest.raises(BadFile):
        wmts_layers(document, HOME)


def test_tilejson() -> None:
    document = {
        "tilejson": "3.0.0", "name": "Relief", "tiles": ["relief/{z}/{x}/{y}.png"], "minzoom": 3, "maxzoom": 6, "bounds": [-28, 51, -26, 53],
        "attribution": '<a href="https://isles.example">Vaskerry Survey</a>',
    }  # fmt: skip
    layer = from_tilejson(document, HOME)
    assert [level.name for level in layer.levels] == ["3", "4", "5", "6"] and layer.credit == "Vaskerry Survey"
    assert layer.tile(layer.levels[0], 1, 2) == f"{HOME}relief/3/1/2.png"
    for wrong in ({"tiles": []}, {"tiles": ["a/{z}/{x}/{y}.pbf"]}, {"vector_layers": [{}]}, {"scheme": "tms"}):
        with pytest.raises(BadFile):
            from_tilejson({**document, **wrong}, HOME)


def picture(column: int, row: int) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (256, 256), (column % 256, row % 256, 90)).save(out, "PNG")
    return out.getvalue()


def coloured(address: str) -> bytes | None:
    column, row = (int(part) for part in address.removesuffix(".png").split("/")[-2:])
    return None if (column + row) % 5 == 0 else picture(column, row)


@pytest.fixture
def layer() -> TileLayer:
    return from_template("https://isles.example/{z}/{x}/{y}.png", levels=(0, 12))


def test_the_tiles_of_a_place_are_those_of_morecantile(layer: TileLayer) -> None:
    bounds = (-27.45, 51.6, -26.5, 52.4)
    for z in (5, 9, 12):
        wanted = list(morecantile.tms.get("WebMercatorQuad").tiles(*bounds, zooms=[z]))
        found = excerpt(layer, layer.levels[z], bounds)
        assert found.tiles == len(wanted)
        assert (found.left, found.top) == (min(tile.x for tile in wanted), min(tile.y for tile in wanted))
    assert [each.level.name for each in levels_for(layer, (-180, -90, 180, 90))] == ["0", "1", "2", "3", "4", "5", "6"]
    with pytest.raises(BadFile, match="no tiles in this place"):
        excerpt(layer, layer.levels[3], (-27, 86, -26, 89))


def test_the_coarsest_level_that_is_sharp_is_proposed(layer: TileLayer) -> None:
    offered = levels_for(layer, (-180, -90, 180, 90))
    proposed = proposed_level(offered)
    assert proposed is not None and proposed.level.name == "3" and proposed.size == (2048, 2048)
    assert proposed_level(offered[:2]) is offered[1], "where none is sharp the finest"
    assert proposed_level([]) is None


def test_tiles_are_put_where_they_belong(layer: TileLayer, tmp_path: Path) -> None:
    taken = excerpt(layer, layer.levels[9], (-27.45, 51.6, -26.5, 52.4))
    told: list[int] = []
    notes = put_together(layer, taken, coloured, tmp_path / "tiles.tif", lambda done, total, what: told.append(done))
    assert told == list(range(1, taken.tiles + 1)) and "no picture" in notes[1]
    with rasterio.open(tmp_path / "tiles.tif") as raster:
        assert raster.crs.to_epsg() == 3857 and raster.count == 4
        for column, row in ((taken.left, taken.top), (taken.right, taken.bottom), (taken.left + 1, taken.bottom)):
            box = morecantile.tms.get("WebMercatorQuad").xy_bounds(morecantile.Tile(column, row, 9))
            ((red, green, _, cover),) = raster.sample([((box.left + box.right) / 2, (box.bottom + box.top) / 2)])
            missing = (column + row) % 5 == 0
            assert (red, green, cover) == ((0, 0, 0) if missing else (column % 256, row % 256, 255))
    assert not list(tmp_path.glob(".*.part"))


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"no picture", "no picture that can be read"),
        (picture(0, 0)[:60], "no picture"),
        (None, "no tiles in this place"),
    ],
)
def test_tiles_that_are_none(layer: TileLayer, tmp_path: Path, data: bytes | None, words: str) -> None:
    taken = excerpt(layer, layer.levels[7], (-27.45, 51.6, -26.5, 52.4))
    with pytest.raises(BadFile, match=words):
        put_together(layer, taken, lambda address: data, tmp_path / "tiles.tif")
    assert list(tmp_path.iterdir()) == []


def test_tiles_of_another_size_are_named(layer: TileLayer, tmp_path: Path) -> None:
    out = io.BytesIO()
    Image.fromarray(np.zeros((512, 512, 3), np.uint8)).save(out, "PNG")
    taken = excerpt(layer, layer.levels[4], (-27.45, 51.6, -26.5, 52.4))
    with pytest.raises(BadFile, match=r"Tile 4/6/5 has 512 × 512 pixels, not 256 × 256"):
        put_together(layer, taken, lambda address: out.getvalue(), tmp_path / "tiles.tif")
