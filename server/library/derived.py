"""What is made of the rows on record: columns and shapes ready for use, kept as files of this machine and in this process.

Everything here is named by what it was made from and can be thrown away: it is made again from the database.
"""

import shutil
import uuid
from collections import OrderedDict
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any, TypeVar
from uuid import UUID

import numpy as np
import pyarrow as pa
import pyproj
import shapely
from django.conf import settings
from greylatch.paint.sources import RasterSource, Source, VectorSource
from greylatch.places.frame import MERCATOR, Frame
from greylatch.tables.dataset import Dataset as Data
from greylatch.tables.dataset import Fids, Shapes
from greylatch.tables.meaning import Meaning
from greylatch.tables.patch import patched_columns, patched_shapes
from greylatch.tables.point_wkb import wkb_of
from greylatch.tables.record import KeptField

from library.files import local_path
from library.models import Attributes, Held, Revision, Shape
from library.record import changed_between, read_attributes, read_shapes

KEPT = 48
"""Of how many datasets a process remembers columns, shapes or sources."""
FEW = 20_000
"""Changed features up to which an earlier state is patched."""
FRAMES = 6
"""Of how many states and frames a dataset's shapes are kept as they lie there."""
PLACED = 2
"""Of which make those are: counted on when shapes come to lie elsewhere, so that none of the old ones is used."""
FID = "fid"
POINTS = ["x", "y"]
Rows = tuple[Fids, pa.Table]
Places = tuple[Fids, Shapes]
Made = TypeVar("Made")


class Remembered(OrderedDict[tuple[UUID, UUID, str], Made]):
    """What was made of a dataset's revision, in a frame. Of a dataset in a frame only the two newest are remembered."""

    def of(self, revision: Revision, frame: str = "") -> Made | None:
        """What is remembered of a revision."""
        return self.get((revision.dataset_id, revision.pk, frame))

    def of_earlier(self, earlier: Sequence[Revision], frame: str = "") -> tuple[Revision, Made] | None:
        """What is remembered of the first of these revisions of which something is."""
        remembered = ((revision, self.of(revision, frame)) for revision in earlier)
        return next(((revision, value) for revision, value in remembered if value is not None), None)

    def keep(self, revision: Revision, value: Made, frame: str = "") -> Made:
        """Remember it, and forget what is too much. Of threads that make the same at once all get what the first one made: what others
        hang on it is found again."""
        value = self.setdefault((revision.dataset_id, revision.pk, frame), value)
        for old in [key for key in list(self) if key[0] == revision.dataset_id and key[2] == frame][:-2]:
            self.pop(old, None)
        while len(self) > KEPT:
            self.popitem(last=False)
        return value

    def forget(self, dataset: UUID) -> None:
        """Forget all that was made of a dataset."""
        for key in [key for key in list(self) if key[0] == dataset]:
            self.pop(key, None)


_datasets: Remembered[Data] = Remembered()
_columns: Remembered[Rows] = Remembered()
_shapes: Remembered[Places] = Remembered()
_sources: Remembered[VectorSource] = Remembered()
_rasters: Remembered[RasterSource] = Remembered()
REMEMBERED: tuple[Remembered[Any], ...] = (_datasets, _columns, _shapes, _sources, _rasters)


def data_of(revision: Revision) -> Data:
    """Columns and shapes of a vector or table revision."""
    known = _datasets.of(revision)
    if known is not None:
        return known
    fids, columns = columns_of(revision)
    fields = fields_of(revision)
    columns = columns.select([field.key for field in fields]).rename_columns([field.name for field in fields])
    meanings = {field.name: field.meaning for field in fields}
    if revision.projjson is None:
        data = Data(columns, "table", fids=fids, meanings=meanings)
    else:
        crs = pyproj.CRS.from_json_dict(revision.projjson)
        data = Data(columns, revision.dataset.holds, lambda: _shapes_at(revision, fids), crs, fids, meanings)
    return _datasets.keep(revision, data.described())


def source_of(revision: Revision, frame: Frame = MERCATOR) -> Source:
    """The revision's data ready to be drawn in a frame. What its attributes say changes nothing of where it lies."""
    if revision.raster is not None:
        known = _rasters.of(revision, frame.digest)
        path = local_path(f"{revision.folder}/raster.tif")
        return known or _rasters.keep(revision, RasterSource(path, frame), frame.digest)
    data = data_of(revision)
    placed = _sources.get((revision.dataset_id, revision.shapes_id, frame.digest))
    if placed is None:
        placed = _sources.keep(revision.shapes, _placed(revision.shapes, data, frame), frame.digest)
    if placed.dataset is not data:
        placed = _sources[revision.dataset_id, revision.shapes_id, frame.digest] = placed.described_by(data)
    return placed


def _placed(shaped: Revision, data: Data, frame: Frame) -> VectorSource:
    """The shapes as they lie in a frame: as they were kept, or from what is remembered of an earlier state, or projected."""
    file = placed_file(shaped, frame)
    if file.exists():
        columns = _mapped(file)[1]
        if columns.column_names == POINTS:
            return VectorSource(data, frame, points=np.column_stack([columns[name].to_numpy() for name in POINTS]))
        return VectorSource(data, frame, _places(file)[1])
    earlier = _sources.of_earlier(earlier_than(shaped), frame.digest)
    if earlier is not None:
        touched = changed_between(Shape, shaped.dataset_id, earlier[0].number, shaped.number)
        if len(touched) <= FEW:
            return earlier[1].moved(data, *read_shapes(shaped, touched))
    return placed_and_kept(shaped, data, frame)


def placed_and_kept(shaped: Revision, data: Data, frame: Frame = MERCATOR) -> VectorSource:
    """A revision's shapes projected, and kept for all processes of the machine. Raises BadInput for a coordinate that has no place."""
    source = VectorSource(data, frame)
    if source.points is None:
        _write_places(placed_file(shaped, frame), data.fids, source.shapes)
    else:
        _write(placed_file(shaped, frame), pa.table([data.fids, *source.points.T], names=[FID, *POINTS]))
    kept = sorted(home_of(shaped.dataset_id).glob("*.placed-*.arrow"), key=lambda file: file.stat().st_mtime)
    for oldest in kept[:-FRAMES]:
        oldest.unlink(missing_ok=True)
    return source


def placed_file(shaped: Revision, frame: Frame) -> Path:
    """Where a revision's shapes are kept as they lie in a frame."""
    return file_of(shaped, f"placed-{PLACED}-{frame.digest}")


def earlier_than(revision: Revision) -> list[Revision]:
    """The revisions before one, the nearest first: what tells them apart, and their fields."""
    earlier = Revision.objects.filter(dataset=revision.dataset_id, number__lt=revision.number).order_by("-number")
    return list(earlier.only("dataset_id", "number", "fields"))


def fields_of(revision: Revision) -> list[KeptField]:
    """The fields that a revision has."""
    out = []
    for field in revision.fields:
        meaning = Meaning(**{**field["meaning"], "missing": tuple(field["meaning"]["missing"])})
        out.append(KeptField(**{**field, "meaning": meaning}))
    return out


def columns_of(revision: Revision) -> Rows:
    """Fids and columns by key; from the nearest earlier state and what changed since, or all from the database."""
    known = _columns.of(revision)
    if known is not None:
        return known
    file = file_of(revision, "columns")
    fields = fields_of(revision)

    def patched(base: Rows, touched: Fids) -> Rows:
        return patched_columns(*base, touched, *read_attributes(revision, fields, touched))

    usable = [] if file.exists() else _usable(revision)
    rows = (
        _mapped(file)
        if file.exists()
        else _patched(revision, usable, Attributes, _columns, "columns", _mapped, patched)
    )
    if rows is None:
        rows = read_attributes(revision, fields)
        keep_columns(revision, *rows)
    return _columns.keep(revision, rows)


def shapes_of(revision: Revision) -> Places:
    """Fids and shapes, likewise."""
    known = _shapes.get((revision.dataset_id, revision.shapes_id, ""))
    if known is not None:
        return known
    shaped = revision.shapes
    file = file_of(shaped, "shapes")

    def patched(base: Places, touched: Fids) -> Places:
        return patched_shapes(*base, touched, *read_shapes(shaped, touched))

    earlier = [] if file.exists() else earlier_than(shaped)
    places = _places(file) if file.exists() else _patched(shaped, earlier, Shape, _shapes, "shapes", _places, patched)
    if places is None:
        places = read_shapes(shaped)
        _write_places(file_of(shaped, "shapes"), *places)
    return _shapes.keep(shaped, places)


def _shapes_at(revision: Revision, fids: Fids) -> Shapes:
    there, shapes = shapes_of(revision)
    assert np.array_equal(there, fids)
    return shapes


def _patched(
    revision: Revision, earlier: Sequence[Revision], kind: type[Held], remembered: Remembered[Made], what: str,
    read: Callable[[Path], Made], patched: Callable[[Made, Fids], Made],
) -> Made | None:  # fmt: skip
    """What a revision holds, from the nearest of `earlier` ones that is at hand; None where there is none, or too much changed
    since."""
    base = remembered.of_earlier(earlier)
    if base is None:
        stored = next((revision for revision in earlier if file_of(revision, what).exists()), None)
        base = (stored, read(file_of(stored, what))) if stored else None
    if base is None:
        return None
    touched = changed_between(kind, revision.dataset_id, base[0].number, revision.number)
    return patched(base[1], touched) if len(touched) <= FEW else None


def _usable(revision: Revision) -> list[Revision]:
    """The earlier revisions, nearest first, whose columns hold all that a later one is not told of: one in which a field was
    taken out that has come back since lacks its values."""
    earlier = earlier_than(revision)
    wanted = {field["key"] for field in revision.fields}
    known: set[str] = set()
    usable = []
    for state in reversed(earlier):
        there = {field["key"] for field in state.fields}
        known |= there
        if wanted & known <= there:
            usable.append(state)
    return usable[::-1]


def keep_columns(revision: Revision, fids: Fids, columns: pa.Table) -> None:
    """Keep columns as a file, which all processes of the machine read through one mapping."""
    _write(file_of(revision, "columns"), columns.add_column(0, FID, pa.array(fids)))


def keep_shapes(revision: Revision, rows: Data) -> None:
    """Keep the shapes of rows as a file."""
    _write(file_of(revision, "shapes"), pa.table({FID: rows.fids, "wkb": wkb_of(rows)}))


def forget_remembered() -> None:
    """Forget all that this process has made of any dataset; the files stay."""
    for kept in REMEMBERED:
        kept.clear()


def forget_derived(dataset: UUID) -> None:
    """Throw away all that was made of a dataset."""
    shutil.rmtree(home_of(dataset), ignore_errors=True)
    for kept in REMEMBERED:
        kept.forget(dataset)


def home_of(dataset: UUID) -> Path:
    """The folder of what was made of a dataset."""
    return Path(settings.DERIVED) / str(dataset)


def file_of(revision: Revision, what: str) -> Path:
    """The file of what was made of a revision. A backup may bring an older state back, so numbers would not do as names."""
    return home_of(revision.dataset_id) / f"{revision.pk}.{what}.arrow"


def _mapped(file: Path) -> Rows:
    with pa.memory_map(str(file)) as mapped:
        table = pa.ipc.open_file(mapped).read_all()
    return table.column(0).to_numpy(), table.remove_column(0)


def _places(file: Path) -> Places:
    fids, columns = _mapped(file)
    return fids, shapely.from_wkb(columns.column(0).to_numpy())


def _write_places(file: Path, fids: Fids, shapes: Shapes) -> None:
    _write(file, pa.table({FID: fids, "wkb": shapely.to_wkb(shapes)}))


def _write(file: Path, table: pa.Table) -> None:
    """Whole or absent; of two who write the same at once, the later wins."""
    file.parent.mkdir(parents=True, exist_ok=True)
    part = file.with_name(f".{file.name}.{uuid.uuid4().hex[:8]}.part")
    try:
        with pa.OSFile(str(part), "wb") as sink, pa.ipc.new_file(sink, table.schema) as writer:
            writer.write_table(table)
        part.replace(file)
    finally:
        part.unlink(missing_ok=True)
