"""What is asked of every request before its body is read: who sends it, how much, and whether its address is plain text."""

import re
from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse, HttpResponseBase, JsonResponse

WITHOUT_SESSION = ("/api/session", "/api/invitations/", "/api/new-password")
SIGN_IN_BYTES = 16 * 1024
UPLOADS = "/api/uploads"
AROUND_A_FILE = 64 * 1024
"""Bytes that a form wraps around the one file in it."""
_PICTURES = re.compile(r"/api/datasets/[0-9a-f-]{32,36}/pictures$")
_NOT_TEXT = re.compile("[\x00\ud800-\udfff]|%00", re.IGNORECASE)


class Gate:
    """Refuse, without reading or keeping any of it, a body from somebody who has no session, or one larger than allowed."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        return refusal(request) or self.get_response(request)


def refusal(request: HttpRequest) -> HttpResponse | None:
    """The answer to a request that goes no further; None where it may."""
    if _NOT_TEXT.search(request.META.get("QUERY_STRING", "")) or _NOT_TEXT.search(request.path):
        return answer(400, "The address holds characters that are no text.")
    try:
        length = int(request.META.get("CONTENT_LENGTH") or 0)
    except ValueError:
        return answer(400, "The request does not say how long it is.")
    if length <= 0 or not request.path.startswith("/api/"):
        # Elsewhere nothing reads a body: the other addresses are only looked at.
        return None
    if request.path.startswith(WITHOUT_SESSION):
        return None if length <= SIGN_IN_BYTES else answer(413, "That is no name and password.")
    if not request.user.is_authenticated:
        return answer(401, "Sign in first.")
    allowed = most_bytes(request)
    if length > allowed:
        return answer(
            413, f"The file is larger than {settings.MAX_UPLOAD // 1024**2:,} MB." if is_upload(request) else TOO_LONG
        )
    return None


TOO_LONG = "That is more than can be kept at once."


def is_upload(request: HttpRequest) -> bool:
    """Whether the request brings a file."""
    return request.method == "POST" and (request.path == UPLOADS or bool(_PICTURES.match(request.path)))


def most_bytes(request: HttpRequest) -> int:
    """How long the body of a request may be."""
    return settings.MAX_UPLOAD + AROUND_A_FILE if is_upload(request) else settings.DATA_UPLOAD_MAX_MEMORY_SIZE


def answer(status: int, words: str) -> JsonResponse:
    """A refusal in words."""
    return JsonResponse({"detail": words}, status=status)
