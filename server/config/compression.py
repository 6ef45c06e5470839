"""Answers that shrink are sent compressed: JSON, vector tiles, ink, glyphs. Pictures and archives are compressed already."""

from django.http import HttpRequest, HttpResponseBase
from django.middleware.gzip import GZipMiddleware

SHRINKING = {
    "application/geo+json",
    "application/json",
    "application/vnd.mapbox-vector-tile",
    "application/x-protobuf",
    "application/octet-stream",
    "image/svg+xml",
    "text/html",
    "text/plain",
}


class CompressWhatShrinks(GZipMiddleware):
    """Django's compression, but not of pictures, of parts of a file (their ranges count its own bytes) or of files as they are sent."""

    def process_response(self, request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
        kind = response.headers.get("Content-Type", "").partition(";")[0]
        if response.streaming or response.status_code == 206 or kind not in SHRINKING:
            return response
        return super().process_response(request, response)
