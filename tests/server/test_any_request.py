"""Any request that our OpenAPI document allows, and many that it does not, is answered and never fails: `schemathesis` (PyPI)
makes them, as the signed-in owner of the demo and as a visitor."""

import json
import os
from typing import Any
from urllib.parse import quote, urlencode

import pytest
import schemathesis
from config.api import api
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.test import Client
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from jobs.models import Job
from library.models import Dataset
from schemathesis import GenerationMode
from sheets.models import Sheet

EXAMPLES = int(os.environ.get("GREYLATCH_API_EXAMPLES", "12"))
SCHEMA = schemathesis.openapi.from_dict(json.loads(json.dumps(api.get_openapi_schema())))
OPERATIONS = {one.ok().label: one.ok() for one in SCHEMA.get_all_operations()}


@pytest.fixture
def known(isla: User, named: dict[str, Dataset], sheet: Sheet) -> dict[str, list[str]]:
    """Things that are there, by the name of the parameter that asks for them: a made-up id only ever finds nothing."""
    job = Job.objects.create(owner=isla, kind="import", title="t")
    return {
        "dataset_id": [str(named[title].pk) for title in ("Catchments with returns", "Dip wells", "Relief", "Field huts")],
        "revision_id": [str(named["Catchments"].current_id)], "sheet_id": [str(sheet.pk)], "job_id": [str(job.pk)],
        "number": ["1"], "z": ["8", "0"], "x": ["108", "0"], "y": ["84", "0"], "symbology": ['{"kind": "hillshade"}'],
        "sort": ["name", "carbon_t"], "field": ["carbon_t", "name"], "dataset": [str(named["Catchments with returns"].pk)],
    }  # fmt: skip


@pytest.mark.parametrize("label", sorted(OPERATIONS))
def test_no_request_fails(label: str, isla: User, known: dict[str, list[str]], sheet: Sheet) -> None:
    document = sheet.revisions.first().document
    client = Client(raise_request_exception=False)

    @settings(
        max_examples=EXAMPLES,
        derandomize=True,
        deadline=None,
        database=None,
        phases=(Phase.generate,),
        suppress_health_check=list(HealthCheck),
    )
    @given(data=st.data())
    def ask(data: st.DataObject) -> None:
        mode = data.draw(st.sampled_from([GenerationMode.POSITIVE, GenerationMode.POSITIVE, GenerationMode.NEGATIVE]))
        case = data.draw(OPERATIONS[label].as_strategy(generation_mode=mode))
        path = {**(case.path_parameters or {})}
        query = dict(case.query or {})
        for given_in in (path, query):
            for name in given_in:
                if name in known and data.draw(st.booleans()):
                    given_in[name] = data.draw(st.sampled_from(known[name]))
        body = placed(case.body, known, document, data)
        for who in ("isla", "a visitor"):
            # Nothing of one request is there for the next.
            with transaction.atomic():
                if who == "isla":
                    client.force_login(isla)
                else:
                    client.logout()
                status, told = send(client, case.method, case.path, path, query, body)
                transaction.set_rollback(True)
            assert status < 500, (who, case.method, case.path, path, query, str(body)[:600], told[:400])

    ask()


def placed(body: Any, known: dict[str, list[str]], document: Any, data: st.DataObject) -> Any:
    """The body, sometimes with things that are there in the place of made-up ones, so that it gets further."""
    if not isinstance(body, dict):
        return body
    out = {}
    for name, value in body.items():
        if name in ("dataset", "areas", "table") and data.draw(st.booleans()):
            value = data.draw(st.sampled_from(known["dataset_id"]))
        elif name in ("field", "area_key", "table_key") and data.draw(st.booleans()):
            value = data.draw(st.sampled_from(known["field"]))
        elif name == "document" and data.draw(st.booleans()):
            value = document
        elif name == "layers" and data.draw(st.booleans()):
            value = document["layers"]
        elif isinstance(value, dict):
            value = placed(value, known, document, data)
        out[name] = value
    return out


def send(
    client: Client, method: str, path: str, places: dict[str, Any], query: dict[str, Any], body: Any
) -> tuple[int, bytes]:
    for name, value in places.items():
        path = path.replace("{" + name + "}", quote(str(value).encode("utf-8", "surrogatepass"), safe="") or "-")
    address = path + ("?" + urlencode(query, doseq=True, errors="surrogatepass") if query else "")
    if path == "/api/uploads" and method == "POST":
        content = body.get("file", b"") if isinstance(body, dict) else b""
        content = content if isinstance(content, bytes) else str(content).encode("utf-8", "surrogatepass")
        answer = client.post(address, {"file": SimpleUploadedFile("a.csv", content)})
    else:
        text = b"" if type(body).__name__ == "NotSet" else json.dumps(body, default=str).encode()
        answer = client.generic(method, address, text, content_type="application/json")
    return answer.status_code, b"" if answer.streaming else answer.content
