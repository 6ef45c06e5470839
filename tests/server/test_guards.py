"""Nothing is let in: bodies are refused before they are read, guesses are counted, and no text from outside is taken as it comes."""

import json
import socket
import threading
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from axes.models import AccessAttempt
from config.plain_json import plain_json
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError
from django.test import Client, RequestFactory
from editions.models import Address
from greylatch.errors import BadInput
from library.models import Dataset, Upload
from people.sign_in import client_address
from sheets.models import Sheet

from tests.server.conftest import fetch, send, upload

PASSWORD = "peat-and-heather"


def sign_in(client: Client, name: str, password: str, **headers: Any) -> int:
    body = json.dumps({"name": name, "password": password})
    return client.post("/api/session", body, content_type="application/json", **headers).status_code


def test_a_visitor_s_body_is_not_read(visitor: Client, settings: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    def read(*_: Any) -> None:
        raise AssertionError("somebody read it")

    monkeypatch.setattr("config.uploads.NamelessUpload.new_file", read)
    answer = visitor.post("/api/uploads", {"file": SimpleUploadedFile("a.csv", b"a" * 100_000)})
    assert answer.status_code == 401
    assert not Upload.objects.exists()


@pytest.mark.parametrize(
    ("path", "length", "status"),
    [
        ("/api/uploads", 10**12, 413),
        ("/api/sheets", 9 * 1024**2, 413),
        ("/api/session", 20_000, 413),
        ("/api/draw/ink", 10**9, 413),
    ],
)
def test_what_announces_too_much_is_refused_unread(owner: Client, path: str, length: int, status: int) -> None:
    answer = owner.generic("POST", path, b"{}", content_type="application/json", CONTENT_LENGTH=str(length))
    assert answer.status_code == status
    assert answer.json()["detail"]


def test_the_limit_holds_while_a_file_arrives(owner: Client, settings: Any) -> None:
    settings.MAX_UPLOAD = 50_000
    status, told = upload(owner, "a.csv", b"a,b\n" * 15_000)
    assert (status, told["detail"]) == (413, "The file is larger than 0 MB.")
    assert not Upload.objects.exists()


def test_a_share_of_the_disk_is_not_exceeded(owner: Client, settings: Any, isla: User) -> None:
    settings.QUOTA = 1_000
    status, told = upload(owner, "a.csv", b"a,b\n1,2\n")
    assert (status, "Your share of the disk is 1 kB" in told["detail"]) == (422, True)


def test_a_full_disk_says_how_much_is_needed(owner: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    class Full:
        free = 3

    monkeypatch.setattr("jobs.work.shutil.disk_usage", lambda _: Full)
    status, told = upload(owner, "a.csv", b"a,b\n1,2\n")
    assert status == 422
    assert "disk is full: this needs about 1 kB" in told["detail"]


def test_guesses_at_a_name_rest_after_ten_and_then_the_right_password_fits(visitor: Client) -> None:
    codes = [sign_in(visitor, "isla", f"guess {i}", REMOTE_ADDR=f"10.0.0.{i}") for i in range(12)]
    assert codes == [403] * 9 + [429] * 3
    assert sign_in(visitor, "ISLA", PASSWORD, REMOTE_ADDR="10.0.1.1") == 429, "whatever its case, from wherever"
    AccessAttempt.objects.update(attempt_time="2020-01-01T00:00Z")
    assert sign_in(visitor, "isla", PASSWORD, REMOTE_ADDR="10.0.1.1") == 200


def test_guesses_from_an_address_rest_whatever_the_name(visitor: Client) -> None:
    codes = [sign_in(visitor, f"name{i}", "guess") for i in range(12)]
    assert codes == [403] * 9 + [429] * 3
    assert sign_in(visitor, "isla", PASSWORD) == 429
    assert sign_in(visitor, "isla", PASSWORD, REMOTE_ADDR="10.0.0.9") == 200, "nobody else is held"


def test_nobody_locks_a_person_out_of_the_browser_that_they_use(visitor: Client) -> None:
    """As OWASP's cheat sheet on authentication has it: what strangers get wrong does not count against a known browser."""
    mine = Client()
    assert sign_in(mine, "isla", PASSWORD) == 200
    mine.delete("/api/session")
    for i in range(15):
        sign_in(visitor, "isla", f"guess {i}", REMOTE_ADDR="127.0.0.1")
    assert sign_in(visitor, "isla", PASSWORD) == 429
    assert sign_in(mine, "isla", PASSWORD) == 200
    mine.delete("/api/session")
    codes = [sign_in(mine, "isla", "wrong") for _ in range(12)]
    assert codes[-1] == 429, "but its own mistakes do"
    forged = Client()
    forged.cookies["known"] = mine.cookies["known"].value[:-3] + "abc"
    assert sign_in(forged, "isla", PASSWORD) == 429


def test_trying_on_does_not_make_the_rest_longer(visitor: Client) -> None:
    for i in range(12):
        sign_in(visitor, "isla", f"guess {i}")
    before = AccessAttempt.objects.get(username="isla").attempt_time
    sign_in(visitor, "isla", "once more")
    assert AccessAttempt.objects.get(username="isla").attempt_time == before


@pytest.mark.parametrize(
    ("proxies", "forwarded", "address"),
    [
        (0, "1.2.3.4", "127.0.0.1"), (1, "1.2.3.4", "1.2.3.4"), (1, "6.6.6.6, 1.2.3.4", "1.2.3.4"), (2, "6.6.6.6, 1.2.3.4, 5.5.5.5", "1.2.3.4"),
        (1, "", "127.0.0.1"), (1, "nonsense", None), (1, "2001:db8::1", "2001:db8::1"),
    ],
)  # fmt: skip
def test_addresses_behind_proxies_are_believed_as_far_as_settings_say(
    proxies: int, forwarded: str, address: str | None, settings: Any
) -> None:
    settings.TRUSTED_PROXIES = proxies
    assert client_address(RequestFactory().get("/", HTTP_X_FORWARDED_FOR=forwarded)) == address


ODD_TEXTS = ["\\u0000", "a\\u0000b", "\\ud800", "\\udc00x", "a" * 200]


@pytest.mark.parametrize("text", ODD_TEXTS)
def test_odd_names_and_passwords_are_refused_in_words(visitor: Client, text: str) -> None:
    for body in (f'{{"name": "{text}", "password": "x"}}', f'{{"name": "isla", "password": "{text}"}}'):
        answer = visitor.post("/api/session", body, content_type="application/json")
        assert answer.status_code in (403, 422), answer.content
        assert answer.json()["detail"]


@pytest.mark.parametrize(
    "text",
    [
        "NaN",
        "[Infinity]",
        "1e999",
        '{"a": -1e999}',
        "9" * 5000,
        "[" * 100_000,
        '"\\u0000"',
        '"\\ud800"',
        '{"\\ud800": 1}',
        "[" * 100 + "]" * 100,
        "",
        "{",
        "\xff",
        str(2**63),
    ],
)
def test_json_that_no_other_program_could_read_is_refused(text: str) -> None:
    with pytest.raises(BadInput):
        plain_json(text.encode("latin-1"))


def test_addresses_that_are_no_text_are_refused(owner: Client) -> None:
    for path in ("/api/datasets?x=%00", "/e/a%00b/", "/e/x/1/map.zip%00", "/api/sheets/%00"):
        answer = owner.get(path)
        assert answer.status_code in (400, 404), path


def test_a_password_is_changed_by_its_owner(owner: Client, isla: User) -> None:
    other = Client()
    other.force_login(isla)
    assert send(owner, "/password", {"old": "wrong", "new": "heather-and-peat"})[0] == 422
    status, told = send(owner, "/password", {"old": PASSWORD, "new": "short"})
    assert (status, "at least 10 characters" in told["detail"]) == (422, True)
    assert send(owner, "/password", {"old": PASSWORD, "new": "heather-and-peat"})[0] == 200
    assert owner.get("/api/session").json()["name"] == "isla", "this session goes on"
    assert other.get("/api/sheets").status_code == 401, "the others end"
    assert sign_in(Client(), "isla", "heather-and-peat") == 200
    assert sign_in(Client(), "isla", PASSWORD) == 403


def layer_on(dataset: Any, **more: Any) -> dict[str, Any]:
    return {"id": "a", "name": "Borrowed", "dataset": str(dataset), "symbology": {"kind": "symbols"}, **more}


def test_a_sheet_with_somebody_else_s_data_is_refused(stranger: Client, named: dict[str, Dataset], isla: User) -> None:
    theirs = named["Catchments"].pk
    for look in ({}, {"visible": False}):
        for name in (str(theirs), str(theirs).upper(), theirs.hex):
            status, told = send(stranger, "/sheets", {"title": "T", "layers": [layer_on(name, **look)]})
            assert (status, told["detail"]) == (
                422,
                "Layer 'Borrowed' names a dataset that nobody shares with you. Choose one of your library.",
            )
    _, sheet = send(stranger, "/sheets", {"title": "T", "layers": [layer_on(uuid4())]})
    document = {"title": "T", "layers": [layer_on(theirs, visible=False)]}
    assert send(stranger, f"/sheets/{sheet['id']}", {"base": 1, "document": document}, "put")[0] == 422
    # One that was kept before this was checked is not published either.
    Sheet.objects.get(pk=sheet["id"]).revisions.update(document={**document, "version": 2})
    status, told = send(stranger, f"/sheets/{sheet['id']}/editions", {})
    assert (status, "nobody shares with you" in told["detail"]) == (422, True)


@pytest.mark.parametrize(
    "crs", ["+proj=merc +nadgrids=/etc/passwd", "+init=/tmp/evil:1", "+proj=pipeline +step +proj=merc", "/etc/passwd"]
)
def test_projections_that_name_files_are_refused(owner: Client, crs: str) -> None:
    _, told = upload(owner, "a.csv", b"x,y\n500000,5760000\n")
    status, preview = send(owner, f"/uploads/{told['id']}/preview", {"crs": crs})
    assert status == 200
    assert preview["problem"]


def test_pictures_of_others_are_named_in_the_policy_where_they_are_allowed(
    owner: Client, visitor: Client, sheet: Sheet
) -> None:
    document = sheet.revisions.first().document
    assert "pictures.example.org" not in visitor.get("/").headers["Content-Security-Policy"]
    document["pictures_from"] = ["https://pictures.example.org"]
    assert send(owner, f"/sheets/{sheet.pk}", {"base": sheet.revision, "document": document}, "put")[0] == 200
    assert (
        "img-src 'self' data: blob: https://pictures.example.org" in owner.get("/").headers["Content-Security-Policy"]
    )
    send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 8})
    slug = Address.objects.get(sheet=sheet).slug
    assert "https://pictures.example.org" in visitor.get(f"/e/{slug}/").headers["Content-Security-Policy"]
    for bad in ("https://a b", "javascript:x", "https://x.example; script-src *", "https://x.example/path"):
        document["pictures_from"] = [bad]
        assert send(owner, f"/sheets/{sheet.pk}", {"base": sheet.revision + 1, "document": document}, "put")[0] == 422


ADDRESSES = [
    "map/99/0/0.png", "map/9999999999999999999999/0/0.png", "map/3/99999999999/0.png", "map/24/16777216/0.png", "map/0/0/1.png", "map/" + "9" * 5000 + "/0/0.png",
    "shapes-carbon/30/0/0.pbf", "labels/31/2147483648/1.pbf", "map/-1/0/0.png", "map/3/0/0.jpg", "nothing/3/0/0.png", "nothing.zip", "..%2Fsecret-key", "map.pmtiles/",
    "style.json.json", "shapes-.json", "card", "card?lon=nan&lat=0&zoom=1", "card?lon=1e400&lat=0&zoom=1", "card?lon=x&lat=0&zoom=1", "card?lon=0&lat=999&zoom=-99",
    "features?west=nan&south=0&east=1&north=1", "features?west=9&south=9&east=-9&north=-9", "features?west=-1e300&south=-1e300&east=1e300&north=1e300",
    "features?left=-1e308&bottom=-1e308&right=1e308&top=1e308", "features?left=nan&bottom=0&right=1&top=1", "features?left=9&bottom=9&right=-9&top=-9",
    "card?x=1e308&y=-1e308&zoom=1e9", "card?x=inf&y=0&zoom=1", "card?x=0&y=0&zoom=nan", "ground.json", "tilematrixset.json",
]  # fmt: skip


def test_public_addresses_answer_and_never_fail(owner: Client, visitor: Client, sheet: Sheet) -> None:
    send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 8})
    home = f"/e/{Address.objects.get(sheet=sheet).slug}"
    visitor.raise_request_exception = False
    for number in ("1", "0", "2", "999999999999999999999"):
        for path in ("", "edition.json", *ADDRESSES):
            status = visitor.get(f"{home}/{number}/{path}").status_code
            assert status in ((200, 204, 400, 404) if number == "1" else (404,)), (number, path, status)
    for header in (
        "bytes=0-" + "9" * 5000,
        "bytes=-0",
        "bytes=99999999999999-",
        "bytes=5-1",
        "bytes=a-b",
        "bytes=-99999999999999999999",
        "bytes=0-0,5-9",
        "x" * 9000,
    ):
        answer = visitor.get(f"{home}/1/map.pmtiles", headers={"Range": header})
        assert answer.status_code in (200, 206, 416), header
    for path in (
        "/glyphs/x/0-255.pbf",
        "/glyphs/Source%20Sans%203%20Medium/99999999999-99999999999.pbf",
        "/e/none/",
        "/e/" + "a" * 5000 + "/",
    ):
        assert visitor.get(path).status_code == 404


def test_files_may_be_read_from_elsewhere_and_by_ranges(owner: Client, visitor: Client, sheet: Sheet) -> None:
    """Fetch standard: a range from another origin asks first (OPTIONS) and reads only headers that are exposed."""
    send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 8})
    file = f"/e/{Address.objects.get(sheet=sheet).slug}/1/map.pmtiles"
    asked = visitor.options(
        file,
        headers={
            "Origin": "https://other.example",
            "Access-Control-Request-Method": "GET",
            "Access-Control-Request-Headers": "range",
        },
    )
    assert (asked.status_code, asked.headers["Access-Control-Allow-Origin"]) == (204, "*")
    assert "Range" in asked.headers["Access-Control-Allow-Headers"]
    part = visitor.get(file, headers={"Range": "bytes=0-9"})
    assert {"Content-Range", "Accept-Ranges", "ETag"} <= {
        one.strip() for one in part.headers["Access-Control-Expose-Headers"].split(",")
    }
    again = visitor.get(file, headers={"If-None-Match": part.headers["ETag"]})
    assert again.status_code == 304
    assert visitor.post(file).status_code == 405


def test_while_the_database_is_away_people_are_told_so(owner: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    def away(*_: Any, **__: Any) -> None:
        raise OperationalError("server closed the connection unexpectedly")

    monkeypatch.setattr("sheets.api.allowed", away)
    answer = owner.get("/api/sheets")
    assert (answer.status_code, answer.headers["Retry-After"]) == (503, "3")
    assert "away for a moment" in answer.json()["detail"]
    monkeypatch.setattr("editions.views.Edition.objects.select_related", away)
    owner.raise_request_exception = False
    assert owner.get("/e/abc/").status_code == 503


def test_rows_beyond_the_end_are_none(owner: Client, named: dict[str, Dataset]) -> None:
    path = f"/datasets/{named['Catchments'].pk}/rows"
    assert fetch(owner, path, offset=214)[1]["rows"] == []
    assert fetch(owner, path, offset=10**6)[1]["rows"] == []
    for offset in (-1, 2**31, 10**30):
        status, told = fetch(owner, path, offset=offset)
        assert (status, "offset" in told["detail"]) == (422, True)


def test_titles_have_a_length(owner: Client, named: dict[str, Dataset]) -> None:
    path = f"/datasets/{named['Catchments'].pk}"
    for title in ("x" * 201, "\0", "\ud800"):
        status, told = send(owner, path, {"title": title}, "patch")
        assert (status, bool(told["detail"])) == (422, True)


def test_encodings_that_are_none_of_text(owner: Client) -> None:
    _, told = upload(owner, "a.csv", b"a,b\n1,2\n")
    for encoding in ("hex", "zlib", "idna", "unicode_escape", "nonsense", "rot13", "utf-8\x01"):
        status, told_again = send(owner, f"/uploads/{told['id']}/preview", {"encoding": encoding})
        assert (status, "no encoding" in told_again["detail"]) == (422, True), encoding


def test_uploads_are_gone_after_an_import_and_after_a_failure(
    owner: Client, settings: Any, django_capture_on_commit_callbacks: Any
) -> None:
    from jobs.tidying import tidy

    for data, state in ((b"a,b\n1,2\n", "done"), (b"a,b\n1,2\n1\n", "failed")):
        _, told = upload(owner, "a.csv", data)
        path = Path(settings.MEDIA_ROOT) / Upload.objects.get(pk=told["id"]).file.name
        assert path.exists()
        with django_capture_on_commit_callbacks(execute=True):
            assert send(owner, f"/uploads/{told['id']}/import", {})[1]["state"] == state
            # Killed before its end is on record, the job begins anew and needs the file.
            assert path.exists()
        assert not Upload.objects.filter(pk=told["id"]).exists()
        assert not path.exists()
    _, told = upload(owner, "a.csv", b"a,b\n1,2\n")
    assert tidy(0)["uploads"] == 0
    Upload.objects.filter(pk=told["id"]).update(created="2020-01-01T00:00Z")
    assert tidy(0)["uploads"] == 1


def test_what_killed_processes_left_is_tidied_away(isla: User, settings: Any) -> None:
    from jobs.tidying import scratch, tidy

    with scratch() as mine:
        dead = settings.SCRATCH / "999999999-left"
        dead.mkdir()
        for folder in ("datasets/forsaken", "editions/forsaken"):
            (settings.MEDIA_ROOT / folder).mkdir(parents=True)
            (settings.MEDIA_ROOT / folder / "file").write_text("x")
        (settings.MEDIA_ROOT / "uploads").mkdir(exist_ok=True)
        (settings.MEDIA_ROOT / "uploads" / "nobody.csv").write_text("x")
        Dataset.objects.create(owner=isla, title="cut off", kind="areas")
        first = tidy(3600)
        assert (first["scratch"], first["files"]) == (1, 0), "what may be made just now stays"
        removed = tidy(-1)
        assert removed["datasets"] == 1
        assert removed["files"] >= 3
        assert mine.exists()
        assert not dead.exists()
    assert not mine.exists()


def test_nobody_waits_for_a_visitor_who_sends_for_ever(live_server: Any) -> None:
    """A real connection: a visitor announces a gigabyte; the answer is there before anything of it is."""
    host, port = live_server.url.removeprefix("http://").split(":")
    with socket.create_connection((host, int(port)), timeout=10) as line:
        line.sendall(
            b"POST /api/uploads HTTP/1.1\r\nHost: localhost\r\nContent-Type: multipart/form-data; boundary=x\r\nContent-Length: 1000000000\r\n\r\n"
        )
        assert line.recv(4096).startswith(b"HTTP/1.1 401")


def test_a_cache_is_as_fast_with_many_entries(tmp_path: Path) -> None:
    """No listing of the whole folder at a write: what it looks at is one folder of 256."""
    from config.sharded_cache import ShardedFileCache

    cache = ShardedFileCache(str(tmp_path), {"timeout": None, "max_entries": 512})
    for i in range(1_500):
        cache.set(f"key-{i}", i)
    assert cache.get("key-1499") == 1499
    assert len(list(tmp_path.glob("??/*"))) < 1_500, "it is thinned out now and then"
    assert not list(tmp_path.glob("*.djcache"))
    cache.clear()
    assert cache.get("key-1499") is None


def test_a_cache_does_not_pack_what_is_packed(tmp_path: Path) -> None:
    """To pack a picture again takes longer than to paint what changed in it; entries are read as Django reads them."""
    from config.sharded_cache import ShardedFileCache
    from django.core.cache.backends.filebased import FileBasedCache

    cache, tile = ShardedFileCache(str(tmp_path), {"timeout": None}), bytes(1_000)
    cache.set("tile", tile)
    (entry,) = tmp_path.glob("??/*")
    assert tile in entry.read_bytes()
    assert cache.get("tile") == tile and ShardedFileCache.get is FileBasedCache.get


def test_two_threads_write_one_entry(tmp_path: Path) -> None:
    from config.sharded_cache import ShardedFileCache

    cache = ShardedFileCache(str(tmp_path), {"timeout": None})
    threads = [threading.Thread(target=lambda: [cache.set("same", b"x" * 10_000) for _ in range(50)]) for _ in range(4)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert cache.get("same") == b"x" * 10_000
