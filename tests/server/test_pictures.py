"""Pictures attached to rows: one by one, many by name, in cards and editions, and who may do what."""

import io
import json
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.core.files.storage import default_storage
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from library.derived import data_of
from library.models import AttachedPicture, Dataset
from library.store import forget
from PIL import Image
from sheets.models import Sheet

from tests.core.test_attached import jpeg
from tests.server.conftest import fetch, send


def attach(client: Client, dataset: Dataset, name: str, data: bytes, **to: Any) -> tuple[int, Any]:
    answer = client.post(f"/api/datasets/{dataset.pk}/pictures", {"file": SimpleUploadedFile(name, data), **to})
    return answer.status_code, answer.json()


def test_to_a_row_with_credit_and_thumbnail(
    owner: Client, stranger: Client, named: dict[str, Dataset], django_capture_on_commit_callbacks: Any
) -> None:
    huts = named["Field huts"]
    fid = int(data_of(huts.newest).fids[4])
    status, (made,) = attach(owner, huts, "hut.jpg", jpeg(), fid=fid)
    assert (status, made["fid"], made["width"], made["credit"]) == (200, fid, 400, "")
    thumb = owner.get(f"/api/pictures/{made['id']}/thumb")
    assert thumb["Content-Type"] == "image/webp" and Image.open(io.BytesIO(b"".join(thumb.streaming_content))).size == (
        240,
        120,
    )
    doubts = fetch(owner, f"/datasets/{huts.pk}/doubts")[1]
    doubt = next(each for each in doubts if each["kind"] == "no credit")
    assert (doubt["rows"], doubt["text"]) == ([fid], "1 row with pictures without a credit.")
    told = send(owner, f"/pictures/{made['id']}", {"credit": " Isla Orr ", "text": "The hut"}, "patch")[1]
    assert (told["credit"], told["text"]) == ("Isla Orr", "The hut")
    assert all(each["kind"] != "no credit" for each in fetch(owner, f"/datasets/{huts.pk}/doubts")[1])
    for path in (f"/datasets/{huts.pk}/pictures", f"/pictures/{made['id']}/full", f"/pictures/{made['id']}/thumb"):
        assert stranger.get(f"/api{path}").status_code == 404
    assert attach(stranger, huts, "a.jpg", jpeg(), fid=fid)[0] == 404
    assert owner.get(f"/api/pictures/{huts.pk}/thumb").status_code == 404, "the id of something else"
    assert send(stranger, f"/pictures/{made['id']}", {"credit": "mine"}, "patch")[0] == 404
    card = send(owner, "/draw/card", {"dataset": str(huts.pk), "template": "Hut", "fid": fid})[1]["html"]
    assert f'src="/api/pictures/{made["id"]}/full"' in card and "Picture: Isla Orr" in card
    file = huts.pictures.get().file.name
    with django_capture_on_commit_callbacks(execute=True):
        assert owner.delete(f"/api/pictures/{made['id']}").status_code == 204
    assert not default_storage.exists(file) and fetch(owner, f"/datasets/{huts.pk}/pictures")[1] == []


def test_many_by_name(owner: Client, named: dict[str, Dataset]) -> None:
    isles = named["Names of the isles"]
    data = data_of(isles.newest)
    field = next(
        name
        for name in data.columns.column_names
        if data.columns[name].type == "string" or "isle" in name or name == "name"
    )
    first = str(data.columns[field][0].as_py())
    status, made = attach(owner, isles, f"{first.upper().replace(' ', '_')}.jpg", jpeg(), field=field, credit="Brann")
    assert status == 200 and [each["fid"] for each in made] == [int(data.fids[0])] and made[0]["credit"] == "Brann"
    assert len(attach(owner, isles, f"{first}.png", jpeg(), field=field)[1]) == 1
    assert isles.pictures.count() == 1, "the same picture twice is one"
    for name, to, words in (
        ("nobody.jpg", {"field": field}, f"No row's {field} is 'nobody'."), ("a.jpg", {"field": "no such"}, "no such"), ("a.jpg", {"fid": 10**6}, "There is no feature"),
    ):  # fmt: skip
        status, told = attach(owner, isles, name, jpeg(), **to)
        assert status == 422 and words in told["detail"]
    status, told = attach(owner, isles, "a.jpg", b"nothing", fid=int(data.fids[0]))
    assert status == 422 and "a.jpg is no PNG" in told["detail"]
    assert attach(owner, named["Relief"], "a.jpg", jpeg(), fid=0)[0] == 422


def test_they_go_with_their_dataset(owner: Client, wells: Dataset) -> None:
    attach(owner, wells, "a.jpg", jpeg(), fid=1)
    kept = wells.pictures.get()
    names = [kept.file.name, kept.thumb.name]
    assert all(map(default_storage.exists, names))
    forget(Dataset.objects.get(pk=wells.pk))
    # The files go when the transaction ends, which that of a test never does.
    assert not AttachedPicture.objects.filter(dataset=wells.pk).exists()


def test_readers_see_them_in_the_edition_as_they_were(
    owner: Client, visitor: Client, isla: User, sheet: Sheet, named: dict[str, Dataset]
) -> None:
    joined = named["Catchments with returns"]
    fids = [int(fid) for fid in data_of(joined.newest).fids[:3]]
    for fid in fids:
        attach(owner, joined, "a.jpg", jpeg(), fid=fid, credit="Isla Orr")
    _, job = send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 8})
    assert job["state"] == "done", job
    joined.pictures.all().delete()
    home = f"/e/{job['result']['slug']}/1"
    layer = next(
        each
        for each in sheet.revisions.first().document["layers"]
        if each["dataset"] == str(joined.pk) and each["card"]
    )
    block = json.loads(b"".join(visitor.get(f"{home}/cards/{layer['id']}/0.json").streaming_content))
    shown = next(html for fid, html in block.items() if int(fid) in fids)
    assert "Picture: Isla Orr" in shown
    name = shown.split('src="pictures/')[1].split('"')[0]
    answer = visitor.get(f"{home}/pictures/{name}")
    assert answer.status_code == 200 and answer["Content-Type"] == "image/webp"
    assert Path(name).suffix == ".webp" and name not in str(block[max(block, key=int)])
