"""Single byte ranges (RFC 9110, section 14), which archives that are read in place need and Django does not serve."""

import re
from typing import IO

from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponseBase

_RANGE = re.compile(r"bytes=(\d{0,18})-(\d{0,18})$")


def ranged(request: HttpRequest, file: IO[bytes], size: int, kind: str) -> HttpResponseBase:
    """The whole file, or with 206 the one range asked for, or 416 where it lies outside. `file` is closed with the answer."""
    match = _RANGE.match(request.headers.get("Range", ""))
    if not match or match.groups() == ("", ""):
        answer: HttpResponseBase = FileResponse(file, content_type=kind)
        answer["Accept-Ranges"] = "bytes"
        return answer
    first, last = match.groups()
    start = int(first) if first else max(0, size - int(last))
    end = min(int(last), size - 1) if first and last else size - 1
    with file:
        if start > end or start >= size:
            return HttpResponse(status=416, headers={"Content-Range": f"bytes */{size}"})
        file.seek(start)
        part = HttpResponse(file.read(end - start + 1), status=206, content_type=kind)
    part["Content-Range"] = f"bytes {start}-{end}/{size}"
    part["Accept-Ranges"] = "bytes"
    return part
