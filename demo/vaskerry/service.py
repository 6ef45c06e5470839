"""A stand-in for services of others: the demo's data by OGC API Features, GeoJSON, tiles and WMTS. Usage: python -m vaskerry.service FOLDER PORT

Nothing of it is part of the product: it is what an authority's server would be. It is a WSGI application, and says what it says by the
standards: OGC API - Features 1.0 (17-069r4) with CQL2 text (19-079r2), RFC 7946, TileJSON 3.0.0, WMTS 1.0.0 (07-057r7).
"""

import json
import sys
from collections.abc import Callable, Iterable
from functools import cache
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, urlencode
from wsgiref.simple_server import WSGIRequestHandler, WSGIServer, make_server

import morecantile
import shapely
from greylatch.errors import BadInput, CannotDraw
from greylatch.formats.files import read_file
from greylatch.paint.passes import Composition, compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import RasterSource
from greylatch.places.crs import to_lonlat
from greylatch.places.frame import MERCATOR
from greylatch.places.grid import Tile
from greylatch.places.view import View
from greylatch.rules.evaluating import taken
from greylatch.sheet.reading import parse_sheet
from greylatch.tables.dataset import Dataset
from greylatch.tables.fieldtypes import plain
from greylatch.tiles.image import png

TITLE = "Vaskerry Isles Survey Office (invented)"
LICENCE = "free, with credit"
COLLECTIONS = {
    "wells": ("Dip wells", "dip_wells.csv"),
    "ditches": ("Ditches", "ditches.geojson"),
    "places": ("Places by name", "gazetteer.csv"),
}
AT_ONCE, MOST_AT_ONCE = 10, 1_000
"""Features in a page where nobody says how many, and at most."""
DEEPEST = 12
GEOJSON, JSON, XML, PNG = "application/geo+json", "application/json", "application/xml", "image/png"
CONFORMS = [
    "http://www.opengis.net/spec/ogcapi-features-1/1.0/conf/core", "http://www.opengis.net/spec/ogcapi-features-1/1.0/conf/geojson",
    "http://www.opengis.net/spec/ogcapi-features-3/1.0/conf/filter", "http://www.opengis.net/spec/cql2/1.0/conf/cql2-text",
]  # fmt: skip
Start = Callable[[str, list[tuple[str, str]]], Any]
Reply = tuple[str, str, bytes]


def application(folder: Path) -> Callable[[dict[str, Any], Start], Iterable[bytes]]:
    """The service over the demo's files in `folder`, as a WSGI application."""

    def answer(environ: dict[str, Any], start: Start) -> Iterable[bytes]:
        home = f"http://{environ['HTTP_HOST']}"
        query = {name: values[-1] for name, values in parse_qs(environ.get("QUERY_STRING", "")).items()}
        status, kind, body = reply(folder, home, environ.get("PATH_INFO", "/"), query)
        start(status, [("Content-Type", kind), ("Content-Length", str(len(body)))])
        return [body]

    return answer


def reply(folder: Path, home: str, path: str, query: dict[str, str]) -> Reply:
    """Status, type and body of an answer."""
    match path.strip("/").split("/"):
        case [""]:
            return _json(_landing(home))
        case ["conformance"]:
            return _json({"conformsTo": CONFORMS})
        case ["collections"]:
            return _json(
                {
                    "links": [_link(home, "collections", "self")],
                    "collections": [_collection(folder, home, each) for each in COLLECTIONS],
                }
            )
        case ["collections", name] if name in COLLECTIONS:
            return _json(_collection(folder, home, name))
        case ["collections", name, "items"] if name in COLLECTIONS:
            return _items(folder, home, name, query)
        case ["files", "huts.geojson"]:
            return _file(folder, home)
        case ["tiles", "relief.json"]:
            return _json(_tilejson(home))
        case ["tiles", "relief", z, x, y] if y.endswith(".png") and all(each.isdigit() for each in (z, x, y[:-4])):
            return _tile(folder, int(z), int(x), int(y[:-4]))
        case ["wmts"]:
            return "200 OK", XML, _capabilities(home).encode()
    return _said("404 Not Found", "There is nothing here.")


def _landing(home: str) -> dict[str, Any]:
    links = [_link(home, "", "self"), _link(home, "conformance", "conformance"), _link(home, "collections", "data")]
    return {"title": TITLE, "description": "What a survey office would offer.", "links": links}


def _collection(folder: Path, home: str, name: str) -> dict[str, Any]:
    title, _ = COLLECTIONS[name]
    bounds = [float(value) for value in shapely.total_bounds(_shapes(folder, name))]
    return {
        "id": name, "title": title, "description": f"{len(_rows(folder, name)):,} features.", "itemType": "feature", "attribution": TITLE,
        "extent": {"spatial": {"bbox": [bounds], "crs": "http://www.opengis.net/def/crs/OGC/1.3/CRS84"}},
        "links": [
            _link(home, f"collections/{name}", "self"), _link(home, f"collections/{name}/items", "items", GEOJSON),
            {"href": f"{home}/terms", "rel": "license", "type": "text/html", "title": LICENCE},
        ],
    }  # fmt: skip


def _items(folder: Path, home: str, name: str, query: dict[str, str]) -> Reply:
    rows, shapes = _rows(folder, name), _shapes(folder, name)
    try:
        limit = min(max(int(query.get("limit", AT_ONCE)), 1), MOST_AT_ONCE)
        offset = max(int(query.get("offset", 0)), 0)
        chosen = taken(rows.described(), query["filter"]) if query.get("filter") else shapely.is_valid(shapes) | True
        if query.get("bbox"):
            west, south, east, north = map(float, query["bbox"].split(","))
            chosen = chosen & shapely.intersects(shapes, shapely.box(west, south, east, north))
    except (ValueError, BadInput, CannotDraw) as error:
        return _said("400 Bad Request", str(error))
    found = chosen.nonzero()[0]
    features = [
        {
            "type": "Feature", "id": int(rows.fids[row]), "geometry": json.loads(shapely.to_geojson(shapes[row])),
            "properties": {field: plain(value) for field, value in rows.record(int(rows.fids[row])).items()},
        }
        for row in found[offset : offset + limit]
    ]  # fmt: skip
    links = [_link(home, f"collections/{name}/items", "self", GEOJSON)]
    if offset + limit < len(found):
        following = urlencode({**query, "limit": limit, "offset": offset + limit})
        links.append(_link(home, f"collections/{name}/items?{following}", "next", GEOJSON))
    page = {
        "type": "FeatureCollection",
        "numberMatched": len(found),
        "numberReturned": len(features),
        "links": links,
        "features": features,
    }
    return "200 OK", GEOJSON, json.dumps(page).encode()


def _file(folder: Path, home: str) -> Reply:
    """A file of GeoJSON, which has no pages."""
    status, kind, body = _items(folder, home, "places", {"limit": "60"})
    return status, kind, json.dumps({"type": "FeatureCollection", "features": json.loads(body)["features"]}).encode()


def _tilejson(home: str) -> dict[str, Any]:
    return {
        "tilejson": "3.0.0", "name": "Shaded relief of the isles", "attribution": f'<a href="{home}">{TITLE}</a>', "minzoom": 0, "maxzoom": DEEPEST,
        "tiles": [f"{home}/tiles/relief/{{z}}/{{x}}/{{y}}.png"], "bounds": list(_relief_bounds()),
    }  # fmt: skip


def _tile(folder: Path, z: int, x: int, y: int) -> Reply:
    if z > DEEPEST or max(x, y) >= 2**z:
        return _said("404 Not Found", "There is no such tile.")
    picture = paint(_relief(folder), View.of_tile(MERCATOR, Tile(z, x, y), 256, 1), ground=False)
    return "200 OK", PNG, png(picture)


def _capabilities(home: str) -> str:
    matrices = "".join(
        f"<TileMatrix><ows:Identifier>{z}</ows:Identifier><ScaleDenominator>{matrix.scaleDenominator!r}</ScaleDenominator>"
        f"<TopLeftCorner>{matrix.pointOfOrigin[0]!r} {matrix.pointOfOrigin[1]!r}</TopLeftCorner><TileWidth>256</TileWidth><TileHeight>256</TileHeight>"
        f"<MatrixWidth>{matrix.matrixWidth}</MatrixWidth><MatrixHeight>{matrix.matrixHeight}</MatrixHeight></TileMatrix>"
        for z, matrix in enumerate(morecantile.tms.get("WebMercatorQuad").tileMatrices[: DEEPEST + 1])
    )
    west, south, east, north = _relief_bounds()
    pattern = f"{home}/tiles/relief/{{TileMatrix}}/{{TileCol}}/{{TileRow}}.png"
    return f"""<?xml version="1.0" encoding="UTF-8"?>
<Capabilities xmlns="http://www.opengis.net/wmts/1.0" xmlns:ows="http://www.opengis.net/ows/1.1" version="1.0.0">
<ows:ServiceIdentification><ows:Title>{TITLE}</ows:Title></ows:ServiceIdentification>
<ows:ServiceProvider><ows:ProviderName>{TITLE}</ows:ProviderName></ows:ServiceProvider>
<Contents><Layer><ows:Title>Shaded relief of the isles</ows:Title><ows:WGS84BoundingBox><ows:LowerCorner>{west} {south}</ows:LowerCorner>
<ows:UpperCorner>{east} {north}</ows:UpperCorner></ows:WGS84BoundingBox><ows:Identifier>relief</ows:Identifier>
<Style isDefault="true"><ows:Identifier>default</ows:Identifier></Style><Format>image/png</Format>
<TileMatrixSetLink><TileMatrixSet>WebMercatorQuad</TileMatrixSet></TileMatrixSetLink>
<ResourceURL format="image/png" resourceType="tile" template="{pattern}"/></Layer>
<TileMatrixSet><ows:Identifier>WebMercatorQuad</ows:Identifier><ows:SupportedCRS>urn:ogc:def:crs:EPSG::3857</ows:SupportedCRS>{matrices}</TileMatrixSet>
</Contents></Capabilities>"""


@cache
def _rows(folder: Path, name: str) -> Dataset:
    return read_file(folder / COLLECTIONS[name][1]).dataset


@cache
def _shapes(folder: Path, name: str) -> Any:
    rows = _rows(folder, name)
    assert rows.shapes is not None and rows.crs is not None
    return to_lonlat(rows.shapes, rows.crs)


@cache
def _relief(folder: Path) -> Composition:
    layer = {"id": "relief", "name": "Relief", "dataset": "relief.tif", "symbology": {"kind": "hillshade"}}
    return compose(
        parse_sheet({"title": "Relief", "layers": [layer]}), lambda name, frame: RasterSource(folder / name, frame)
    )


def _relief_bounds() -> tuple[float, float, float, float]:
    return -27.45, 51.6, -26.5, 52.4


def _link(home: str, path: str, rel: str, kind: str = JSON) -> dict[str, str]:
    return {"href": f"{home}/{path}", "rel": rel, "type": kind}


def _json(document: dict[str, Any]) -> Reply:
    return "200 OK", JSON, json.dumps(document).encode()


def _said(status: str, words: str) -> Reply:
    return status, JSON, json.dumps({"code": status.split(" ")[0], "description": words}).encode()


class Quiet(WSGIRequestHandler):
    """Says nothing of each request."""

    def log_message(self, *_: object) -> None:
        """Nothing."""


def served(folder: Path, port: int = 0) -> WSGIServer:
    """The service at a port of loopback, ready to be served; 0 takes a free one."""
    return make_server("127.0.0.1", port, application(folder), handler_class=Quiet)


if __name__ == "__main__":
    served(Path(sys.argv[1]), int(sys.argv[2])).serve_forever()
