"""Reading GeoJSON (RFC 7946)."""

import codecs
import json
from pathlib import Path
from typing import Any

import numpy as np
import orjson
import pyarrow as pa
import pyarrow.compute as pc
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadFile, printable
from greylatch.formats.coordinates import shapes_at_once
from greylatch.formats.geojson_columns import geojson_columns
from greylatch.formats.geojson_head import geojson_head
from greylatch.formats.kinds import Choice
from greylatch.formats.result import ReadResult, read_result, rows_of
from greylatch.places.stated import system_of
from greylatch.tables.dataset import MAX_COLUMNS, Places, Shapes, System, named
from greylatch.wording import counted

__all__ = [
    "MAX_GEOJSON",
    "features_as_table",
    "json_of",
    "read",
    "result_of_features",
    "seen_by",
    "stated_crs",
]

MAX_GEOJSON = 1024**3
GEOJSON_SHAPES = (
    "Point", "MultiPoint", "LineString", "MultiLineString", "Polygon", "MultiPolygon", "GeometryCollection",
)  # fmt: skip


def read(path: str | Path, choice: Choice) -> ReadResult:
    """A GeoJSON file (RFC 7946).

    Parameters
    ----------
    path : str | Path
        The file.
    choice : Choice
        What a person chose of it.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadInput
        With line and column of a mistake in the JSON.
    """
    if Path(path).stat().st_size > MAX_GEOJSON:
        raise BadFile("The GeoJSON is larger than 1 GB.")
    at_once = None if choice.head else geojson_columns(path)
    if at_once is not None:
        return _placed(at_once.columns, at_once.shapes, at_once.crs, choice, [])
    beginning = geojson_head(path) if choice.head else None
    document = json_of(path) if beginning is None else beginning
    features = _features(document)
    notes: list[str] = []
    if beginning is not None:
        notes.append(seen_by(len(features)))
    return result_of_features(features, document.get("crs"), choice, notes)


def seen_by(features: int) -> str:
    """What is said of a file of which only the first features were looked at."""
    return f"Seen by its first {features:,} features; the others are looked at when it is brought in."


def result_of_features(features: list[Any], crs: object, choice: Choice, notes: list[str]) -> ReadResult:
    """Features as JSON has them, as a dataset.

    Parameters
    ----------
    features : list[Any]
        The features.
    crs : object
        What the document says of its reference system; None where it says nothing.
    choice : Choice
        What a person chose.
    notes : list[str]
        What was noticed so far.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadInput
        That names the feature.
    """
    columns, shapes = features_as_table(features, notes)
    return _placed(columns, shapes, crs, choice, notes)


def features_as_table(features: list[Any], notes: list[str]) -> tuple[pa.Table, Shapes]:
    """The properties of features as columns, and their shapes.

    Parameters
    ----------
    features : list[Any]
        Features as JSON has them.
    notes : list[str]
        Where it is noted which rings had to be closed.

    Returns
    -------
    tuple[pa.Table, Shapes]

    Raises
    ------
    BadInput
        That names the feature.
    """
    shapes = _geojson_shapes(features, notes)
    return _geojson_columns(features), shapes


def _placed(columns: pa.Table, shapes: Shapes | Places, said: object, choice: Choice, notes: list[str]) -> ReadResult:
    """Columns and shapes in the system that was chosen, or that the file says, or that GeoJSON has."""
    stated = stated_crs(said)
    chosen: System
    if choice.crs:
        chosen, reason = system_of(choice.crs), "Chosen by hand."
    elif stated:
        chosen, reason = system_of(stated), "Stated in the file."
    else:
        chosen, reason = "EPSG:4326", "GeoJSON is in longitude and latitude (RFC 7946)."
        if said is not None:
            notes.append("What the file says of its projection cannot be read; it is taken as longitude and latitude.")
    return read_result(columns, shapes, chosen, reason, notes, choice)


def _features(document: Any) -> list[Any]:
    """The features of a GeoJSON document; RFC 7946 has bare shapes too."""
    if isinstance(document, list):
        raise BadFile("This JSON is a list, not GeoJSON.", "Save a table as CSV.")
    kind = document.get("type") if isinstance(document, dict) else None
    if kind == "FeatureCollection":
        features = document.get("features", [])
        if not isinstance(features, list) or not features:
            raise BadFile("The GeoJSON holds no feature.")
        return features
    if kind == "Feature":
        return [document]
    if kind == "GeometryCollection" and isinstance(document.get("geometries"), list) and document["geometries"]:
        # A bare collection is how some write many shapes without properties: each is a row.
        return [{"type": "Feature", "geometry": shape} for shape in document["geometries"]]
    if kind in GEOJSON_SHAPES:
        return [{"type": "Feature", "geometry": document}]
    raise BadFile("This JSON is not GeoJSON: its type is not FeatureCollection, Feature or that of a shape.")


def json_of(path: str | Path, what: str = "GeoJSON") -> Any:
    """What a file of JSON holds.

    Parameters
    ----------
    path : str | Path
        The file.
    what : str
        What it is, for the words of an error.

    Returns
    -------
    Any

    Raises
    ------
    BadFile
        With line and column of a mistake.
    """
    try:
        return orjson.loads(Path(path).read_bytes().removeprefix(codecs.BOM_UTF8))
    except orjson.JSONDecodeError:
        pass  # what is read less strictly below, or refused in the words of the standard library
    try:
        # NaN and infinities are no JSON, but many programs write them where a value is missing.
        return json.loads(Path(path).read_text("utf-8-sig"), parse_constant=lambda _: None)
    except UnicodeDecodeError as error:
        raise BadFile(f"The {what} is not UTF-8 text, as RFC 8259 asks.") from error
    except json.JSONDecodeError as error:
        raise BadFile(
            f"The {what} breaks off or is misspelt at line {error.lineno}, column {error.colno}: {error.msg}."
        ) from error
    except RecursionError as error:
        raise BadFile(f"The {what} is nested too deeply.") from error
    except ValueError as error:
        raise BadFile(f"The {what} holds a number of thousands of digits.") from error


def stated_crs(named: object) -> str | None:
    """The name in a `crs` entry as GeoJSON had it before RFC 7946; None for what is none."""
    properties = named.get("properties") if isinstance(named, dict) else None
    name = properties.get("name") if isinstance(properties, dict) else None
    return name if isinstance(name, str) and name.strip() else None


def _geojson_shapes(features: list[Any], notes: list[str]) -> Shapes:
    for i, feature in enumerate(features):
        if not isinstance(feature, dict) or feature.get("type") != "Feature":
            raise BadFile(f"Entry {i + 1} of the GeoJSON is not a Feature.")
        if not isinstance(feature.get("properties") or {}, dict):
            raise BadFile(f"The properties of feature {i + 1} are not an object with names and values.")
    at_once = shapes_at_once([feature.get("geometry") for feature in features])
    if at_once is not None:
        return at_once
    texts = np.full(len(features), None, dtype=object)
    open_rings = np.zeros(len(features), dtype=np.bool_)
    for i, feature in enumerate(features):
        if feature.get("geometry") is not None:
            texts[i] = _text(feature["geometry"], i)
    try:
        shapes = shapely.from_geojson(texts)
    except shapely.GEOSException:
        shapes, open_rings = _one_by_one(features, texts)
    if open_rings.any():
        notes.append(
            f"{counted(int(open_rings.sum()), 'area')} had rings that do not end where they begin, now closed: {rows_of(open_rings)}."
        )
    return shapes


def _text(shape: Any, i: int) -> bytes:
    try:
        return orjson.dumps(shape, option=orjson.OPT_SERIALIZE_NUMPY)
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


def _no_shape(i: int, error: Exception) -> BadFile:
    return BadFile(f"The shape of feature {i + 1} is not GeoJSON: {str(error)[:120]}.")


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
            raise BadFile(f"The features have more than {MAX_COLUMNS:,} different properties.")
    # RFC 7946 puts a feature's identifier beside its properties; it is a field like any other.
    if "id" not in names and any(isinstance(feature.get("id"), (str, int, float)) for feature in features):
        rows = [{"id": feature.get("id"), **row} for feature, row in zip(features, rows, strict=True)]
        names = {"id": None, **names}
    columns = [_mixed([row.get(name) for row in rows]) for name in names]
    return pa.table(columns, names=named(list(names)))


ARROW = {str: pa.string(), int: pa.int64(), bool: pa.bool_()}


def _mixed(values: list[object]) -> pa.Array:
    """A column of JSON values: of one type where they share one, otherwise text."""
    kinds = set(map(type, values)) - {type(None)}
    if kinds & {dict, list}:
        return pa.array([None if v is None else json.dumps(v) for v in values], pa.string())
    if kinds == {float}:
        numbers = pa.array(values, pa.float64())
        return pc.if_else(pc.is_finite(numbers), numbers, pa.scalar(None, pa.float64()))
    if kinds <= {int, float} and (float in kinds or any(isinstance(v, int) and abs(v) >= 2**63 for v in values)):
        if any(isinstance(v, int) and abs(v) > 2**1023 for v in values):
            return pa.array([None if v is None else str(v) for v in values], pa.string())
        return pa.array([_finite(v) for v in values], pa.float64())
    if len(kinds) > 1:
        return pa.array([None if v is None else printable(str(v)) for v in values], pa.string())
    try:
        return pa.array([printable(v) if isinstance(v, str) else v for v in values], ARROW.get(next(iter(kinds), str)))
    except (pa.ArrowException, UnicodeEncodeError, OverflowError):
        return pa.array([None if v is None else printable(str(v)) for v in values], pa.string())


def _finite(value: object) -> float | None:
    number = None if value is None else float(value)  # type: ignore[arg-type]
    return number if number is not None and np.isfinite(number) else None
