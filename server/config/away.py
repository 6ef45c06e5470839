"""While the database or the queue is away people are told so, and told that it passes; programs get 503 and try again."""

import sys

from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse

DATABASE_AWAY = (OperationalError, InterfaceError)
WORDS = "The database is away for a moment. Nothing is lost; it is tried again."
RETRY_SECONDS = 3


def away(words: str = WORDS) -> JsonResponse:
    """503 in words."""
    answer = JsonResponse({"detail": words}, status=503)
    answer["Retry-After"] = str(RETRY_SECONDS)
    return answer


def failed(request: HttpRequest) -> HttpResponse:
    """The answer to what no view caught: 503 while the database is away, else 500. Both in words."""
    error = sys.exc_info()[1]
    if isinstance(error, DATABASE_AWAY):
        return away()
    return JsonResponse({"detail": "Something unexpected went wrong here. It is in the server's log."}, status=500)
