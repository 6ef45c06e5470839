"""Reading GeoJSON and zipped Shapefiles. Only these two are opened, by their contents, whatever the file's name says."""

import codecs
import json
import tempfile
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
import orjson
import pyarrow as pa
import pyproj
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadInput, printable
from greylatch.formats.zipped import unpack
from greylatch.places.antimeridian import MOST_LONGITUDE, crosses_antimeridian, cut_at_antimeridian
from greylatch.places.crs import LONLAT, MAX_CRS_TEXT, guess_crs, parse_crs
from greylatch.tables.dataset import MAX_COLUMNS, Dataset, Kind, Shapes, kind_of, named, named_columns
from greylatch.tables.delimited import guess_encoding
from greylatch.wording import counted

SHAPEFILE_PARTS = {".shp", ".shx", ".dbf", ".prj", ".cpg"}
MAX_GEOJSON = 1024**3
GEOJSON_SHAPES = (
    "Point", "MultiPoint", "LineString", "MultiLineString", "Polygon", "MultiPolygon", "GeometryCollection",
)  # fmt: skip


@dataclass(frozen=True)
class ReadResult:
    """A dataset and what was noticed while reading it. `crs_reason` says where the CRS comes from."""

    dataset: Dataset
    crs_reason: str
    notes: list[str] = field(default_factory=list)


def read_geojson(path: str | Path, crs: str | None = None) -> ReadResult:
    """A GeoJSON file (RFC 7946). Raises BadInput with line and column of a mistake in the JSON."""
    if Path(path).stat().st_size > MAX_GEOJSON:
        raise BadInput("The GeoJSON is larger than 1 GB.")
    document = _json(path)
    features = _features(document)
    notes: list[str] = []
    shapes = _geojson_shapes(features, notes)
    stated = _stated_crs(document.get("crs"))
    if crs:
        chosen, reason = parse_crs(crs), "Chosen by hand."
    elif stated:
        chosen, reason = parse_crs(stated), "Stated in the file."
    else:
        chosen, reason = LONLAT, "GeoJSON is in longitude and latitude (RFC 7946)."
        if document.get("crs") is not None:
            notes.append("What the file says of its projection cannot be read; it is taken as longitude and latitude.")
    return _result(_geojson_columns(features), shapes, chosen, reason, notes)


def _features(document: Any) -> list[Any]:
    """The features of a GeoJSON document; RFC 7946 has bare shapes too."""
    if isinstance(document, list):
        raise BadInput("This JSON is a list, not GeoJSON.", "Save a table as CSV.")
    kind = document.get("type") if isinstance(document, dict) else None
    if kind == "Topology":
        raise BadInput("This JSON is TopoJSON, which is not read.", "Save it as GeoJSON.")
    if kind == "FeatureCollection":
        features = document.get("features", [])
        if not isinstance(features, list) or not features:
            raise BadInput("The GeoJSON holds no feature.")
        return features
    if kind == "Feature":
        return [document]
    if kind in GEOJSON_SHAPES:
        return [{"type": "Feature", "geometry": document}]
    raise BadInput("This JSON is not GeoJSON: its type is not FeatureCollection, Feature or that of a shape.")


def _json(path: str | Path) -> Any:
    try:
        return orjson.loads(Path(path).read_bytes().removeprefix(codecs.BOM_UTF8))
    except orjson.JSONDecodeError:
        pass  # what is read less strictly below, or refused in the words of the standard library
    try:
        # NaN and infinities are no JSON, but many programs write them where a value is missing.
        return json.loads(Path(path).read_text("utf-8-sig"), parse_constant=lambda _: None)
    except UnicodeDecodeError as error:
        raise BadInput("The GeoJSON is not UTF-8 text, as RFC 7946 asks.") from error
    except json.JSONDecodeError as error:
        raise BadInput(
            f"The GeoJSON breaks off or is misspelt at line {error.lineno}, column {error.colno}: {error.msg}."
        ) from error
    except RecursionError as error:
        raise BadInput("The GeoJSON is nested too deeply.") from error
    except ValueError as error:
        raise BadInput("The GeoJSON holds a number of thousands of digits.") from error


def _stated_crs(named: object) -> str | None:
    """The name in a `crs` entry as GeoJSON had it before RFC 7946; None for what is none."""
    properties = named.get("properties") if isinstance(named, dict) else None
    name = properties.get("name") if isinstance(properties, dict) else None
    return name if isinstance(name, str) and name.strip() else None


def read_zipped_shapefile(
    path: str | Path, crs: str | None = None, encoding: str | None = None, placed: bool = True
) -> ReadResult:
    """The one Shapefile in a zip. Raises BadInput where there is none, several, or parts are missing or broken; also, unless
    `placed` is false, where nothing says in which projection it is."""
    with tempfile.TemporaryDirectory(prefix="greylatch-") as folder:
        files = unpack(path, folder, SHAPEFILE_PARTS)
        mains = [file for file in files if file.suffix.lower() == ".shp"]
        if len(mains) != 1:
            raise BadInput(
                "The zip holds no Shapefile (.shp)."
                if not mains
                else f"The zip holds {len(mains)} Shapefiles; pack one."
            )
        main = mains[0]
        parts = {file.suffix.lower(): file for file in files if file.stem == main.stem}
        for ending in (".shx", ".dbf"):
            if ending not in parts:
                raise BadInput(f"The Shapefile's {main.stem}{ending} is missing from the zip.")
        if main.read_bytes()[:4] != b"\x00\x00\x27\x0a":
            raise BadInput(f"{main.name} is not a Shapefile, whatever its name says.")
        notes = []
        if encoding is None and ".cpg" not in parts:
            encoding = guess_encoding(_text_of_dbf(parts[".dbf"]))
            if encoding not in ("utf-8", "ascii"):
                notes.append(f"The Shapefile does not say how its text is written; it reads as {encoding}.")
        projection = _projection(parts.get(".prj"), notes)
        for odd in (".prj", ".cpg"):  # read above, and never by the library, which stumbles over broken ones
            if odd in parts and (odd == ".prj" or encoding is not None):
                parts[odd].unlink()
        columns, shapes = _read_layer(main, encoding)
    if crs:
        return _result(columns, shapes, parse_crs(crs), "Chosen by hand.", notes)
    if projection is not None:
        return _result(columns, shapes, projection, "Stated in the .prj file.", notes)
    why = "The Shapefile has no .prj." if ".prj" not in parts else "The Shapefile's .prj cannot be read."
    xy = shapely.get_coordinates(shapes)
    guess = guess_crs(xy[:, 0], xy[:, 1])
    if guess.crs is None and placed:
        raise BadInput(why, guess.reason)
    return _result(columns, shapes, parse_crs(guess.crs) if guess.crs else None, f"{why} {guess.reason}", notes)


def _read_layer(main: Path, encoding: str | None) -> tuple[pa.Table, Shapes]:
    """Columns and shapes of a Shapefile, its text as UTF-8."""
    # Loaded where a Shapefile is read, and only there: it brings pandas along, which takes longer than most files.
    import pyogrio
    from pyogrio.errors import DataLayerError, DataSourceError

    try:
        meta, table = pyogrio.read_arrow(main, encoding=encoding)
        name = meta.get("geometry_name") or "wkb_geometry"
        shapes = shapely.from_wkb(table[name].to_numpy(zero_copy_only=False), on_invalid="raise")
        columns = table.drop_columns([name])
        columns.validate(full=True)
    except pa.ArrowInvalid as error:
        raise BadInput(f"The text in {main.stem}.dbf is not {encoding or 'what its .cpg says'}.") from error
    except (
        DataSourceError,
        DataLayerError,
        UnicodeDecodeError,
        ValueError,
        LookupError,
        shapely.GEOSException,
    ) as error:
        raise BadInput(f"{main.name} cannot be read: {error}.") from error
    if len(shapes) == 0:
        raise BadInput(f"{main.name} holds no feature.")
    return columns, shapes


def _text_of_dbf(path: Path, most: int = 256 * 1024) -> bytes:
    """The records of a dBASE table without its header, whose bytes are no text."""
    data = path.read_bytes()[: most + 65_536]
    start = int.from_bytes(data[8:10], "little") if len(data) > 10 else 0
    return data[start : start + most].replace(b"\0", b" ").replace(b"\x1a", b" ") or b" "


def _projection(file: Path | None, notes: list[str]) -> pyproj.CRS | None:
    if file is None:
        return None
    text = file.read_bytes()[:MAX_CRS_TEXT].decode("utf-8", "replace").strip("\0 \r\n")
    try:
        return parse_crs(text) if text else None
    except BadInput as error:
        notes.append(f"The .prj file says nothing that is understood: {error}")
        return None


def _result(columns: pa.Table, shapes: Shapes, crs: pyproj.CRS | None, reason: str, known: list[str]) -> ReadResult:
    notes = list(known)
    if columns.num_columns == 0:  # a table without a column does not know how many rows it has
        columns = pa.table({"row": pa.array(range(1, len(shapes) + 1), pa.int64())})
    absent = shapely.is_missing(shapes) | shapely.is_empty(shapes)
    if absent.all():
        raise BadInput("There is no shape in this file.")
    if absent.any():
        shapes = np.where(absent, shapely.GeometryCollection(), shapes)
        notes.append(f"{counted(int(absent.sum()), 'row')} without a shape: {_rows(absent)}.")
    lost = _without_a_place(shapes)
    if lost.any():
        raise BadInput(f"{counted(int(lost.sum()), 'row')} with coordinates that are no numbers: {_rows(lost)}.")
    shapes = shapely.force_2d(shapes)
    kind = kind_of(shapes)
    if crs is not None and crs.is_geographic:
        _check_degrees(shapes)
        shapes = _cut_where_broken(shapes)
    broken = ~shapely.is_valid(shapes)
    if broken.any() and kind == "areas":
        notes.append(
            f"{counted(int(broken.sum()), 'area')} had rings that cross themselves, now repaired: {_rows(broken)}."
        )
        # Repaired by structure, what is left of an area that collapses is nothing, not a line or a mixture.
        shapes = np.where(broken, shapely.make_valid(shapes, method="structure", keep_collapsed=False), shapes)
    shapes, mixed = _of_one_kind(shapes, kind)
    if mixed.any():
        notes.append(
            f"{counted(int(mixed.sum()), 'row')} with shapes of another kind than {kind}, left out: {_rows(mixed)}."
        )
    return ReadResult(Dataset(named_columns(columns), kind, shapes, crs), reason, notes)


def _cut_where_broken(shapes: Shapes) -> Shapes:
    """Those that cross the 180th meridian and look broken on paper for that, cut there: to repair them on paper would make
    areas round the world of them."""
    crossing = ~shapely.is_valid(shapes) & crosses_antimeridian(shapes)
    out = shapes.copy()
    out[crossing] = cut_at_antimeridian(shapes[crossing])
    return out


def _without_a_place(shapes: Shapes) -> NDArray[np.bool_]:
    xy, owner = shapely.get_coordinates(shapes, return_index=True)
    found = np.zeros(len(shapes), dtype=np.bool_)
    found[owner[~np.isfinite(xy).all(axis=1)]] = True
    return found


def _check_degrees(shapes: Shapes) -> None:
    """Raise BadInput that names the first row that does not lie on the globe. Longitudes may be counted on, some turns round it."""
    west, south, east, north = shapely.bounds(shapes).T
    with np.errstate(invalid="ignore"):
        off = (
            (np.abs(west) > MOST_LONGITUDE)
            | (np.abs(east) > MOST_LONGITUDE)
            | (south < -90.000001)
            | (north > 90.000001)
        )
    if off.any():
        row = int(np.argmax(off))
        raise BadInput(
            f"Row {row + 1} reaches from ({west[row]:g}, {south[row]:g}) to ({east[row]:g}, {north[row]:g}), which is not longitude and latitude.",
            "Is the projection another one?",
        )


_KINDS = {"points": ("Point", (0, 4)), "lines": ("LineString", (1, 2, 5)), "areas": ("Polygon", (3, 6))}


def _of_one_kind(shapes: Shapes, kind: Kind) -> tuple[Shapes, NDArray[np.bool_]]:
    """The shapes that are of `kind`, of collections the parts that are; and which rows lost something."""
    part, types = _KINDS[kind]
    other = ~np.isin(shapely.get_type_id(shapes), types) & ~shapely.is_empty(shapes)
    if not other.any():
        return shapes, other
    many = {"points": shapely.MultiPoint, "lines": shapely.MultiLineString, "areas": shapely.MultiPolygon}[kind]
    out = shapes.copy()
    for i in np.flatnonzero(other):
        parts = [
            one for each in shapely.get_parts(shapes[i]) for one in shapely.get_parts(each) if one.geom_type == part
        ]
        out[i] = many(parts) if parts else shapely.GeometryCollection()
    return out, other


def _rows(mask: np.ndarray) -> str:
    rows = (np.flatnonzero(mask) + 1).tolist()
    return ("row " if len(rows) == 1 else "rows ") + ", ".join(map(str, rows[:8])) + (" …" if len(rows) > 8 else "")


def _geojson_shapes(features: list[Any], notes: list[str]) -> Shapes:
    texts = np.full(len(features), None, dtype=object)
    open_rings = np.zeros(len(features), dtype=np.bool_)
    for i, feature in enumerate(features):
        if not isinstance(feature, dict) or feature.get("type") != "Feature":
            raise BadInput(f"Entry {i + 1} of the GeoJSON is not a Feature.")
        if not isinstance(feature.get("properties") or {}, dict):
            raise BadInput(f"The properties of feature {i + 1} are not an object with names and values.")
        if feature.get("geometry") is None:
            continue
        texts[i] = _text(feature["geometry"], i)
    try:
        shapes = shapely.from_geojson(texts)
    except shapely.GEOSException:
        shapes, open_rings = _one_by_one(features, texts)
    if open_rings.any():
        notes.append(
            f"{counted(int(open_rings.sum()), 'area')} had rings that do not end where they begin, now closed: {_rows(open_rings)}."
        )
    return shapes


def _text(shape: Any, i: int) -> bytes:
    try:
        return orjson.dumps(shape)
    except (TypeError, RecursionError) as error:
        raise _no_shape(i, error) from error


def _one_by_one(features: list[Any], texts: NDArray[np.object_]) -> tuple[Shapes, NDArray[np.bool_]]:
    """The shapes where at least one can't be read as it stands, and which had rings that had to be closed."""
    shapes = np.full(len(texts), None, dtype=object)
    closed = np.zeros(len(texts), dtype=np.bool_)
    for i, text in enumerate(texts):
        try:
            try:
                shapes[i] = shapely.from_geojson(text)
            except shapely.GEOSException:
                shapes[i] = shapely.from_geojson(_text(_closed(features[i]["geometry"]), i))
                closed[i] = True
        except (shapely.GEOSException, TypeError, ValueError, LookupError) as error:
            raise _no_shape(i, error) from error
    return shapes, closed


def _no_shape(i: int, error: Exception) -> BadInput:
    return BadInput(f"The shape of feature {i + 1} is not GeoJSON: {str(error)[:120]}.")


def _closed(shape: dict[str, Any]) -> dict[str, Any]:
    """An area's GeoJSON with every ring closed, as RFC 7946 asks; some programs leave the last point out."""
    rings = shape["coordinates"]
    if shape["type"] == "Polygon":
        return {**shape, "coordinates": [[*ring, ring[0]] for ring in rings]}
    if shape["type"] == "MultiPolygon":
        return {**shape, "coordinates": [[[*ring, ring[0]] for ring in part] for part in rings]}
    return shape


def _geojson_columns(features: list[dict[str, Any]]) -> pa.Table:
    rows = [feature.get("properties") or {} for feature in features]
    names: dict[str, None] = {}
    for row in rows:
        names.update(dict.fromkeys(row))
        if len(names) > MAX_COLUMNS:
            raise BadInput(f"The features have more than {MAX_COLUMNS:,} different properties.")
    # RFC 7946 puts a feature's identifier beside its properties; it is a field like any other.
    if "id" not in names and any(isinstance(feature.get("id"), (str, int, float)) for feature in features):
        rows = [{"id": feature.get("id"), **row} for feature, row in zip(features, rows, strict=True)]
        names = {"id": None, **names}
    columns = [_mixed([row.get(name) for row in rows]) for name in names]
    return pa.table(columns, names=named(list(names)))


def _mixed(values: list[object]) -> pa.Array:
    """A column of JSON values: of one type where they share one, otherwise text."""
    if any(isinstance(value, (dict, list)) for value in values):
        return pa.array([None if v is None else json.dumps(v) for v in values], pa.string())
    kinds = {type(value) for value in values if value is not None}
    if kinds <= {int, float} and (float in kinds or any(isinstance(v, int) and abs(v) >= 2**63 for v in values)):
        if any(isinstance(v, int) and abs(v) > 2**1023 for v in values):
            return pa.array([None if v is None else str(v) for v in values], pa.string())
        return pa.array([_finite(v) for v in values], pa.float64())
    if len(kinds) > 1:
        return pa.array([None if v is None else printable(str(v)) for v in values], pa.string())
    try:
        return pa.array([printable(v) if isinstance(v, str) else v for v in values], pa.string() if not kinds else None)
    except (pa.ArrowException, UnicodeEncodeError, OverflowError):
        return pa.array([None if v is None else printable(str(v)) for v in values], pa.string())


def _finite(value: object) -> float | None:
    number = None if value is None else float(value)  # type: ignore[arg-type]
    return number if number is not None and np.isfinite(number) else None
