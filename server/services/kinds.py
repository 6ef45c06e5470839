"""The kinds of service that data are fetched from. A new kind is one question and one entry in `KINDS`."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Any, Literal

import orjson
from django.contrib.auth.models import User
from greylatch.errors import BadFile, BadInput
from greylatch.formats.about import About
from greylatch.progress import Progress
from greylatch.services.features import MOST_FEATURES, Collection, collections, is_service, pages
from greylatch.services.tile_layers import TileLayer, from_template, from_tilejson, is_template, wmts_layers
from greylatch.services.tile_mosaic import excerpt, put_together
from ninja import Schema
from pydantic import Field

from services.fetching import JSON_TYPES, PICTURE_TYPES, XML_TYPES, ServiceAway, fetch, host_of
from services.store import StoreAsked, features

MOST_PAGE, MOST_FILE, MOST_TILE = 64 * 1024**2, 512 * 1024**2, 8 * 1024**2
"""Bytes of a page of features or a document, of a file or all pages, of a tile."""
Address = Annotated[str, Field(min_length=8, max_length=2_000)]
Degrees = Annotated[float, Field(ge=-180, le=180)]
Box = Annotated[list[Degrees], Field(min_length=4, max_length=4)]
"""West, south, east, north."""


class FeaturesAsked(Schema):
    """A collection of a service of features: all of it, or what lies in a box or meets a condition."""

    kind: Literal["features"] = "features"
    address: Address
    collection: str = Field(min_length=1, max_length=200)
    bounds: Box | None = None
    where: str = Field("", max_length=5_000)


class FileAsked(Schema):
    """A file of GeoJSON."""

    kind: Literal["geojson"] = "geojson"
    address: Address


class TilesAsked(Schema):
    """The pictures of a layer of tiles in a place, at a level."""

    kind: Literal["tiles"] = "tiles"
    address: Address
    layer: str = Field(max_length=200)
    level: str = Field(max_length=100)
    bounds: Box


AnyAsked = Annotated[FeaturesAsked | FileAsked | TilesAsked | StoreAsked, Field(discriminator="kind")]


@dataclass(frozen=True)
class Offer:
    """What is at an address: collections of features, layers of tiles, or a file of GeoJSON."""

    collections: Sequence[Collection] = ()
    layers: Sequence[TileLayer] = ()
    file: bool = False


@dataclass(frozen=True)
class Fetched:
    """A file that was fetched, how it is called, and what its service says of it."""

    path: Path
    name: str
    about: About


@dataclass(frozen=True)
class ServiceKind:
    """What fetches an answer into a folder, and whether it can be asked again under the same rows."""

    fetched: Callable[[User, Any, Path, Progress], Fetched]
    again: bool = True


def fetched(who: User, asked: Any, folder: Path, report: Progress) -> Fetched:
    """The answer to a question as a file in `folder`. Raises BadInput."""
    return KINDS[asked.kind].fetched(who, asked, folder, report)


def offer_at(address: str) -> Offer:
    """What is at an address. Raises BadInput."""
    if is_template(address):
        # The first tile says whether the service is allowed and there.
        fetch(address.replace("{z}", "0").replace("{x}", "0").replace("{y}", "0"), PICTURE_TYPES, MOST_TILE)
        return Offer(layers=[from_template(address, host_of(address))])
    answer = fetch(address, JSON_TYPES + XML_TYPES, MOST_FILE)
    if answer.body.lstrip()[:1] == b"<":
        return Offer(layers=wmts_layers(answer.body, answer.address))
    document = answer.json()
    if is_service(document):
        return Offer(collections(_get, answer.address, document))
    if isinstance(document, dict) and "tiles" in document:
        return Offer(layers=[from_tilejson(document, answer.address)])
    if isinstance(document, dict) and document.get("type") in ("FeatureCollection", "Feature"):
        return Offer(file=True)
    raise BadFile(
        f"{host_of(address)} sent nothing that is read.",
        "The first page of an OGC API, its collections, GeoJSON, TileJSON, the capabilities of a WMTS and addresses with {z}, {x}, {y} are.",
    )


def layer_at(address: str, name: str) -> TileLayer:
    """A layer of tiles by its name. Raises BadInput where the service has it no more."""
    layer = next((each for each in offer_at(address).layers if each.id == name), None)
    if layer is None:
        raise BadInput(f"The service has no layer '{name}' any more.")
    return layer


def _features(who: User, asked: FeaturesAsked, folder: Path, report: Progress) -> Fetched:
    collection = next((each for each in offer_at(asked.address).collections if each.id == asked.collection), None)
    if collection is None:
        raise BadInput(f"The service has no collection '{asked.collection}' any more.")
    bounds = None if asked.bounds is None else (asked.bounds[0], asked.bounds[1], asked.bounds[2], asked.bounds[3])

    def each() -> Iterator[dict[str, Any]]:
        done = 0
        for page in pages(_get, collection, bounds, asked.where):
            done += len(page.features)
            report(done, page.of or 0, f"{done:,} features" + (f" of {page.of:,}" if page.of else ""))
            yield from page.features

    path = folder / "features.geojsonl"
    _write_lines(path, each(), "The service has no feature that was asked for.")
    name = f"{collection.title.replace('/', ' ')[:150]}.geojsonl"
    source = f"{host_of(asked.address)}, {collection.id}"
    return Fetched(path, name, About(collection.title, source, collection.credit, collection.licence))


def _file(who: User, asked: FileAsked, folder: Path, report: Progress) -> Fetched:
    report(0, 0, f"asking {host_of(asked.address)}")
    answer = fetch(asked.address, JSON_TYPES, MOST_FILE)
    path = folder / "file.geojson"
    path.write_bytes(answer.body)
    name = asked.address.split("?")[0].rstrip("/").rsplit("/", 1)[-1].rsplit(".", 1)[0][:150] or "features"
    return Fetched(path, f"{name}.geojson", About(source=asked.address[:500]))


def _tiles(who: User, asked: TilesAsked, folder: Path, report: Progress) -> Fetched:
    layer = layer_at(asked.address, asked.layer)
    level = next((each for each in layer.levels if each.name == asked.level), None)
    if level is None:
        raise BadInput(f"The layer has no level '{asked.level}' any more.")
    west, south, east, north = asked.bounds
    path = folder / "tiles.tif"

    def picture(address: str) -> bytes | None:
        try:
            return fetch(address, PICTURE_TYPES, MOST_TILE).body
        except ServiceAway as away:
            # Of a place without a picture most services say so.
            if away.status in (204, 404):
                return None
            raise

    put_together(layer, excerpt(layer, level, (west, south, east, north)), picture, path, report)
    return Fetched(
        path, f"{layer.title.replace('/', ' ')[:150]}.tif", About(layer.title, host_of(asked.address), layer.credit)
    )


def _store(who: User, asked: StoreAsked, folder: Path, report: Progress) -> Fetched:
    def each() -> Iterator[dict[str, Any]]:
        for done, feature in enumerate(features(who, asked), 1):
            if done % 1_000 == 0:
                report(done, 0, f"{done:,} features")
            yield feature

    path = folder / "store.geojsonl"
    _write_lines(path, each(), "No feature of the store is so.")
    words = (" and " if asked.match == "all" else " or ").join(
        f"{tag.name} {tag.value}" if tag.value else tag.name for tag in asked.tags
    )
    return Fetched(
        path, f"{words.replace('/', ' ')[:150]}.geojsonl", About(words[:200], f"the tagged store: {words}"[:500])
    )


def _write_lines(path: Path, lines: Iterator[dict[str, Any]], none: str) -> None:
    written = 0
    with path.open("wb") as file:
        for number, line in enumerate(lines, 1):
            written += file.write(orjson.dumps(line) + b"\n")
            if written > MOST_FILE or number > MOST_FEATURES:
                raise BadInput("That is more than is taken at once.", "Ask for those of a smaller place.")
    if not written:
        raise BadInput(none)


def _get(address: str) -> Any:
    return fetch(address, JSON_TYPES, MOST_PAGE).json()


KINDS = {
    "features": ServiceKind(_features),
    "geojson": ServiceKind(_file),
    "tiles": ServiceKind(_tiles, again=False),
    "store": ServiceKind(_store),
}
