"""The folder of an edition: archives, descriptions and open files, as any static host can serve them."""

import json
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

import pyarrow as pa

from greylatch.edition.archives import FILES, lots_in
from greylatch.edition.asked import page_reader
from greylatch.edition.attached_files import write_attached
from greylatch.edition.cutting import archives_of
from greylatch.edition.description import (
    EditionPage,
    Ground,
    GroundLine,
    GroundLines,
    PageGroup,
    PageLabels,
    PageLayer,
    PageNorth,
    PublicEntry,
    PublicKey,
    PublicSection,
    PublicSide,
    as_json,
)
from greylatch.edition.files import files_of
from greylatch.edition.live import HOME, page_labels, write_live
from greylatch.edition.page import write_page
from greylatch.edition.plan import WHOLE, Plan
from greylatch.edition.vector_tiles import open_layers
from greylatch.errors import OffMap
from greylatch.paint.key import LayerKey, sheet_key
from greylatch.paint.passes import VectorPass
from greylatch.places.bounds import Bounds
from greylatch.places.described import described
from greylatch.places.domain import METRES_TO_A_DEGREE
from greylatch.places.frame import Frame
from greylatch.places.graticule import APART, graticule, graticule_step, paths
from greylatch.progress import Progress, silent
from greylatch.sheet.document import StartView
from greylatch.symbols.credits import credits_of
from greylatch.symbols.key import KeySection
from greylatch.symbols.north_arrow import NORTH_ARROW
from greylatch.tiles.archive import EVERYWHERE, ArchiveInfo, raster_address, tilejson, tileset
from greylatch.tiles.map_pyramid import map_bounds
from greylatch.tiles.read import merge_zips
from greylatch.tiles.style import passes_below, style_document

__all__ = ["public_key", "write_edition"]

STEPS = 5
SCALES = 9


def write_edition(plan: Plan, staged: Path, out: Path, progress: Progress = silent) -> dict[str, Any]:
    """Gather the lots in `staged` and write all files of the edition to the folder `out`; returns what readers' pages
    ask first, which is `edition.json` there.

    Parameters
    ----------
    plan : Plan
        The sheet to be published, and how.
    staged : Path
        The folder of what is cut so far.
    out : Path
        The folder of the edition.
    progress : Progress
        Hears how far the work is, and may end it.

    Returns
    -------
    dict[str, Any]

    Raises
    ------
    BadInput
        Where there is not a single tile.
    """
    progress(0, STEPS, "gathering the tiles")
    written, there = _gather(plan, staged, out)
    progress(2, STEPS, "writing cards")
    write_attached(plan, out)
    layers = write_live(plan, there, out, lambda words: progress(2, STEPS, words))
    labels = page_labels(plan, there)
    progress(3, STEPS, "writing files")
    _write_sheet(plan, out)
    _write_descriptions(plan, out, there)
    page = _page(plan, written, layers, labels, sorted(file.name for file in out.iterdir() if file.is_file()))
    write_page(plan, page, out)
    _write_json(out / "edition.json", as_json(page))
    progress(4, STEPS, "putting it in place")
    return as_json(page)


def _gather(plan: Plan, staged: Path, out: Path) -> tuple[int, dict[str, ArchiveInfo]]:
    """Put the lots together; returns how many tiles the whole map has, and what the archives say of themselves
    that have any."""
    (out / HOME).mkdir()
    written, there = 0, {}
    for name, archive in archives_of(plan).items():
        info, lots = archive.info, lots_in(staged, name)
        if name == WHOLE:
            written = merge_zips(lots, out / f"{WHOLE}.zip", info)
        elif not lots:
            continue
        if name != WHOLE or info.ending != ".zip":
            merge_zips(lots, out / f"{name}{info.ending}", info)
        there[name] = info
    for name in files_of(plan):
        (staged / FILES / name).replace(out / name)
    return written, there


def _write_sheet(plan: Plan, out: Path) -> None:
    """The sheet, and what lies below and around its layers."""
    _write_json(out / "sheet.json", plan.sheet.model_dump(mode="json"))
    furniture = plan.sheet.furniture
    if furniture.sea or furniture.graticule:
        _write_json(out / "ground.json", as_json(ground_of(plan)))


def _write_descriptions(plan: Plan, out: Path, there: dict[str, ArchiveInfo]) -> None:
    """TileJSONs and a style; where tiles lie in a set that these don't know, OGC documents."""
    info, everywhere = plan.info, plan.info.grid.name == EVERYWHERE
    sources = {name: other for name, other in there.items() if name != WHOLE and not name.startswith(f"{HOME}/")}
    document = tilejson if everywhere else tileset
    for name, archive in {WHOLE: info, **sources}.items():
        address = f"{name}/{{z}}/{{x}}/{{y}}.pbf" if archive.format == "pbf" else raster_address(name, archive)
        _write_json(out / f"{name}.json", document(archive, address))
    if everywhere:
        below = [pass_.layer.id for pass_ in plan.composition.passes[: passes_below(plan.composition)]]
        ground, vectors = plan.sheet.furniture.ground, open_layers(plan.composition, info, sources)
        _write_json(out / "style.json", style_document(plan.sheet.title, vectors, info, sources, ground, below))
    else:
        _write_json(out / "tilematrixset.json", info.grid.document(plan.levels.max_zoom))


def _page(
    plan: Plan, tiles: int, layers: list[PageLayer], labels: PageLabels | None, files: list[str]
) -> EditionPage:  # fmt: skip
    sheet, frame = plan.sheet, plan.frame
    box, figures = map_bounds(plan.composition), described(plan.frame)
    keys = [public_key(key) for key in sheet_key(plan.composition)]
    return EditionPage(
        title=sheet.title, credits=credits_of(sheet), source_date=sheet.furniture.source_date, terms=sheet.furniture.terms, ground=sheet.furniture.ground,
        scale_bar=sheet.furniture.scale_bar is not False, north=_north(plan, box) if sheet.furniture.north_arrow else None, view=sheet.view, key=keys, min_zoom=plan.levels.min_zoom, max_zoom=plan.levels.max_zoom,
        size=plan.size, format=plan.format, bounds=list(frame.lonlat_bounds(box)), drawn_bounds=list(plan.info.bounds), tiles=tiles,
        frame=figures, box=list(box), start=_start_place(plan), scales=None if figures.round else _around(box, partial(_metres, frame)),
        cards=[layer.id for layer in sheet.layers if layer.card and sheet.shown(layer)], layers=layers,
        groups=[PageGroup(id=group.id, blend=group.blend, opacity=group.opacity, effects=group.effects) for group in sheet.groups], labels=labels,
        files=sorted([*files, "edition.json", "index.html"]), reader=page_reader(plan, _columns_asked(plan, layers), box),
    )  # fmt: skip


def _columns_asked(plan: Plan, layers: list[PageLayer]) -> dict[str, pa.Table]:
    """What readers can ask, by layer."""
    asked = {layer.id for layer in layers if layer.columns and plan.sheet.reader.asks(layer.id)}
    passes = (pass_ for pass_ in plan.composition.passes if isinstance(pass_, VectorPass) and pass_.layer.id in asked)
    return {pass_.layer.id: pass_.source.dataset.columns for pass_ in passes}


def _around(box: Bounds, figure: Callable[[float, float], float | None]) -> list[list[float | None]]:
    """A figure at `SCALES` × `SCALES` places of the map's box, from its upper left row by row: how long a unit is on the ground, for a scale
    bar that is true where it stands; where north is."""
    west, south, east, north = box
    share = [(i + 0.5) / SCALES for i in range(SCALES)]
    return [[figure(west + u * (east - west), north - v * (north - south)) for u in share] for v in share]


def _north(plan: Plan, box: Bounds) -> PageNorth:
    return PageNorth(
        arrow=NORTH_ARROW, turns=[] if described(plan.frame).round else _around(box, partial(_turn, plan.frame))
    )


def _turn(frame: Frame, x: float, y: float) -> float | None:
    try:
        turn = frame.north(x, y)
    except OffMap:
        return None
    return None if turn is None else round(turn, 2)


def _metres(frame: Frame, x: float, y: float) -> float | None:
    try:
        return round(frame.metres(x, y), 6)
    except OffMap:
        return None


def ground_of(plan: Plan) -> Ground:
    """What readers' pages draw below the layers: the outline as sea, and the lines for each range of scales, around the map as far
    as people move it: three times its size."""
    furniture, frame = plan.sheet.furniture, plan.frame
    west, south, east, north = map_bounds(plan.composition)
    wide, high = max(east - west, north - south), max(east - west, north - south)
    box = west - wide, south - high, east + wide, north + high
    steps: set[float] = set()
    if furniture.graticule:
        levels = range(max(0, plan.levels.min_zoom - 3), plan.levels.max_zoom + 3)
        steps = {furniture.graticule.step or graticule_step(frame, frame.grid.resolution(z)) for z in levels}
    return Ground(
        sea=furniture.sea, outline=paths(frame.outline) if furniture.sea else [], style=furniture.graticule,
        graticules=[GroundLines(step=step, lines=_lines(frame, step, box)) for step in sorted(steps)],
        apart=APART / METRES_TO_A_DEGREE / frame.unit,
    )  # fmt: skip


def _lines(frame: Frame, step: float, box: Bounds) -> list[GroundLine]:
    return [GroundLine(kind=line.kind, name=line.name, paths=paths(line.shape)) for line in graticule(frame, step, box)]


def _start_place(plan: Plan) -> list[float] | None:
    """Where the map opens, in its frame; None where it shows the whole of itself."""
    view = plan.sheet.view
    if view == StartView():
        return None
    try:
        return list(plan.frame.place(view.lon, view.lat))
    except OffMap:
        return None


def public_key(key: LayerKey) -> PublicKey:
    """A layer's key for readers, without what is left out of it or not drawn at all."""
    sections = [_public_section(section) for section in key.sections]
    return PublicKey(
        layer=key.layer,
        title=key.title,
        unit=key.unit,
        kind=key.kind,
        sections=sections,
        columns=key.columns,
        group=key.group,
    )


def _public_section(section: KeySection) -> PublicSection:
    # A square has a place for every entry.
    in_square = section.square[0] * section.square[1] if section.square else 0
    entries = [
        PublicEntry(id=entry.id, text=entry.text, mark=entry.mark)
        for position, entry in enumerate(section.entries)
        if entry.mark and (position < in_square or not entry.hidden)
    ]
    return PublicSection(
        heading=section.heading,
        entries=entries,
        ramp=list(section.ramp),
        ends=list(section.ends),
        square=section.square,
        words=list(section.words),
        nested=section.nested,
        sides=[PublicSide(text=side.text, limits=side.limits) for side in section.sides],
    )


def _write_json(path: Path, value: Any) -> None:
    path.write_text(json.dumps(value, ensure_ascii=False), "utf-8")
