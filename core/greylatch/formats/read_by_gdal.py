"""Files that GDAL reads, each by the one driver for its kind, without network and without other files."""

import ctypes
import logging
import sys
import warnings
from collections.abc import Collection, Iterator
from contextlib import contextmanager
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import shapely

from greylatch.errors import BadFile, BadInput, printable
from greylatch.formats.about import about
from greylatch.formats.arrow_columns import plain_columns
from greylatch.formats.kinds import Choice, LayerInfo, chosen_layer
from greylatch.formats.result import ReadResult, read_result, rows_of
from greylatch.places.stated import guess_crs, system_of
from greylatch.tables.dataset import Dataset, Places, Shapes, System, is_places
from greylatch.tables.point_wkb import places_of_wkb
from greylatch.wording import counted

__all__ = ["DRIVERS", "HEAD_ROWS", "layers", "placed_result", "pyogrio_with_few_drivers", "read", "read_columns"]

DRIVERS = ("ESRI Shapefile", "GPKG", "FlatGeobuf", "LIBKML", "GML", "GPX", "PMTiles", "MVT")
"""Those that may open or write a file. (PMTiles and MVT only write, in benchmarks.)"""
HEAD_ROWS = 1_000
_CONFIG = {
    "CPL_CURL_ENABLE_VSICURL": "NO", "GDAL_HTTP_MAX_RETRY": "0", "GML_DOWNLOAD_SCHEMA": "NO", "GML_SKIP_RESOLVE_ELEMS": "ALL",
    "OGR_SQLITE_PRAGMA": "trusted_schema=OFF", "OGR_GPKG_OPEN_VIEWS": "NO",
    "LIBKML_RESOLVE_STYLE": "NO", "GPX_USE_EXTENSIONS": "YES",
}  # fmt: skip
_KINDS = {"Point": "points", "LineString": "lines", "Polygon": "areas"}


@lru_cache(maxsize=1)
def pyogrio_with_few_drivers() -> Any:
    """The module pyogrio, loaded so that GDAL knows no drivers but `DRIVERS`. It is loaded where it is wanted, and only there:
    that takes longer than reading most files. A process that has loaded it before keeps what it had: tests do, and the making of the demo."""
    theirs = "pyogrio" in sys.modules
    # pyogrio would load pyproj, were it only to know whether it is there; what most files say of their system needs none (`System`).
    needless = {"pyproj": None} if "pyproj" not in sys.modules else {}
    sys.modules.update(needless)  # type: ignore[arg-type]
    try:
        import pyogrio
    finally:
        for name in needless:
            del sys.modules[name]
    if not theirs:
        _forget_drivers(Path(pyogrio.__file__).parents[1] / "pyogrio.libs")
    logging.getLogger("pyogrio").setLevel(logging.WARNING)  # or it tells of every file
    pyogrio.set_gdal_config_options(_CONFIG)
    return pyogrio


def _forget_drivers(libraries: Path) -> None:
    """Have GDAL forget all other drivers, by its C interface (gdal.h), which pyogrio does not pass on."""
    library = next(libraries.glob("libgdal*"), None)
    if library is None:
        raise RuntimeError(f"There is no GDAL in {libraries}, and so no way to hold it to a few drivers.")
    gdal = ctypes.CDLL(str(library))
    gdal.GDALGetDriver.restype, gdal.GDALGetDriver.argtypes = ctypes.c_void_p, [ctypes.c_int]
    gdal.GDALGetDriverShortName.restype, gdal.GDALGetDriverShortName.argtypes = ctypes.c_char_p, [ctypes.c_void_p]
    gdal.GDALDeregisterDriver.argtypes = [ctypes.c_void_p]
    for driver in [gdal.GDALGetDriver(i) for i in range(gdal.GDALGetDriverCount())]:
        if gdal.GDALGetDriverShortName(driver).decode() not in (*DRIVERS, "MEM"):
            gdal.GDALDeregisterDriver(driver)


def layers(path: str | Path, empty: Collection[str] = ()) -> list[LayerInfo]:
    """The layers of a file with their kinds and numbers of rows.

    Parameters
    ----------
    path : str | Path
        The file.
    empty : Collection[str]
        Layers in which nothing is, as is known, and which are left out: to ask for each can take as long as to read it.

    Returns
    -------
    list[LayerInfo]

    Raises
    ------
    BadFile
        Where GDAL cannot read it.
    """
    pyogrio = pyogrio_with_few_drivers()
    with _told(path):
        out = []
        for name, geometry in pyogrio.list_layers(path):
            if name in empty:
                continue
            info = pyogrio.read_info(path, layer=name, force_feature_count=True)
            said = about({**(info["dataset_metadata"] or {}), **(info["layer_metadata"] or {})}, name)
            out.append(LayerInfo(name, _kind(geometry), max(int(info["features"]), 0), said))
        return out


def _kind(geometry: str | None) -> str:
    if geometry is None:
        return "table"
    return next((kind for word, kind in _KINDS.items() if word in geometry), "shapes")


def read(path: str | Path, choice: Choice, layer: LayerInfo | None = None, second: Path | None = None) -> ReadResult:
    """A layer of a file, by GDAL's Arrow stream.

    Parameters
    ----------
    path : str | Path
        The file.
    choice : Choice
        What a person chose of it.
    layer : LayerInfo | None
        The layer, where it is known; None chooses.
    second : Path | None
        A file with the second half of its rows, which is read at the same time.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadFile
        For what cannot be read; unless `choice.placed` is false also where nothing says in which system it is.
    """
    notes: list[str] = []
    if layer is None:
        layer, notes = chosen_layer(layers(path), choice)
    most = HEAD_ROWS if choice.head else None
    meta, columns, shapes = read_columns(path, notes, layer.name, None, most, second)
    if choice.head and layer.rows > len(columns):
        notes.append(f"Seen by its first {len(columns):,} rows of {layer.rows:,}.")
    if not (len(columns) if shapes is None else len(shapes)):
        raise BadFile(f"The layer '{layer.name}' holds no row.")
    columns = plain_columns(columns, notes)
    if shapes is None:
        return ReadResult(Dataset(columns, "table"), "A table without shapes.", notes)
    return placed_result(columns, shapes, choice, notes, meta.get("crs"))


def placed_result(
    columns: pa.Table, shapes: Shapes | Places, choice: Choice, notes: list[str], stated: str | None, why: str = "The file does not say in which projection it is."
) -> ReadResult:  # fmt: skip
    """Columns and shapes in the system that was chosen, or that the file states, or that the coordinates suggest.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    shapes : Shapes | Places
        The shapes, or coordinates of single points.
    choice : Choice
        What a person chose.
    notes : list[str]
        What was noticed so far.
    stated : str | None
        What the file says of its system.
    why : str
        What is said where it says nothing.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadFile
        Where nothing says it and it must be known.
    """
    if choice.crs:
        return read_result(columns, shapes, system_of(choice.crs), "Chosen by hand.", notes, choice)
    if stated:
        try:
            return read_result(columns, shapes, _horizontal(system_of(stated)), "Stated in the file.", notes, choice)
        except BadFile:
            raise
        except BadInput as error:
            notes.append(f"What the file says of its projection is not understood: {error}")
    xy = shapes if is_places(shapes) else shapely.get_coordinates(shapes)
    xy = xy[:, ::-1] if choice.swapped else xy
    guess = guess_crs(xy[:, 0], xy[:, 1])
    if guess.crs is None and choice.placed:
        raise BadFile(why, guess.reason)
    system = system_of(guess.crs) if guess.crs else None
    return read_result(columns, shapes, system, f"{why} {guess.reason}", notes, choice)


def _horizontal(crs: System) -> System:
    """The system of the ground alone, where heights have one too."""
    if isinstance(crs, str):
        return crs
    flat = crs.sub_crs_list[0] if crs.is_compound else crs
    return flat.to_2d() if flat.is_geographic and len(flat.axis_info) > 2 else flat


def read_columns(
    path: str | Path, notes: list[str], layer: str | None = None, encoding: str | None = None, most: int | None = None,
    second: Path | None = None,
) -> tuple[dict[str, Any], pa.Table, Shapes | Places | None]:  # fmt: skip
    """What GDAL says of a layer, its columns and its shapes, arcs as many short lines, single points as their places; no shapes for a layer
    without.

    Parameters
    ----------
    path : str | Path
        The file.
    notes : list[str]
        Where it is noted what GDAL warned of, and which shapes can't be read.
    layer : str | None
        The layer's name; None takes the first.
    encoding : str | None
        Of its text; None takes what the file says.
    most : int | None
        How many rows at most.
    second : Path | None
        A file with the second half of the rows, which is read at the same time; only within `bounded`.

    Returns
    -------
    tuple[dict[str, Any], pa.Table, Shapes | Places | None]

    Raises
    ------
    BadFile
        For what cannot be read.
    """
    pyogrio = pyogrio_with_few_drivers()
    with _told(path, notes):
        if second is None:
            meta, table = pyogrio.read_arrow(path, layer=layer, encoding=encoding, max_features=most)
        else:
            meta, table = _both_halves(Path(path), second, layer)
        name = meta.get("geometry_name") or "wkb_geometry"
        columns = table.drop_columns([name]) if name in table.column_names else table
        columns.validate(full=True)
        if name not in table.column_names:
            return meta, columns, None
        places = places_of_wkb(table[name])
        if places is not None:
            return meta, columns, places
        try:
            wkb = table[name].to_numpy(zero_copy_only=False)
            shapes = shapely.from_wkb(wkb, on_invalid="ignore")
        except NotImplementedError:  # arcs, and surfaces of them: the slower way through pyogrio has them as lines
            *_, wkb, _ = pyogrio.raw.read(path, layer=layer, encoding=encoding, columns=[], max_features=most)
            shapes = shapely.from_wkb(wkb, on_invalid="ignore")
        broken = shapely.is_missing(shapes) & np.array([each is not None for each in wkb], dtype=np.bool_)
        if broken.any():
            notes.append(f"{counted(int(broken.sum()), 'shape')} broken beyond reading: {rows_of(broken)}.")
        return meta, columns, shapes


def _both_halves(first: Path, second: Path, layer: str | None) -> tuple[dict[str, Any], pa.Table]:
    """The rows of two files, each read by a process. Raises BadFile where the second one can't be read, or the two don't fit together."""
    from greylatch.formats.bounded import beside  # which loads what makes processes, and is wanted for a few files only

    with beside(_keep_rows, second, layer) as done:
        meta, table = pyogrio_with_few_drivers().read_arrow(first, layer=layer)
        if not done():
            raise BadFile("The second half of the file cannot be read.")
    with pa.memory_map(str(second.with_suffix(".arrow"))) as source:
        rest = pa.ipc.open_file(source).read_all()
    if (rest.schema.metadata or {}).get(_CRS, b"").decode() != (meta.get("crs") or ""):
        raise BadFile("The halves of the file lie in two systems.")
    try:
        # What is a whole number in one half and a decimal one in the other is decimal in both; whatever else differs is refused.
        return meta, pa.concat_tables([table, rest.replace_schema_metadata()], promote_options="permissive")
    except (pa.ArrowTypeError, pa.ArrowInvalid) as error:
        raise BadFile("The halves of the file hold values of two types.") from error


_CRS = b"crs"


def _keep_rows(path: Path, layer: str | None) -> None:
    """Write what GDAL reads of a file beside it, as an Arrow file."""
    meta, table = pyogrio_with_few_drivers().read_arrow(path, layer=layer)
    table = table.replace_schema_metadata({_CRS: meta.get("crs") or ""})
    with pa.ipc.new_file(path.with_suffix(".arrow"), table.schema) as writer:
        writer.write_table(table)


@contextmanager
def _told(path: str | Path, notes: list[str] | None = None) -> Iterator[None]:
    """What GDAL and Arrow raise for damaged files, as BadFile; what GDAL warns of, as notes."""
    from pyogrio.errors import CRSError, DataLayerError, DataSourceError, FeatureError, FieldError, GeometryError

    try:
        with warnings.catch_warnings(record=True) as said:
            warnings.simplefilter("always")
            yield
    except pa.ArrowInvalid as error:
        raise BadFile(f"The text in {Path(path).name} is not in the encoding that it says.") from error
    except (
        DataSourceError, DataLayerError, FeatureError, FieldError, GeometryError, CRSError, UnicodeDecodeError, ValueError, LookupError,
        RuntimeError, shapely.GEOSException,
    ) as error:  # fmt: skip
        words = printable(str(error)).replace(str(path), "It").partition("; ")[0]
        why = "it is broken, or not what it says" if "not recognized" in words else words[:200].rstrip(". ")
        raise BadFile(f"The file cannot be read: {why}.") from error
    except OSError as error:
        if error.errno is not None:  # the disk, not the file
            raise
        raise BadFile(f"The file cannot be read: {printable(str(error))[:200].rstrip('. ')}.") from error
    if notes is not None:
        texts = dict.fromkeys(printable(str(warning.message)) for warning in said)
        notes.extend(f"While reading: {text.rstrip('.')[:200]}." for text in list(texts)[:3])
