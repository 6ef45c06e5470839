"""Publishing a sheet without a server: the folder of its edition, or that folder zipped."""

import shutil
import tempfile
import threading
import uuid
import zipfile
from functools import partial
from pathlib import Path
from typing import Any

from greylatch.edition.cutting import archives_of, cut_lot, lots_of
from greylatch.edition.plan import Plan
from greylatch.edition.writing import write_edition
from greylatch.errors import BadInput
from greylatch.progress import Progress, silent
from greylatch.tiles.archive import EARLIEST
from greylatch.tiles.processes import in_processes

__all__ = ["publish"]


def publish(plan: Plan, out: str | Path, processes: int | None = None, progress: Progress = silent) -> dict[str, Any]:
    """Write the edition to the folder `out` or, where it ends in .zip, to that file; whole or absent.

    Parameters
    ----------
    plan : Plan
        The sheet to be published, and how.
    out : str | Path
        Where to write it.
    processes : int | None
        How many processes; None takes one for each core.
    progress : Progress
        Hears how far the work is, and may end it.

    Returns
    -------
    dict[str, Any]
        What readers' pages ask first, which is `edition.json` there.

    Raises
    ------
    BadInput
        Where the folder is not empty or the map is.
    """
    target = Path(out)
    if target.suffix not in ("", ".zip"):
        raise BadInput(f"An edition is written to a folder or a .zip, not to '{target.suffix}'.")
    if target.suffix == "" and target.exists() and (not target.is_dir() or any(target.iterdir())):
        raise BadInput(f"The folder {target} is not empty.", "Name another, or empty it first.")
    target.parent.mkdir(parents=True, exist_ok=True)
    part = target.with_name(f".{target.name}.{uuid.uuid4().hex[:8]}.part")
    try:
        with tempfile.TemporaryDirectory(prefix="greylatch-") as staged:
            _cut(plan, Path(staged), processes, progress)
            part.mkdir()
            page = write_edition(plan, Path(staged), part, progress)
        _put(part, target)
    finally:
        shutil.rmtree(part, ignore_errors=True)
    return page


def _cut(plan: Plan, staged: Path, processes: int | None, progress: Progress) -> None:
    lots = lots_of(plan)
    if threading.active_count() == 1:  # processes will be forked, with what is ready
        _make_ready(plan, progress)
    for done, _ in enumerate(in_processes(partial(cut_lot, plan, staged=staged), lots, processes), 1):
        progress(done, len(lots), "cutting tiles")


def _make_ready(plan: Plan, progress: Progress) -> None:
    """Work out before the fork what every process would work out anew: labels, and from which levels on layers are shapes."""
    archives_of(plan)
    if plan.composition.lettered:
        levels = range(plan.levels.min_zoom, plan.levels.max_zoom + 2)
        for done, z in enumerate(levels, 1):
            plan.composition.placement(plan.frame.grid.resolution(z))
            progress(done, len(levels), "placing labels")


def _put(part: Path, target: Path) -> None:
    """Let the finished folder appear under its name, zipped where that is asked for."""
    if target.suffix == "":
        if target.is_dir():
            target.rmdir()
        part.replace(target)
        return
    packed = part.with_suffix(".zip-part")
    try:
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
            for file in sorted(path for path in part.rglob("*") if path.is_file()):
                entry = zipfile.ZipInfo(file.relative_to(part).as_posix(), EARLIEST)
                stored = file.suffix in (".zip", ".pmtiles")
                entry.compress_type = zipfile.ZIP_STORED if stored else zipfile.ZIP_DEFLATED
                with archive.open(entry, "w", force_zip64=True) as sink, file.open("rb") as source:
                    shutil.copyfileobj(source, sink)
        packed.replace(target)
    finally:
        packed.unlink(missing_ok=True)
