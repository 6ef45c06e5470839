"""Making an edition: freeze, cut in shards, gather, and only then let it be seen."""

import json
import secrets
import shutil
from collections.abc import Callable, Iterator
from dataclasses import asdict
from functools import lru_cache
from itertools import chain
from pathlib import Path
from typing import Any

from django.contrib.auth.models import AbstractBaseUser
from django.db import transaction
from django.db.models import Max
from django.utils import timezone
from greylatch.edition.vector_tiles import feature_properties, write_labels, write_shapes
from greylatch.errors import BadInput
from greylatch.formats.geojson import write_geojson
from greylatch.lettering.place import Placement
from greylatch.paint.key import LayerKey, layer_key
from greylatch.paint.passes import Composition, VectorPass, compose
from greylatch.places.described import described
from greylatch.places.frame import Frame
from greylatch.places.grid import Tile
from greylatch.progress import Progress
from greylatch.sheet.document import Sheet as Document
from greylatch.sheet.document import StartView
from greylatch.tiles.archive import EVERYWHERE, ArchiveInfo, open_archive, raster_address, tilejson, tileset
from greylatch.tiles.blocks import Block
from greylatch.tiles.map_pyramid import drawn_bounds, map_blocks, map_bounds, map_levels, padded_bounds, paint_block
from greylatch.tiles.raster_pyramid import Levels
from greylatch.tiles.read import merge_zips
from greylatch.tiles.style import BELOW, VectorLayer, passes_below, style_document
from jobs.models import Job
from jobs.tidying import scratch
from library.files import remove_folder, store_folder
from library.models import Revision
from sheets.models import Sheet
from sheets.sources import finder, revisions_for

from editions.models import Address, Edition
from editions.staging import staging

SHARDS = 16
MAX_TILES = 200_000


def plan(
    owner: AbstractBaseUser, document: Document, size: int, min_zoom: int | None, max_zoom: int | None
) -> dict[str, int]:
    """How many tiles at which levels a publish would cut at most. Raises BadInput."""
    composition = compose(document, finder(revisions_for(owner, document)))
    return planned(composition, size, min_zoom, max_zoom)


def planned(composition: Composition, size: int, min_zoom: int | None, max_zoom: int | None) -> dict[str, int]:
    """Levels, and an upper bound of the tiles at them."""
    levels = map_levels(composition, size, min_zoom, max_zoom)
    grid = composition.frame.grid
    tiles = sum(grid.count_tiles(padded_bounds(composition, z), z) for z in range(levels.min_zoom, levels.max_zoom + 1))
    if tiles > MAX_TILES:
        raise BadInput(
            f"That would be about {tiles:,} tiles; at most {MAX_TILES:,} are cut at once.", "Choose a lower last level."
        )
    return {"min_zoom": levels.min_zoom, "max_zoom": levels.max_zoom, "tiles": tiles}


def freeze(
    sheet: Sheet, document: Document, job: Job, size: int, min_zoom: int | None, max_zoom: int | None
) -> Edition:
    """An edition that nobody sees yet. Raises BadInput where the map cannot be drawn."""
    revisions = revisions_for(sheet.owner, document)
    composition = compose(document, finder(revisions))
    levels = planned(composition, size, min_zoom, max_zoom)
    with transaction.atomic():
        Sheet.objects.select_for_update().get(pk=sheet.pk)
        last = sheet.editions.aggregate(last=Max("number"))["last"] or 0
        edition = Edition.objects.create(
            sheet=sheet, number=last + 1, job=job, publisher=sheet.owner, document=document.model_dump(mode="json"),
            folder="", size=size, min_zoom=levels["min_zoom"], max_zoom=levels["max_zoom"],
        )  # fmt: skip
        edition.data.set(revisions.values())
    return edition


def shards_of(edition: Edition) -> list[list[Block]]:
    """The blocks of the pyramid in up to `SHARDS` lots of like size, each of which any worker can cut at any time."""
    composition, _ = opened(edition.pk)
    blocks = map_blocks(composition, Levels(edition.min_zoom, edition.max_zoom))
    lots = min(SHARDS, len(blocks))
    return [blocks[i::lots] for i in range(lots)]


def cut_shard(edition: Edition, folder: Path, number: int, progress: Progress) -> None:
    """Cut one lot of blocks into its own archives in `folder`: of the whole map, and of what open styles can't say; doing it
    twice gives the same files. A lot without a single tile has no archive: other blocks hold the map."""
    composition, placements = opened(edition.pk)
    blocks = shards_of(edition)[number]
    info = archive_info(edition, composition)
    for name, drawn in (("shard", composition), (BELOW, below_of(composition))):
        out = folder / f"{name}-{number}.zip"
        if out.exists() or drawn is None:
            continue
        tiles = _each_tile(drawn, blocks, edition.size, placements if drawn is composition else {}, progress)
        first = next(tiles, None)
        if first is None:
            continue
        with open_archive(out, info) as sink:
            for tile, data in chain([first], tiles):
                sink.add(tile, data)


def below_of(composition: Composition) -> Composition | None:
    """What open styles show as raster tiles below all else; None where they can say everything."""
    n = passes_below(composition.passes)
    return Composition(composition.passes[:n], [], None, composition.frame) if n else None


def _each_tile(
    composition: Composition, blocks: list[Block], size: int, placements: dict[int, Placement], progress: Progress
) -> Iterator[tuple[Tile, bytes]]:
    for done, block in enumerate(blocks, 1):
        yield from paint_block(composition, block, size, placements)
        progress(done, len(blocks), f"{done} of {len(blocks)} blocks cut")


def complete(edition: Edition, folder: Path, progress: Progress, last: Callable[[dict[str, Any]], None]) -> None:
    """Gather the shards in `folder`, write all files, and let the edition be seen. Whole or absent.

    Every try writes into a folder of its own in the storage, and what was stored is read again; then, in one transaction with
    what `last` does, the edition and its address are switched over. Until then no address leads there.
    """
    composition, _ = opened(edition.pk)
    info = archive_info(edition, composition)
    shards = sorted(folder.glob("shard-*.zip"))
    with scratch() as out:
        progress(0, 5, "gathering the tiles")
        tiles = merge_zips(shards, out / "map.zip", info)
        if info.ending != ".zip":
            merge_zips(shards, out / f"map{info.ending}", info)
        underneath = sorted(folder.glob(f"{BELOW}-*.zip"))
        if underneath:
            merge_zips(underneath, out / f"{BELOW}{info.ending}", info)
        progress(2, 5, "cutting vector tiles")
        vectors, sources = write_shapes(composition, info, out, lambda w: progress(2, 5, w))
        sources |= write_labels(composition, info, out, lambda w: progress(2, 5, w))
        if underneath:
            sources = {BELOW: info, **sources}
        progress(3, 5, "writing files")
        described = write_files(edition, composition, out, vectors, sources, tiles)
        progress(4, 5, "putting it in place")
        name = f"editions/{folder.name}-{secrets.token_hex(4)}"
        try:
            stored = store_folder(out, name)
            with transaction.atomic():
                address, _ = Address.objects.get_or_create(sheet=edition.sheet)
                edition.described, edition.published = described, timezone.now()
                edition.folder, edition.bytes = name, stored
                edition.save(update_fields=["described", "published", "folder", "bytes"])
                address.current = edition
                address.save(update_fields=["current"])
                last({"edition": edition.number, "slug": address.slug, "tiles": tiles})
        except BaseException:
            remove_folder(name)
            raise


def discard(job: Job) -> None:
    """Remove every trace of a publish that did not end well. Files in the storage that no edition names go with the sweep."""
    shutil.rmtree(staging(job), ignore_errors=True)
    Edition.objects.filter(job=job, published=None).delete()


@lru_cache(maxsize=16)
def unlettered(edition_pk: int) -> Composition:
    """The frozen map without its labels, for asking what lies where; kept by this process."""
    edition = Edition.objects.get(pk=edition_pk)
    document = Document.model_validate(edition.document)
    plain = [layer.model_copy(update={"lettering": None}) for layer in document.layers]
    return compose(document.model_copy(update={"layers": plain}), finder(frozen_revisions(edition)))


@lru_cache(maxsize=2)
def opened(edition_pk: int) -> tuple[Composition, dict[int, Any]]:
    """The frozen map ready to be drawn, and its labels by level; kept by this process."""
    edition = Edition.objects.get(pk=edition_pk)
    document = Document.model_validate(edition.document)
    return compose(document, finder(frozen_revisions(edition))), {}


def frozen_revisions(edition: Edition) -> dict[str, Revision]:
    """The data revisions of the edition by dataset."""
    return {str(one.dataset_id): one for one in edition.data.select_related("dataset")}


def archive_info(edition: Edition, composition: Composition) -> ArchiveInfo:
    """What the archives of the whole map say of themselves. They open on the sheet's view, where it has one."""
    document = Document.model_validate(edition.document)
    levels = Levels(edition.min_zoom, edition.max_zoom)
    view = document.view
    level = min(max(round(view.zoom), levels.min_zoom), levels.max_zoom)
    return ArchiveInfo(
        document.title, "png", levels.min_zoom, levels.max_zoom, drawn_bounds(composition, levels), document.furniture.credits,
        edition.size, view=None if view == StartView() else (view.lon, view.lat, level), grid=composition.frame.grid,
    )  # fmt: skip


def write_files(
    edition: Edition, composition: Composition, out: Path, vectors: list[VectorLayer], sources: dict[str, ArchiveInfo],
    tiles: int,
) -> dict[str, Any]:  # fmt: skip
    """GeoJSON, style, TileJSON and the sheet; returns what the embed page reads."""
    document = Document.model_validate(edition.document)
    info = archive_info(edition, composition)
    key = []
    for one in reversed(composition.passes):
        if isinstance(one, VectorPass):
            properties = feature_properties(one)
            extra = {name: [p.get(name) for p in properties] for name in ("class", "class_text", "value")}
            write_geojson(
                one.source.dataset, out / f"{one.layer.id}.geojson", extra if one.ink.classification else None
            )
        if one.layer.key.shown:
            key.append(public_key(layer_key(one)))
    write_json(out / "sheet.json", edition.document)
    frame, everywhere = composition.frame, info.grid.name == EVERYWHERE
    told = tilejson if everywhere else tileset
    write_json(out / "map.json", told(info, raster_address("map", info.tile_size)))
    for name, one in sources.items():
        address = f"{name}/{{z}}/{{x}}/{{y}}.pbf" if one.format == "pbf" else raster_address(name, one.tile_size)
        write_json(out / f"{name}.json", told(one, address))
    if everywhere:
        below = [one.layer.id for one in composition.passes[: passes_below(composition.passes)]]
        style = style_document(document.title, vectors, info, sources, document.furniture.ground, below)
        write_json(out / "style.json", style)
    else:
        write_json(out / "tilematrixset.json", frame.grid.document(edition.max_zoom))
    return {
        "title": document.title, "credits": document.furniture.credits, "source_date": document.furniture.source_date,
        "ground": document.furniture.ground, "scale_bar": document.furniture.scale_bar, "view": document.view.model_dump(), "key": key,
        "min_zoom": edition.min_zoom, "max_zoom": edition.max_zoom, "size": edition.size, "bounds": list(frame.lonlat_bounds(map_bounds(composition))), "drawn_bounds": list(info.bounds), "tiles": tiles,
        "frame": asdict(described(frame)), "box": list(map_bounds(composition)), "start": start_place(document, frame),
        "files": sorted(file.name for file in out.iterdir()), "cards": [layer.id for layer in document.layers if layer.card and layer.visible],
    }  # fmt: skip


def start_place(document: Document, frame: Frame) -> list[float] | None:
    """Where the map opens, in its frame; None where it shows the whole of itself."""
    if document.view == StartView():
        return None
    try:
        return list(frame.place(document.view.lon, document.view.lat))
    except BadInput:
        return None


def public_key(key: LayerKey) -> dict[str, Any]:
    """A layer's key for the embed page, without what is left out of it or not drawn at all."""
    made = asdict(key)
    shown = [one for one in made["entries"] if not one["hidden"] and one["mark"]]
    made["entries"] = [{name: one[name] for name in ("id", "text", "mark")} for one in shown]
    return made


def write_json(path: Path, value: Any) -> None:
    """One JSON document."""
    path.write_text(json.dumps(value, ensure_ascii=False), "utf-8")


def forget_editions(sheet: Sheet) -> None:
    """Take the files of all editions of a sheet out of the storage, once the transaction that removes the sheet has ended."""
    folders = [one for one in sheet.editions.values_list("folder", flat=True) if one]
    transaction.on_commit(lambda: [remove_folder(folder) for folder in folders])
