"""The API: one router per app, errors in one place."""

import errno
from collections.abc import Mapping
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from editions.api import router as editions
from editions.uses import router as uses
from greylatch.edition.description import EditionPage, Ground
from greylatch.errors import BadInput
from jobs.api import router as jobs
from jobs.work import QueueAway, full_disk
from library.api import router as library
from library.attached import router as attached
from library.cross_lists import router as cross_lists
from library.cutting import router as cutting
from library.doubts_api import router as doubts
from library.icons import router as icons
from library.locating_api import router as places
from library.many_cells import router as many_cells
from library.ramps import router as ramps
from library.table_api import router as tables
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError
from ninja.openapi.schema import OpenAPISchema
from ninja.security import django_auth
from people.api import router as people
from people.links import router as links
from people.sessions import router as sessions
from people.sharing import router as sharing
from people.teams import router as teams
from pydantic import ValidationError as CoreValidationError
from pydantic.json_schema import models_json_schema
from services.api import router as services
from sheets.api import router as sheets
from sheets.colours import router as colours
from sheets.conditions import router as conditions
from sheets.drawing import InkHeader
from sheets.drawing import router as drawing
from sheets.frames import router as frames
from sheets.layer_pictures import router as layer_pictures
from sheets.letters import router as letters
from sheets.starting import router as starting
from sheets.trials import router as trials

from config.away import DATABASE_AWAY, away
from config.plain_json import PlainJson
from config.uploads import TooLarge

ALSO_READ = (InkHeader, EditionPage, Ground)


class API(NinjaAPI):
    """The API, whose description also tells of the JSON at the head of binary answers and in the files of editions."""

    def get_openapi_schema(self, **options: Any) -> OpenAPISchema:
        """The OpenAPI document."""
        document = super().get_openapi_schema(**options)
        _, headers = models_json_schema(
            [(model, "serialization") for model in ALSO_READ], ref_template="#/components/schemas/{model}"
        )
        document["components"]["schemas"] |= headers["$defs"]
        return document


api = API(
    title="Grey Latch", version="1", auth=django_auth, docs_url=None, parser=PlainJson(),
    description="From tables and rasters to published maps. Everything but signing in needs a session and its CSRF token.",
)  # fmt: skip
api.add_router("", people)
api.add_router("", sessions)
api.add_router("", teams)
api.add_router("", links)
api.add_router("", sharing)
api.add_router("/jobs", jobs)
api.add_router("", services)
api.add_router("", library)
api.add_router("", tables)
api.add_router("", attached)
api.add_router("", cutting)
api.add_router("", uses)
api.add_router("", doubts)
api.add_router("", many_cells)
api.add_router("", places)
api.add_router("", cross_lists)
api.add_router("", icons)
api.add_router("", ramps)
api.add_router("/sheets", sheets)
api.add_router("/sheets", editions)
api.add_router("/draw", drawing)
api.add_router("/draw", letters)
api.add_router("/draw", layer_pictures)
api.add_router("/draw", frames)
api.add_router("/draw", starting)
api.add_router("/draw", trials)
api.add_router("/draw", colours)
api.add_router("/draw", conditions)


@api.exception_handler(BadInput)
def bad_input(request: HttpRequest, error: BadInput) -> HttpResponse:
    """422 with the words for the person."""
    return api.create_response(request, {"detail": str(error)}, status=422)


@api.exception_handler(HttpError)
def refused(request: HttpRequest, error: HttpError) -> HttpResponse:
    """The status and its words; of a body that cannot be read, the words that say why."""
    if isinstance(error.__cause__, BadInput):
        return bad_input(request, error.__cause__)
    return api.create_response(request, {"detail": str(error)}, status=error.status_code)


for kind in DATABASE_AWAY:
    api.exception_handler(kind)(lambda request, error: away())


@api.exception_handler(QueueAway)
def queue_away(request: HttpRequest, error: QueueAway) -> HttpResponse:
    """503 for what can't be begun just now."""
    return away(str(error))


@api.exception_handler(TooLarge)
def too_large(request: HttpRequest, error: TooLarge) -> HttpResponse:
    """413 for a file that turns out larger than allowed."""
    return api.create_response(
        request, {"detail": f"The file is larger than {settings.MAX_UPLOAD // 1024**2:,} MB."}, status=413
    )


@api.exception_handler(OSError)
def system(request: HttpRequest, error: OSError) -> HttpResponse:
    """507 where the disk is full; anything else of the system is unexpected."""
    if error.errno not in (errno.ENOSPC, errno.EDQUOT):
        raise error
    length = int(request.META.get("CONTENT_LENGTH") or 0)
    return api.create_response(request, {"detail": full_disk(2 * length)}, status=507)


@api.exception_handler(ValidationError)
def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """422 that names the entry."""
    return api.create_response(request, {"detail": _said(error.errors[0])}, status=422)


@api.exception_handler(CoreValidationError)
def invalid_core(request: HttpRequest, error: CoreValidationError) -> HttpResponse:
    """422 for documents inside parameters."""
    return api.create_response(request, {"detail": _said(error.errors()[0])}, status=422)


def _said(mistake: Mapping[str, Any]) -> str:
    """Which entry is wrong, and how; what the core's models say in their own words comes first."""
    place = " › ".join(str(part) for part in mistake["loc"] if part not in ("body", "payload", "query", "path"))
    if mistake["type"] == "value_error":
        own = mistake["msg"].removeprefix("Value error, ").rstrip(".")
        return f"{own} ({place})." if place else f"{own}."
    return f"{place}: {mistake['msg']}."
