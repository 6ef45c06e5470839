"""What was delivered before is put on record, each row under its position as fid. The files are swept away later."""

from dataclasses import asdict

import shapely
from django.db import migrations
from greylatch.formats.geoparquet import read_geoparquet
from greylatch.tables.fieldtypes import plain
from greylatch.tables.record import kept_fields, recordable
from library.files import local_path

LOT = 10_000


def put_on_record(apps, schema_editor):
    """Every revision has been a whole delivery so far, and every dataset has one."""
    Revision, Attributes, Shape = (apps.get_model("library", name) for name in ("Revision", "Attributes", "Shape"))
    for revision in Revision.objects.filter(raster__isnull=True).exclude(folder="").select_related("dataset"):
        dataset = revision.dataset
        held = {"dataset_id": dataset.pk, "since": revision.number}
        rows = read_geoparquet(local_path(f"{revision.folder}/data.parquet"))
        columns = recordable(rows.columns)
        for start in range(0, len(rows), LOT):
            part = columns.slice(start, LOT).to_pylist()
            Attributes.objects.bulk_create(
                Attributes(fid=fid, values={key: plain(value) for key, value in row.items()}, **held)
                for fid, row in enumerate(part, start)
            )
            if rows.shapes is not None:
                Shape.objects.bulk_create(
                    Shape(fid=fid, wkb=wkb, **held)
                    for fid, wkb in enumerate(shapely.to_wkb(rows.shapes[start : start + LOT]), start)
                )
        revision.fields = [asdict(field) for field in kept_fields(columns)]
        revision.projjson = rows.crs.to_json_dict() if rows.crs else None
        revision.author_id = dataset.owner_id
        revision.change = f"Delivered as {revision.file_name}."[:500]
        revision.folder = ""
        revision.save()
        dataset.next_fid = len(rows)
        dataset.save(update_fields=["next_fid"])


class Migration(migrations.Migration):
    dependencies = [("library", "0004_rows_on_record")]
    operations = [migrations.RunPython(put_on_record, migrations.RunPython.noop)]
