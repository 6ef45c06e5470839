"""The API: one router per app, errors in one place."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from editions.api import router as editions
from greylatch.errors import BadInput
from jobs.api import router as jobs
from library.api import router as library
from ninja import NinjaAPI
from ninja.errors import ValidationError
from ninja.openapi.schema import OpenAPISchema
from ninja.security import django_auth
from people.api import router as people
from pydantic import ValidationError as CoreValidationError
from pydantic.json_schema import models_json_schema
from sheets.api import router as sheets
from sheets.drawing import InkHeader
from sheets.drawing import router as drawing


class API(NinjaAPI):
    """The API, whose description also tells of the JSON at the head of binary answers."""

    def get_openapi_schema(self, **options: Any) -> OpenAPISchema:
        """The OpenAPI document."""
        document = super().get_openapi_schema(**options)
        _, headers = models_json_schema([(InkHeader, "serialization")], ref_template="#/components/schemas/{model}")
        document["components"]["schemas"] |= headers["$defs"]
        return document


api = API(
    title="Grey Latch", version="1", auth=django_auth, docs_url=None,
    description="From tables and rasters to published maps. Everything but signing in needs a session and its CSRF token.",
)  # fmt: skip
api.add_router("", people)
api.add_router("/jobs", jobs)
api.add_router("", library)
api.add_router("/sheets", sheets)
api.add_router("/sheets", editions)
api.add_router("/draw", drawing)


@api.exception_handler(BadInput)
def bad_input(request: HttpRequest, error: BadInput) -> HttpResponse:
    """422 with the words for the person."""
    return api.create_response(request, {"detail": str(error)}, status=422)


@api.exception_handler(ValidationError)
def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """422 that names the entry."""
    first = error.errors[0]
    place = " › ".join(str(part) for part in first["loc"] if part not in ("body", "query", "path"))
    return api.create_response(request, {"detail": f"{place}: {first['msg']}."}, status=422)


@api.exception_handler(CoreValidationError)
def invalid_core(request: HttpRequest, error: CoreValidationError) -> HttpResponse:
    """422 for documents inside parameters."""
    first = error.errors()[0]
    return api.create_response(
        request, {"detail": f"{' › '.join(map(str, first['loc']))}: {first['msg']}."}, status=422
    )
