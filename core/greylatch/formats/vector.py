"""Reading GeoJSON and zipped Shapefiles. Only these two are opened, by their contents, whatever the file's name says."""

import json
import tempfile
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyogrio
import pyproj
import shapely
from pyogrio.errors import DataSourceError

from greylatch.errors import BadInput
from greylatch.formats.zipped import unpack
from greylatch.places.crs import LONLAT, guess_crs, parse_crs
from greylatch.tables.dataset import Dataset, Shapes, kind_of
from greylatch.wording import counted

SHAPEFILE_PARTS = {".shp", ".shx", ".dbf", ".prj", ".cpg"}
MAX_GEOJSON = 1024**3


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
    try:
        text = Path(path).read_text("utf-8-sig")
        document = json.loads(text)
    except UnicodeDecodeError as error:
        raise BadInput("The GeoJSON is not UTF-8 text, as RFC 7946 asks.") from error
    except json.JSONDecodeError as error:
        raise BadInput(
            f"The GeoJSON breaks off or is misspelt at line {error.lineno}, column {error.colno}: {error.msg}."
        ) from error
    except RecursionError as error:
        raise BadInput("The GeoJSON is nested too deeply.") from error
    if not isinstance(document, dict) or document.get("type") not in ("FeatureCollection", "Feature"):
        raise BadInput("This JSON is not GeoJSON: its type is neither FeatureCollection nor Feature.")
    features = document.get("features", []) if document["type"] == "FeatureCollection" else [document]
    if not isinstance(features, list) or not features:
        raise BadInput("The GeoJSON holds no feature.")
    shapes = _geojson_shapes(features)
    named = document.get("crs")
    stated = named.get("properties", {}).get("name") if isinstance(named, dict) else None
    if crs:
        chosen, reason = parse_crs(crs), "Chosen by hand."
    elif stated:
        chosen, reason = parse_crs(str(stated)), "Stated in the file."
    else:
        chosen, reason = LONLAT, "GeoJSON is in longitude and latitude (RFC 7946)."
    return _result(_geojson_columns(features), shapes, chosen, reason)


def read_zipped_shapefile(path: str | Path, crs: str | None = None, encoding: str | None = None) -> ReadResult:
    """The one Shapefile in a zip. Raises BadInput where there is none, several, or parts are missing or broken."""
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
        for ending in (".shx", ".dbf"):
            if not any(file.suffix.lower() == ending and file.stem == main.stem for file in files):
                raise BadInput(f"The Shapefile's {main.stem}{ending} is missing from the zip.")
        if main.read_bytes()[:4] != b"\x00\x00\x27\x0a":
            raise BadInput(f"{main.name} is not a Shapefile, whatever its name says.")
        try:
            meta, table = pyogrio.read_arrow(main, encoding=encoding)
        except (DataSourceError, UnicodeDecodeError, ValueError) as error:
            raise BadInput(f"{main.name} cannot be read: {error}.") from error
    geometry_name = meta.get("geometry_name") or "wkb_geometry"
    blobs = table[geometry_name].to_numpy(zero_copy_only=False)
    shapes = shapely.from_wkb(blobs)
    columns = table.drop_columns([geometry_name])
    if crs:
        return _result(columns, shapes, parse_crs(crs), "Chosen by hand.")
    if meta["crs"]:
        return _result(columns, shapes, parse_crs(meta["crs"]), "Stated in the .prj file.")
    xy = shapely.get_coordinates(shapes)
    guess = guess_crs(xy[:, 0], xy[:, 1])
    if guess.crs is None:
        raise BadInput("The Shapefile has no .prj.", guess.reason)
    return _result(columns, shapes, parse_crs(guess.crs), f"The Shapefile has no .prj. {guess.reason}")


def _result(columns: pa.Table, shapes: Shapes, crs: pyproj.CRS, reason: str) -> ReadResult:
    notes = []
    absent = np.array([shape is None for shape in shapes])
    if absent.all():
        raise BadInput("There is no shape in this file.")
    if absent.any():
        shapes = np.where(absent, shapely.GeometryCollection(), shapes)
        notes.append(f"{counted(int(absent.sum()), 'row')} without a shape: {_rows(absent)}.")
    shapes = shapely.force_2d(shapes)
    kind = kind_of(shapes)
    broken = ~shapely.is_valid(shapes)
    if broken.any() and kind == "areas":
        notes.append(
            f"{counted(int(broken.sum()), 'area')} had rings that cross themselves, now repaired: {_rows(broken)}."
        )
        shapes = np.where(broken, _areas_of(shapely.make_valid(shapes)), shapes)
    return ReadResult(Dataset(columns, kind, shapes, crs), reason, notes)


def _areas_of(shapes: Shapes) -> Shapes:
    """Only the areas of mixed collections, which repairing may give."""
    out = shapes.copy()
    for i in np.flatnonzero(shapely.get_type_id(shapes) == 7):
        out[i] = shapely.union_all([part for part in shapes[i].geoms if part.geom_type.endswith("Polygon")])
    return out


def _rows(mask: np.ndarray) -> str:
    rows = (np.flatnonzero(mask) + 1).tolist()
    return "rows " + ", ".join(map(str, rows[:8])) + (" …" if len(rows) > 8 else "")


def _geojson_shapes(features: list[object]) -> Shapes:
    shapes = np.full(len(features), None, dtype=object)
    for i, feature in enumerate(features):
        if not isinstance(feature, dict) or feature.get("type") != "Feature":
            raise BadInput(f"Entry {i + 1} of the GeoJSON is not a Feature.")
        if feature.get("geometry") is None:
            continue
        try:
            shapes[i] = shapely.from_geojson(json.dumps(feature["geometry"]))
        except (shapely.GEOSException, TypeError) as error:
            raise BadInput(f"The shape of feature {i + 1} is not GeoJSON: {str(error)[:120]}.") from error
    return shapes


def _geojson_columns(features: list[dict]) -> pa.Table:
    names: dict[str, None] = {}
    for feature in features:
        names.update(dict.fromkeys(map(str, feature.get("properties") or {})))
    if not names:
        return pa.table({"row": pa.array(range(1, len(features) + 1), pa.int64())})
    return pa.table(
        {name: _mixed([(feature.get("properties") or {}).get(name) for feature in features]) for name in names}
    )


def _mixed(values: list[object]) -> pa.Array:
    """A column of JSON values: of one type where they share one, otherwise text."""
    if any(isinstance(value, (dict, list)) for value in values):
        return pa.array([None if v is None else json.dumps(v) for v in values], pa.string())
    kinds = {type(value) for value in values if value is not None}
    if kinds <= {int, float} and float in kinds:
        return pa.array([None if v is None else float(v) for v in values], pa.float64())  # type: ignore[arg-type]
    if len(kinds) > 1:
        return pa.array([None if v is None else str(v) for v in values], pa.string())
    try:
        return pa.array(values, pa.string() if not kinds else None)
    except pa.ArrowException:
        return pa.array([None if v is None else str(v) for v in values], pa.string())
