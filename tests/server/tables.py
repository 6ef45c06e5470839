"""Changing tables and reading what they hold, as tests do."""

from __future__ import annotations

from typing import Any

import shapely
from django.test import Client
from library.derived import data_of
from library.models import Dataset, Revision

from tests.server.conftest import send


def change(client: Client, dataset: Dataset, *edits: dict[str, Any], status: int = 200) -> Any:
    code, told = send(client, f"/datasets/{dataset.pk}/edits", {"edits": edits})
    assert code == status, told
    dataset.refresh_from_db()
    return told


def cell(fid: int, field: str, value: Any, was: Any) -> dict[str, Any]:
    return {"do": "set-cell", "fid": fid, "field": field, "value": value, "was": was}


def state(revision: Revision) -> Any:
    """All that a revision holds, as plain data."""
    data = data_of(Revision.objects.select_related("dataset").get(pk=revision.pk))
    return (
        data.fids.tolist(),
        data.columns.to_pylist(),
        [] if data.shapes is None else shapely.to_wkt(data.shapes).tolist(),
    )
