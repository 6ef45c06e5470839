"""Layers of picture tiles that a service offers: by an address with {z}, {x} and {y}, by TileJSON 3.0.0, or by the capabilities
of a WMTS (OGC 07-057r7)."""

import re
from dataclasses import dataclass
from typing import Any
from urllib.parse import urljoin

import morecantile
import pyproj
from defusedxml import ElementTree

from greylatch.errors import BadFile, printable
from greylatch.services.features import with_query

__all__ = ["TileLayer", "TileLevel", "from_template", "from_tilejson", "is_template", "wmts_layers"]

METRES_PER_PIXEL = 0.28e-3
"""Of the pixel for which WMTS states scales (07-057r7, 6.1)."""
PICTURES = ("image/png", "image/jpeg", "image/webp")
DEEPEST = 24
_XLINK = "{http://www.w3.org/1999/xlink}href"


@dataclass(frozen=True)
class TileLevel:
    """A level: what stands for it in addresses, ground units of a pixel, upper left corner, tile size, and how many tiles there are."""

    name: str
    resolution: float
    left: float
    top: float
    width: int
    height: int
    columns: int
    rows: int


@dataclass(frozen=True)
class TileLayer:
    """Pictures in levels; `address` holds {z}, {x} and {y}. `bounds` are in degrees."""

    id: str
    title: str
    address: str
    crs: str
    levels: tuple[TileLevel, ...]
    bounds: tuple[float, float, float, float] | None = None
    credit: str = ""
    description: str = ""

    def tile(self, level: TileLevel, column: int, row: int) -> str:
        """The address of a tile."""
        return self.address.replace("{z}", level.name).replace("{x}", str(column)).replace("{y}", str(row))


def is_template(address: str) -> bool:
    """Whether an address has the places of a tile's level, column and row.

    Examples
    --------
    >>> is_template("https://isles.example/relief/{z}/{x}/{y}.png")
    True
    """
    return all(place in address for place in ("{z}", "{x}", "{y}"))


def from_template(
    address: str, title: str = "", bounds: tuple[float, float, float, float] | None = None, credit: str = "",
    levels: tuple[int, int] = (0, DEEPEST), side: int = 256,
) -> TileLayer:  # fmt: skip
    """A layer of tiles in the scheme that addresses with {z}, {x} and {y} commonly mean: WebMercatorQuad of OGC 17-083r4, rows from
    the north.

    Parameters
    ----------
    address : str
        With {z}, {x} and {y}.
    title : str
        What it is called.
    bounds : tuple[float, float, float, float] | None
        Where it lies, in degrees.
    credit : str
        Whose it is.
    levels : tuple[int, int]
        The first and the last.
    side : int
        Pixels of a tile's side.

    Returns
    -------
    TileLayer
    """
    matrices = morecantile.tms.get("WebMercatorQuad").tileMatrices
    zooms = tuple(
        TileLevel(
            str(z), float(matrix.cellSize) * 256 / side, float(matrix.pointOfOrigin[0]), float(matrix.pointOfOrigin[1]), side, side,
            matrix.matrixWidth, matrix.matrixHeight,
        )
        for z, matrix in enumerate(matrices[: DEEPEST + 1]) if levels[0] <= z <= levels[1]
    )  # fmt: skip
    return TileLayer("tiles", title or "Tiles", address, "EPSG:3857", zooms, bounds, credit)


def from_tilejson(document: dict[str, Any], address: str) -> TileLayer:
    """The layer that a TileJSON describes.

    Parameters
    ----------
    document : dict[str, Any]
        The TileJSON.
    address : str
        Where it stands.

    Returns
    -------
    TileLayer

    Raises
    ------
    BadFile
        For one without an address of tiles, of vector tiles, or with rows from the south.
    """
    tiles = document.get("tiles")
    if not isinstance(tiles, list) or not tiles or not is_template(str(tiles[0])):
        raise BadFile("The TileJSON names no address of tiles.")
    if document.get("vector_layers") or str(tiles[0]).split("?")[0].endswith((".pbf", ".mvt")):
        raise BadFile("These are vector tiles, which are not brought in.", "Ask for a layer of pictures.")
    if document.get("scheme", "xyz") != "xyz":
        raise BadFile("The rows of these tiles begin in the south, which is not read.")
    low, high = (_number(document.get(name), other) for name, other in (("minzoom", 0), ("maxzoom", DEEPEST)))
    stated = document.get("bounds")
    bounds = tuple(map(float, stated)) if isinstance(stated, list) and len(stated) == 4 else None
    return from_template(
        urljoin(address, str(tiles[0])), printable(str(document.get("name") or ""))[:200], bounds,  # type: ignore[arg-type]
        plain(str(document.get("attribution") or "")), (low, high),
    )  # fmt: skip


def wmts_layers(document: bytes, address: str) -> list[TileLayer]:
    """The layers of a WMTS whose pictures can be asked for.

    Parameters
    ----------
    document : bytes
        Its capabilities.
    address : str
        Where they stand.

    Returns
    -------
    list[TileLayer]

    Raises
    ------
    BadFile
        For what is no capabilities document of a WMTS, and one without a layer of pictures in a system that is known.
    """
    try:
        root = ElementTree.fromstring(document)
    except Exception as error:  # what expat and defusedxml raise has no common kind
        raise BadFile("The answer is no XML that can be read.") from error
    contents = _child(root, "Contents")
    if _name(root) != "Capabilities" or contents is None:
        raise BadFile("This is no capabilities document of a WMTS.")
    matrices = {_text(each, "Identifier"): each for each in contents if _name(each) == "TileMatrixSet"}
    asked = _get_tile(root)
    credit = plain(_text(_child(root, "ServiceProvider"), "ProviderName"))
    out = []
    for layer in contents:
        if _name(layer) == "Layer":
            tile_layer = _layer(layer, matrices, asked, address, credit)
            if tile_layer is not None:
                out.append(tile_layer)
    if not out:
        raise BadFile(
            "The WMTS has no layer of pictures that can be read.", "PNG, JPEG and WebP in a known projection can."
        )
    return out


def plain(text: str) -> str:
    """Words without the tags that credits often have.

    Examples
    --------
    >>> plain('<a href="https://isles.example">Vaskerry Survey</a>')
    'Vaskerry Survey'
    """
    return printable(re.sub(r"<[^<>]{0,500}>", "", text)).strip()[:500]


def _layer(layer: Any, matrices: dict[str, Any], get_tile: str | None, address: str, credit: str) -> TileLayer | None:
    formats = [each.text or "" for each in layer if _name(each) == "Format"]
    picture = next((each for each in PICTURES if each in formats), None)
    if picture is None:
        return None
    for link in (each for each in layer if _name(each) == "TileMatrixSetLink"):
        name = _text(link, "TileMatrixSet")
        matrix_set = matrices.get(name)
        read = _levels(matrix_set) if matrix_set is not None else None
        if read is None:
            continue
        crs, levels = read
        template = _address(layer, name, picture, get_tile)
        if template is None:
            return None
        title = _text(layer, "Title") or _text(layer, "Identifier")
        return TileLayer(
            printable(_text(layer, "Identifier"))[:200], printable(title)[:200], urljoin(address, template), crs, levels, _lonlat_box(layer), credit,
            printable(_text(layer, "Abstract"))[:1_000],
        )  # fmt: skip
    return None


def _levels(matrix_set: Any) -> tuple[str, tuple[TileLevel, ...]] | None:
    try:
        crs = pyproj.CRS.from_user_input(_text(matrix_set, "SupportedCRS"))
        # Scales are of metres (07-057r7, 6.1): in degrees by the radius of the system's ellipsoid at the equator.
        unit = crs.axis_info[0].unit_conversion_factor
        radius = crs.ellipsoid.semi_major_metre if crs.ellipsoid else 6_378_137.0
        metres = unit * radius if crs.is_geographic else unit
        swapped = crs.axis_info[0].direction in ("north", "south")
        out = []
        for matrix in (each for each in matrix_set if _name(each) == "TileMatrix"):
            first, second = map(float, _text(matrix, "TopLeftCorner").split())
            left, top = (second, first) if swapped else (first, second)
            numbers = (int(_text(matrix, name)) for name in ("TileWidth", "TileHeight", "MatrixWidth", "MatrixHeight"))
            width, height, columns, rows = numbers
            resolution = float(_text(matrix, "ScaleDenominator")) * METRES_PER_PIXEL / metres
            if not (resolution > 0 and 16 <= width <= 4096 and 16 <= height <= 4096 and columns > 0 and rows > 0):
                return None
            out.append(TileLevel(_text(matrix, "Identifier"), resolution, left, top, width, height, columns, rows))
    except (pyproj.exceptions.CRSError, ValueError, TypeError):
        return None
    authority = crs.to_authority()
    if not out or authority is None:
        return None
    return ":".join(authority), tuple(sorted(out, key=lambda level: -level.resolution))


def _address(layer: Any, matrix_set: str, picture: str, get_tile: str | None) -> str | None:
    """Of a tile, with {z}, {x} and {y}: the pattern that the layer gives, or the question by name and value."""
    style = next(
        (_text(each, "Identifier") for each in layer if _name(each) == "Style" and each.get("isDefault") == "true"), ""
    )
    style = style or next((_text(each, "Identifier") for each in layer if _name(each) == "Style"), "default")
    others = {_text(each, "Identifier"): _text(each, "Default") for each in layer if _name(each) == "Dimension"}
    for each in layer:
        if _name(each) == "ResourceURL" and each.get("resourceType") == "tile" and each.get("format") == picture:
            pattern = str(each.get("template") or "")
            known = {
                "TileMatrixSet": matrix_set,
                "Style": style,
                "TileMatrix": "{z}",
                "TileCol": "{x}",
                "TileRow": "{y}",
                **others,
            }
            for name, value in known.items():
                for spelt in (name, name.lower(), name.upper()):
                    pattern = pattern.replace("{" + spelt + "}", value)
            return pattern if is_template(pattern) else None
    if get_tile is None:
        return None
    asked = {
        "SERVICE": "WMTS", "REQUEST": "GetTile", "VERSION": "1.0.0", "LAYER": _text(layer, "Identifier"), "STYLE": style, "FORMAT": picture,
        "TILEMATRIXSET": matrix_set, **others,
    }  # fmt: skip
    return with_query(get_tile, asked) + "&TILEMATRIX={z}&TILECOL={x}&TILEROW={y}"


def _get_tile(root: Any) -> str | None:
    """Where tiles are asked for by names and values."""
    for operation in root.iter():
        if _name(operation) == "Operation" and operation.get("name") == "GetTile":
            for get in operation.iter():
                encodings = {value.text for value in get.iter() if _name(value) == "Value"}
                if _name(get) == "Get" and (not encodings or "KVP" in encodings):
                    return get.get(_XLINK)
    return None


def _lonlat_box(layer: Any) -> tuple[float, float, float, float] | None:
    box = _child(layer, "WGS84BoundingBox")
    try:
        low, high = ([float(part) for part in _text(box, name).split()] for name in ("LowerCorner", "UpperCorner"))
        return low[0], low[1], high[0], high[1]
    except (IndexError, ValueError, TypeError):
        return None


def _name(element: Any) -> str:
    return str(element.tag).rsplit("}", 1)[-1]


def _child(element: Any, name: str) -> Any:
    return next((each for each in element if _name(each) == name), None)


def _text(element: Any, name: str) -> str:
    child = _child(element, name) if element is not None else None
    return (child.text or "").strip() if child is not None else ""


def _number(value: Any, otherwise: int) -> int:
    return value if isinstance(value, int) and 0 <= value <= DEEPEST else otherwise
