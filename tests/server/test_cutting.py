"""A raster cut into parts by the server: seen first, cut by a job, taken away as a zip, and put together again."""

import io
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import rasterio
from django.core.files.storage import default_storage
from django.test import Client
from library.cutting import HOME
from library.files import local_path
from library.models import Dataset
from library.tidying import forsaken_files
from rasterio.merge import merge

from tests.server.conftest import send


def test_seen_cut_and_taken_away(owner: Client, stranger: Client, named: dict[str, Dataset], tmp_path: Path) -> None:
    relief = named["Relief"]
    asked = {"columns": 3, "rows": 2, "pattern": "{name}-{row:02}-{column}"}
    status, told = send(owner, f"/datasets/{relief.pk}/cut/look", asked)
    assert (status, told["parts"], told["columns"], told["rows"]) == (200, 6, 3, 2)
    assert (told["first"], told["last"]) == ("relief-01-1.tif", "relief-02-3.tif")
    job = send(owner, f"/datasets/{relief.pk}/cut", asked)[1]
    assert (job["state"], job["message"]) == ("done", "6 parts of 'Relief' are ready.")
    assert stranger.get(f"/api/jobs/{job['id']}/file").status_code == 404
    answer = owner.get(f"/api/jobs/{job['id']}/file")
    assert 'filename="relief.zip"' in answer["Content-Disposition"]
    with zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content))) as parts:
        assert set(parts.namelist()) == {
            "index.csv",
            "index.geojson",
            *(f"relief-0{r}-{c}.tif" for r in (1, 2) for c in (1, 2, 3)),
        }
        parts.extractall(tmp_path)
    together, _ = merge(sorted(tmp_path.glob("*.tif")))
    with rasterio.open(local_path(f"{relief.newest.folder}/raster.tif")) as whole:
        assert np.array_equal(together, whole.read(), equal_nan=True)
    forsaken_files(0)
    assert default_storage.exists(f"{HOME}/{job['id'].replace('-', '')}.zip"), "for a day"


@pytest.mark.parametrize(
    ("asked", "words"),
    [
        ({}, "how many columns and rows"), ({"size": "big"}, "is no size"), ({"columns": 2, "pattern": "a"}, "one name"), ({"columns": 2, "pattern": "{what}"}, "what"),
        ({"columns": 0}, "columns"),
    ],
)  # fmt: skip
def test_what_cannot_be_cut(owner: Client, named: dict[str, Dataset], asked: dict[str, Any], words: str) -> None:
    for path in ("cut/look", "cut"):
        status, told = send(owner, f"/datasets/{named['Relief'].pk}/{path}", asked)
        assert status == 422 and words in told["detail"]
    assert "is not a raster" in send(owner, f"/datasets/{named['Catchments'].pk}/cut/look", {"columns": 2})[1]["detail"]
