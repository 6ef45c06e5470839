"""What readers fetch, without an account: their page, tiles, cards and files of published editions."""

import json
import math
import mimetypes
import os
import re
from collections.abc import Callable
from functools import lru_cache, wraps
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.files.storage import default_storage
from django.db.models import F, Q
from django.http import FileResponse, Http404, HttpRequest, HttpResponse, HttpResponseBase, JsonResponse
from django.views.decorators.cache import cache_control
from django.views.decorators.clickjacking import xframe_options_exempt
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_safe
from greylatch.edition.attached_files import LIST, PICTURES, read_attached
from greylatch.edition.description import as_json
from greylatch.edition.earlier import carried_forward
from greylatch.edition.faces import ASSETS, DEGREES, face_file, part_of_face
from greylatch.edition.finding import features_at, features_within
from greylatch.edition.page import BUILT, page_html
from greylatch.edition.plan import WHOLE
from greylatch.errors import BadInput, OffMap
from greylatch.lettering.faces import PLAIN
from greylatch.lettering.glyphs import RANGE, glyph_range, stack_named
from greylatch.places.bounds import Bounds
from greylatch.places.frame import Frame
from greylatch.places.grid import DEEPEST, Tile
from greylatch.reading.attached import AttachedTo, figures
from greylatch.reading.card import render_card
from greylatch.sheet.document import Sheet as Document
from greylatch.tables.fieldtypes import plain
from greylatch.tiles.read import TileFile, open_tiles
from greylatch.tiles.style import BELOW, at_home
from library.derived import data_of
from library.files import local_path
from people.access import may

from editions.models import Address, Edition, Readers
from editions.packed import goes_packed, packed_file
from editions.publish import frozen_revisions, unlettered
from editions.ranges import ranged

GLYPHS = "/glyphs/{fontstack}/{range}.pbf"
FOR_EVER = {"public": True, "max_age": 31_536_000, "immutable": True}
TILE_KINDS = {"png": "image/png", "webp": "image/webp", "pbf": "application/vnd.mapbox-vector-tile"}
PAGE = "index.html"
_NAME = re.compile(r"(?!\.)[\w.-]{1,120}(/[\w-][\w.-]{0,120}){0,2}$")
"""Names of files in an edition: none begins with a point or leads out of its folder."""
mimetypes.add_type("application/geo+json", ".geojson")
mimetypes.add_type("application/vnd.pmtiles", ".pmtiles")


def open_to_all(answer: HttpResponseBase, caching: str | None = None) -> Any:
    """Let pages elsewhere read the answer, and how much of a file it is: editions are public."""
    answer["Access-Control-Allow-Origin"] = "*"
    answer["Access-Control-Expose-Headers"] = "Content-Range, Content-Length, Accept-Ranges, ETag"
    if caching:
        answer["Cache-Control"] = caching
    return answer


def for_readers(view: Callable[..., HttpResponseBase]) -> Callable[..., HttpResponseBase]:
    """A view that pages elsewhere may ask, also after asking whether they may (OPTIONS), as browsers do before a range."""

    @wraps(view)
    def answered(request: HttpRequest, *arguments: Any, **named: Any) -> HttpResponseBase:
        if request.method != "OPTIONS":
            try:
                return meant(request, require_safe(view)(request, *arguments, **named))
            except BadInput as error:  # for which the API answers by itself
                return open_to_all(JsonResponse({"detail": str(error)}, status=400))
        answer = HttpResponse(status=204)
        answer["Access-Control-Allow-Methods"] = "GET, HEAD, OPTIONS"
        answer["Access-Control-Allow-Headers"] = "Range, If-None-Match, If-Match, If-Range"
        answer["Access-Control-Max-Age"] = "86400"
        return open_to_all(answer)

    return csrf_exempt(answered)


@require_safe
@xframe_options_exempt
def page(request: HttpRequest, slug: str, number: int | None = None) -> HttpResponse:
    """The readers' page, which may stand in the frames of those sites that its maker named, or of all."""
    edition = edition_at(request, slug, number)
    allowed = edition.document.get("pictures_from", [])
    if PAGE in edition.described["files"]:
        with default_storage.open(f"{edition.folder}/{PAGE}", "rb") as stored:
            text = stored.read().decode()
    else:
        text = page_html(carried_forward(edition.described), allowed)
    # At the address that stays the same the files are those of the edition that is current.
    answer = HttpResponse(
        text.replace("<head>", f'<head>\n<base href="/e/{slug}/{edition.number}/">', 1),
        headers={"Cache-Control": "no-cache"},
    )
    # Only whose pictures the map's maker allowed in its cards are asked for any.
    answer._csp_update = {"img-src": allowed}  # type: ignore[attr-defined]
    sites = request.address.sites  # type: ignore[attr-defined]
    answer._csp_replace = {"frame-ancestors": ["'self'", *sites] if sites else None}  # type: ignore[attr-defined]
    return meant(request, answer)


@for_readers
def description(request: HttpRequest, slug: str, number: int | None = None) -> HttpResponse:
    """What the readers' page asks first: title, key, levels, layers, credits."""
    edition = edition_at(request, slug, number, described=False)
    document = {
        **said_of(edition.pk),
        "number": edition.number,
        "base": f"/e/{slug}/{edition.number}/",
    }
    return open_to_all(JsonResponse(document), "no-cache")


@for_readers
@cache_control(**FOR_EVER)
def tile(
    request: HttpRequest, slug: str, number: int, archive: str, z: int, x: int, y: int, ending: str
) -> HttpResponse:
    """A tile out of the edition's archive; 204 where nothing is drawn."""
    edition = edition_at(request, slug, number)
    if ending != kind_of_tiles(edition, archive):
        raise Http404
    held = [name for name in (f"{archive}.pmtiles", f"{archive}.zip") if name in edition.described["files"]]
    place = Tile(z, x, y)
    if not held or not Frame.named(edition.crs).grid.has(place):
        raise Http404
    data = archive_of(f"{edition.folder}/{held[0]}").tile(place)
    kind = TILE_KINDS[ending]
    return open_to_all(HttpResponse(data, content_type=kind) if data else HttpResponse(status=204))


@lru_cache(maxsize=64)
def said_of(pk: int) -> dict[str, Any]:
    """What an edition says of itself in the words of today, worked out once per process; editions never change."""
    return as_json(carried_forward(Edition.objects.get(pk=pk).described))


def kind_of_tiles(edition: Edition, archive: str) -> str:
    """The ending of the tiles of an archive."""
    if archive in (WHOLE, BELOW):
        return edition.format
    return "webp" if archive.startswith("pictures-") else "pbf"


@for_readers
@cache_control(**FOR_EVER)
def file(request: HttpRequest, slug: str, number: int, name: str) -> HttpResponseBase:
    """A file of the edition. Ranges are served, so that archives can be read in place."""
    edition = edition_at(request, slug, number, described=False)
    if not _NAME.match(name):
        raise Http404
    packed = goes_packed(request, name)
    # A file of an edition never changes, so its name is as good as its digest.
    tag = f'"{Path(edition.folder).name}-{name}{"-gzip" if packed else ""}"'
    if tag in request.headers.get("If-None-Match", ""):
        return open_to_all(HttpResponse(status=304, headers={"ETag": tag}))
    kind = mimetypes.guess_type(name)[0] or "application/octet-stream"
    try:
        # Of a remote storage this machine keeps a copy: it would be fetched whole for each range.
        stored = local_path(f"{edition.folder}/{name}")
        answer = packed_file(stored, kind) if packed else part_of(request, stored, kind)
    except (FileNotFoundError, IsADirectoryError) as error:
        if PAGE not in edition.described["files"] and name.startswith(f"{ASSETS}/"):
            return page_of_today(name.removeprefix(f"{ASSETS}/"))
        raise Http404 from error
    answer["ETag"] = tag
    if name.endswith((".zip", ".pmtiles", ".geojson")) and isinstance(answer, FileResponse):
        answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return open_to_all(answer)


def part_of(request: HttpRequest, path: Path, kind: str) -> HttpResponseBase:
    """The file at a path, or the range of it that is asked for. Raises FileNotFoundError where there is none."""
    stored = path.open("rb")
    return ranged(request, stored, os.fstat(stored.fileno()).st_size, kind)


def page_of_today(name: str) -> HttpResponseBase:
    """A part of the readers' page for editions that were published before they had one of their own."""
    kind = mimetypes.guess_type(name)[0] or "application/octet-stream"
    # Unlike what was published it changes with the next version of the application.
    soon = "max-age=600"
    if f"{ASSETS}/{name}" == face_file(PLAIN):
        return open_to_all(HttpResponse(part_of_face(PLAIN, DEGREES), content_type=kind), soon)
    if not (BUILT / name).is_file():
        raise Http404
    return open_to_all(FileResponse((BUILT / name).open("rb"), content_type=kind), soon)


@for_readers
@cache_control(public=True, max_age=3600)
def addressed(request: HttpRequest, slug: str, number: str, name: str) -> HttpResponse:
    """A style or a TileJSON of the edition, which names its tiles by their whole addresses."""
    edition = edition_at(request, slug, int(number))
    if f"{name}.json" not in edition.described["files"]:
        raise Http404
    with default_storage.open(f"{edition.folder}/{name}.json", "rb") as stored:
        document = json.load(stored)
    home = f"{settings.PUBLIC_ADDRESS}/e/{slug}/{number}/"
    return open_to_all(JsonResponse(at_home(document, home, f"{settings.PUBLIC_ADDRESS}{GLYPHS}")))


@for_readers
@cache_control(**FOR_EVER)
def glyphs(request: HttpRequest, stack: str, first: int, last: int) -> HttpResponse:
    """The letters of labels, 256 code points at a time, for readers of the styles."""
    face = stack_named(stack)
    if face is None or last != first + RANGE - 1 or first % RANGE or last > 0xFFFF:
        raise Http404
    return open_to_all(HttpResponse(glyph_range(first, face), content_type="application/x-protobuf"))


@for_readers
def features(request: HttpRequest, slug: str, number: int) -> HttpResponse:
    """The features with a card in a box, in reading order: for going through them by keys. The box is given in degrees (west,
    south, east, north) or in units of the map's frame (left, bottom, right, top)."""
    edition = edition_at(request, slug, number)
    composition = unlettered(edition.pk)
    box = numbers_of(request, "left", "bottom", "right", "top")
    if box is None:
        degrees = numbers_of(request, "west", "south", "east", "north")
        if degrees is None:
            return open_to_all(JsonResponse({"detail": "Give west, south, east and north as numbers."}, status=400))
        try:
            box = list(box_of(composition.frame, degrees))
        except OffMap:
            return open_to_all(JsonResponse({"features": []}))
    features = []
    for carded in features_within(composition, (box[0], box[1], box[2], box[3])):
        lon, lat = composition.frame.lonlat(carded.x, carded.y)
        features.append(
            {"layer": carded.layer, "row": carded.fid, "x": carded.x, "y": carded.y, "lon": lon, "lat": lat}
        )
    return open_to_all(JsonResponse({"features": features}))


def box_of(frame: Frame, degrees: list[float]) -> Bounds:
    """The box in the frame around one in degrees, which may reach beyond the globe. Raises BadInput where it shows nothing."""
    west, south, east, north = degrees
    held = max(-180.0, west), max(-90.0, south), min(180.0, east), min(90.0, north)
    if held[0] >= held[2] or held[1] >= held[3]:
        raise BadInput("The box is empty.")
    return frame.box_of(held)


def numbers_of(request: HttpRequest, *names: str) -> list[float] | None:
    """Finite numbers out of the query; None where one is missing or none."""
    try:
        numbers = [float(request.GET[name]) for name in names]
    except (KeyError, ValueError):
        return None
    return numbers if all(map(math.isfinite, numbers)) else None


@for_readers
def card(request: HttpRequest, slug: str, number: int) -> HttpResponse:
    """The cards of the features at a place, the topmost first: lon and lat, or x and y in the map's frame, and zoom."""
    edition = edition_at(request, slug, number)
    composition, document = unlettered(edition.pk), Document.model_validate(edition.document)
    place = numbers_of(request, "x", "y", "zoom")
    if place is None:
        degrees = numbers_of(request, "lon", "lat", "zoom")
        if degrees is None:
            return open_to_all(JsonResponse({"detail": "Give lon, lat and zoom as numbers."}, status=400))
        lon, lat = max(-180.0, min(180.0, degrees[0])), max(-90.0, min(90.0, degrees[1]))
        try:
            place = [*composition.frame.place(lon, lat), degrees[2]]
        except OffMap:  # beyond the map's limits
            return open_to_all(JsonResponse({"cards": []}))
    resolution = composition.frame.grid.resolution(max(0.0, min(float(DEEPEST), place[2])))
    revisions = frozen_revisions(edition)
    cards: list[dict[str, Any]] = []
    for layer, fid in features_at(composition, place[0], place[1], resolution):
        if layer.card:
            values = data_of(revisions[layer.dataset]).shown(fid)
            filled = {name: plain(value) for name, value in values.items()}
            html = render_card(layer.card, filled, document.pictures_from)
            pictures = attached_in(edition.folder).get(layer.dataset, {}).get(fid, ())
            cards.append({"layer": layer.id, "row": fid, "html": html + figures(pictures, f"{PICTURES}/")})
    return open_to_all(JsonResponse({"cards": cards}))


@lru_cache(maxsize=64)
def attached_in(folder: str) -> dict[str, AttachedTo]:
    """The pictures of an edition's features, read once per process; editions never change."""
    try:
        return read_attached(local_path(f"{folder}/{LIST}"))
    except FileNotFoundError:
        return {}


def edition_at(request: HttpRequest, slug: str, number: int | None = None, *, described: bool = True) -> Edition:
    """The published edition at an address, by default the current one, for whom it is meant; Http404 otherwise.

    Without `described` its two documents stay in the database until they are asked for: reading them takes longer than a tile.
    """
    if number is not None and number >= 2**31:
        raise Http404
    editions = Edition.objects.select_related("sheet__address").filter(sheet__address__slug=slug)
    if not described:
        editions = editions.defer("document", "described")
    which = Q(sheet__address__current=F("pk")) if number is None else Q(number=number, published__isnull=False)
    edition = editions.filter(which).first()
    if edition is None or not read_by(edition.sheet.address, request):
        raise Http404
    request.address = edition.sheet.address  # type: ignore[attr-defined]
    return edition


def read_by(address: Address, request: HttpRequest) -> bool:
    """Whether who asks may read what stands at an address."""
    match address.readers:
        case Readers.ANYONE:
            return True
        case Readers.SHARED:
            return request.user.is_authenticated and may(request.user, "see", address.sheet)
        case _:
            return address.sheet.owner_id == request.user.pk


def meant(request: HttpRequest, answer: HttpResponseBase) -> Any:
    """An answer that says for whom it is, where that is not everybody: other sites are let in by name, and caches on the way keep none of it
    that is not for anyone."""
    address: Address | None = getattr(request, "address", None)
    if address is None or address.public:
        return answer
    origin = request.headers.get("Origin", "")
    del answer["Access-Control-Allow-Origin"]
    if origin in address.sites:
        answer["Access-Control-Allow-Origin"] = origin
    answer["Vary"] = ", ".join(filter(None, [answer.get("Vary", ""), "Origin"]))
    if address.readers != Readers.ANYONE:
        answer["Cache-Control"] = answer.get("Cache-Control", "").replace("public", "private") or "private, no-cache"
    return answer


@lru_cache(maxsize=64)
def archive_of(name: str) -> TileFile:
    """An archive, opened once per process; editions never change."""
    return open_tiles(local_path(name))
