"""What is sent compressed, and what is sent as it is (RFC 9110, section 8.4)."""

import gzip
import json

import pytest
from config.compression import CompressWhatShrinks
from django.http import HttpResponse
from django.test import Client, RequestFactory

pytestmark = pytest.mark.django_db
LONG = b"grey latch " * 100


def test_answers_are_compressed_for_those_who_can_read_it(owner: Client) -> None:
    plain = owner.get("/api/datasets")
    sent = owner.get("/api/datasets", headers={"Accept-Encoding": "gzip"})
    assert sent.headers["Content-Encoding"] == "gzip"
    assert len(sent.content) < len(plain.content)
    assert json.loads(gzip.decompress(sent.content)) == plain.json()
    assert "Content-Encoding" not in plain.headers


@pytest.mark.parametrize(
    ("kind", "status", "encoding"),
    [
        ("application/vnd.mapbox-vector-tile", 200, "gzip"),
        ("application/json; charset=utf-8", 200, "gzip"),
        ("image/png", 200, None),
        ("application/zip", 200, None),
        ("application/octet-stream", 206, None),
    ],
)
def test_pictures_archives_and_parts_are_left_alone(kind: str, status: int, encoding: str | None) -> None:
    middleware = CompressWhatShrinks(lambda request: HttpResponse(LONG, content_type=kind, status=status))
    answer = middleware(RequestFactory().get("/", headers={"Accept-Encoding": "gzip"}))
    assert answer.headers.get("Content-Encoding") == encoding
    assert (answer.content == LONG) == (encoding is None)
