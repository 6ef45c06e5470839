"""Scripts and styles of the readers' page and what it asks first, sent by gzip (RFC 1952) to browsers that take it: a third of their size."""

import gzip
from functools import lru_cache
from pathlib import Path

from django.http import HttpRequest, HttpResponse
from django.utils.cache import patch_vary_headers

_TEXTS = (".js", ".css", ".json")


def goes_packed(request: HttpRequest, name: str) -> bool:
    """Whether a file is sent packed to who asks; not where a range is asked for, which counts the file's own bytes."""
    takes = "gzip" in request.headers.get("Accept-Encoding", "")
    return name.endswith(_TEXTS) and takes and "Range" not in request.headers


def packed_file(path: Path, kind: str) -> HttpResponse:
    """The whole file, packed. Raises FileNotFoundError where there is none."""
    answer = HttpResponse(_packed(path), content_type=kind, headers={"Content-Encoding": "gzip"})
    patch_vary_headers(answer, ("Accept-Encoding",))
    return answer


@lru_cache(maxsize=32)
def _packed(path: Path) -> bytes:
    # Once per process: files of editions never change, and the scripts of a version are the same in all of them.
    return gzip.compress(path.read_bytes(), mtime=0)
