"""What readers fetch, without an account: the embed page, tiles, cards and files of published editions."""

import json
import mimetypes
from functools import lru_cache
from typing import Any

from csp.decorators import csp_replace
from django.conf import settings
from django.core.files.storage import default_storage
from django.http import FileResponse, Http404, HttpRequest, HttpResponse, HttpResponseBase, JsonResponse
from django.views.decorators.cache import cache_control
from django.views.decorators.clickjacking import xframe_options_exempt
from django.views.decorators.http import require_safe
from greylatch.lettering.glyphs import FONT_STACK, RANGE, glyph_range
from greylatch.reading.card import render_card
from greylatch.sheet.document import Sheet as Document
from greylatch.tables.fieldtypes import plain
from greylatch.tiles.matrix import Tile
from greylatch.tiles.read import PMTilesFile
from greylatch.tiles.style import at_home
from library.files import local_path
from library.store import data_of

from editions.finding import features_at
from editions.models import Address, Edition
from editions.publish import frozen_revisions
from editions.ranges import ranged

GLYPHS = "/glyphs/{fontstack}/{range}.pbf"
FOR_EVER = {"public": True, "max_age": 31_536_000, "immutable": True}
mimetypes.add_type("application/geo+json", ".geojson")
mimetypes.add_type("application/vnd.pmtiles", ".pmtiles")


@require_safe
@xframe_options_exempt
@csp_replace({"frame-ancestors": None})
def page(request: HttpRequest, slug: str, number: int | None = None) -> HttpResponse:
    """The embed page, which may stand in anybody's frame."""
    edition_at(slug, number)
    built = settings.WEB_DIST / "embed.html"
    if not built.exists():
        return HttpResponse("The interface is not built yet: run bin/start.", status=503)
    return HttpResponse(built.read_text("utf-8"), headers={"Cache-Control": "no-cache"})


@require_safe
def description(request: HttpRequest, slug: str, number: int | None = None) -> HttpResponse:
    """What the embed page reads: title, key, levels, credits."""
    edition = edition_at(slug, number)
    return open_to_all(
        JsonResponse({**edition.described, "number": edition.number, "base": f"/e/{slug}/{edition.number}/"}),
        "no-cache",
    )


@require_safe
@cache_control(**FOR_EVER)
def tile(
    request: HttpRequest, slug: str, number: int, archive: str, z: int, x: int, y: int, ending: str
) -> HttpResponse:
    """A tile out of the edition's archive; 204 where nothing is drawn."""
    edition = edition_at(slug, number)
    if ending != ("png" if archive == "map" else "pbf"):
        raise Http404
    name = f"{archive}.pmtiles"
    if name not in edition.described["files"]:
        raise Http404
    data = archive_of(f"{edition.folder}/{name}").tile(Tile(z, x, y))
    kind = "image/png" if ending == "png" else "application/vnd.mapbox-vector-tile"
    return open_to_all(HttpResponse(data, content_type=kind) if data else HttpResponse(status=204))


@require_safe
@cache_control(**FOR_EVER)
def file(request: HttpRequest, slug: str, number: int, name: str) -> HttpResponseBase:
    """A file of the edition. Ranges are served, so that archives can be read in place."""
    edition = edition_at(slug, number)
    if name not in edition.described["files"]:
        raise Http404
    stored = default_storage.open(f"{edition.folder}/{name}", "rb")
    kind = mimetypes.guess_type(name)[0] or "application/octet-stream"
    answer = ranged(request, stored, default_storage.size(f"{edition.folder}/{name}"), kind)
    if name.endswith((".zip", ".pmtiles", ".geojson")) and isinstance(answer, FileResponse):
        answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return open_to_all(answer)


@require_safe
@cache_control(public=True, max_age=3600)
def addressed(request: HttpRequest, slug: str, number: int, name: str) -> HttpResponse:
    """A style or a TileJSON of the edition, which names its tiles by their whole addresses."""
    edition = edition_at(slug, number)
    if f"{name}.json" not in edition.described["files"]:
        raise Http404
    with default_storage.open(f"{edition.folder}/{name}.json", "rb") as stored:
        document = json.load(stored)
    home = f"{settings.PUBLIC_ADDRESS}/e/{slug}/{number}/"
    return open_to_all(JsonResponse(at_home(document, home, f"{settings.PUBLIC_ADDRESS}{GLYPHS}")))


@require_safe
@cache_control(**FOR_EVER)
def glyphs(request: HttpRequest, stack: str, first: int, last: int) -> HttpResponse:
    """The letters of labels, 256 code points at a time, for readers of the styles."""
    if stack != FONT_STACK or last != first + RANGE - 1 or first % RANGE or last > 0xFFFF:
        raise Http404
    return open_to_all(HttpResponse(glyph_range(first), content_type="application/x-protobuf"))


@require_safe
def card(request: HttpRequest, slug: str, number: int) -> HttpResponse:
    """The cards of the features at a place (lon, lat, zoom), the topmost first."""
    edition = edition_at(slug, number)
    try:
        lon, lat, zoom = (float(request.GET[name]) for name in ("lon", "lat", "zoom"))
    except (KeyError, ValueError):
        return open_to_all(JsonResponse({"detail": "Give lon, lat and zoom as numbers."}, status=400))
    document = Document.model_validate(edition.document)
    revisions = frozen_revisions(edition)
    cards: list[dict[str, Any]] = []
    for layer, row in features_at(document, revisions, lon, lat, zoom):
        if layer.card:
            values = data_of(revisions[layer.dataset]).columns.slice(row, 1).to_pylist()[0]
            cards.append(
                {
                    "layer": layer.id,
                    "row": row,
                    "html": render_card(
                        layer.card, {k: plain(v) for k, v in values.items()}, document.pictures_from
                    ),
                }
            )
    return open_to_all(JsonResponse({"cards": cards}))


def edition_at(slug: str, number: int | None = None) -> Edition:
    """The published edition at an address, by default the current one; Http404 otherwise."""
    address = Address.objects.select_related("current", "sheet").filter(slug=slug).first()
    if address is None:
        raise Http404
    if number is None:
        if address.current is None:
            raise Http404
        return address.current
    edition = Edition.objects.filter(sheet=address.sheet, number=number, published__isnull=False).first()
    if edition is None:
        raise Http404
    return edition


@lru_cache(maxsize=64)
def archive_of(name: str) -> PMTilesFile:
    """An archive, opened once per process; editions never change."""
    return PMTilesFile(local_path(name))


def open_to_all(answer: HttpResponseBase, caching: str | None = None) -> Any:
    """Let pages elsewhere read the answer: editions are public."""
    answer["Access-Control-Allow-Origin"] = "*"
    if caching:
        answer["Cache-Control"] = caching
    return answer
