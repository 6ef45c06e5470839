"""Load the demo: an account, the Vaskerry Isles as datasets, a finished sheet and a half-done one."""

import json
from pathlib import Path

import rasterio
from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.auth.models import User
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction
from django.utils import timezone
from greylatch.formats.about import About
from greylatch.formats.cells import BARE_TABLE
from greylatch.formats.files import read_file
from greylatch.reading.attached import ready_picture, rows_called
from jobs.models import Job
from library.attached import keep_picture
from library.derived import data_of
from library.joining import JoinIn, keep_join
from library.models import Dataset
from library.store import forget, keep_raster, keep_vector
from services.filling import fill
from services.models import TaggedFeature
from sheets.keeping import create
from vaskerry.bothies import CREDIT
from vaskerry.register import FEATURES, tagged_features
from vaskerry.sheets import finished_sheet, half_done_sheet, plants_sheet, slips_sheet
from vaskerry.write import write_demo

from people.models import Member, Role, Share, Team
from people.sharing import carry

NAME, PASSWORD = "isla", "peat-and-heather"
COLLEAGUES = {"brann": Role.MAKER, "runa": Role.READER}
TOGETHER = ("Carbon", "Money")
"""How the titles of sheets begin that the team sees, the first only to look at."""
SOURCE = "Vaskerry Peatland Survey (invented), May 2026"
SAID = About(source=SOURCE, credit="Vaskerry Peatland Survey", licence="free, with credit", dated="May 2026")
TABLES = {
    "dip_wells.csv": "Dip wells", "slips.csv": "Slips and fires", "isles.csv": "Names of the isles", "ditches.geojson": "Ditches", "gazetteer.csv": "Gazetteer",
    "addresses.csv": "Addresses", "catchments.zip": "Catchments", "bothies.csv": "Bothies",
}  # fmt: skip
LOADED = "demo"
BARE = {"smallholdings.csv": "Smallholdings", "returns.csv": "Returns per catchment", "huts.csv": "Field huts"}
RASTERS = {"relief.tif": "Relief", "peat_depth.tif": "Depth of peat", "picture.tif": "Picture from above"}


class Command(BaseCommand):
    """Does nothing where the demo was loaded whole before, whatever became of it since; one that was cut off is begun anew."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "--migrate", action="store_true", help="bring the database up to date first, in the same process"
        )
        parser.add_argument("--register", type=int, default=FEATURES, help="features of the tagged store")

    def handle(self, *args: object, **options: object) -> None:
        if options["migrate"]:
            call_command("migrate", interactive=False, verbosity=0)
        with transaction.atomic():  # an account without its password would be of no use to the next start
            owner, created = get_user_model().objects.get_or_create(username=NAME)
            if created:
                owner.set_password(PASSWORD)
                owner.save()
        demo = Path(settings.RUN) / "demo"
        if not TaggedFeature.objects.exists():
            write_demo(demo)
            with rasterio.open(demo / "relief.tif") as relief:
                fill(tagged_features(relief.read(1), int(str(options["register"]))))
        if Job.objects.filter(owner=owner, kind=LOADED, state=Job.State.DONE).exists():
            return
        if owner.sheets.exists():  # loaded before loading was written down
            loaded(owner)
            return
        self.stdout.write("· Making the Vaskerry Isles")
        with_a_team(owner, load(owner, demo))


def load(owner: User, folder: Path) -> dict[str, Dataset]:
    """The demo's datasets and sheets for `owner`; returns the datasets by file name."""
    write_demo(folder)
    for left in Dataset.objects.filter(owner=owner, source=SOURCE):
        forget(left)
    kept: dict[str, Dataset] = {}
    for name, title in RASTERS.items():
        kept[name] = keep_raster(owner, title, folder / name, name, SAID)
    for name, title in (*BARE.items(), *TABLES.items()):
        crs = "EPSG:32626" if name == "slips.csv" else None
        kept[name] = keep_vector(
            owner,
            title,
            read_file(folder / name, crs=crs, cells=BARE_TABLE if name in BARE else None),
            name,
            SAID,
        )
    kept["joined"] = keep_join(owner, kept["catchments.zip"], kept["returns.csv"], settled_join(folder, kept))
    attach_pictures(kept["bothies.csv"], folder / "bothies")
    names = ("joined", "relief.tif", "dip_wells.csv", "isles.csv")
    with transaction.atomic():
        create(owner, slips_sheet(*(str(kept[name].pk) for name in ("slips.csv", "joined"))))
        create(
            owner,
            plants_sheet(
                *(str(kept[name].pk) for name in ("dip_wells.csv", "relief.tif", "ditches.geojson", "bothies.csv"))
            ),
        )
        create(owner, half_done_sheet(str(kept["joined"].pk), str(kept["peat_depth.tif"].pk)))
        create(owner, finished_sheet(*(str(kept[name].pk) for name in names)))
        loaded(owner)
    return kept


def attach_pictures(dataset: Dataset, folder: Path) -> None:
    """To each bothy the picture that is called as it is."""
    data = data_of(dataset.newest)
    for file in sorted(folder.iterdir()):
        ready = ready_picture(file.read_bytes(), file.name)
        for fid in rows_called(data, "bothy", file.name):
            keep_picture(dataset, fid, ready, CREDIT, dataset.owner)


def with_a_team(owner: User, kept: dict[str, Dataset]) -> None:
    """Two colleagues of the same password, and what they see: one sheet to work on together, one to look at."""
    team = Team.objects.create(name="Peatland survey")
    Member.objects.create(team=team, person=owner, role=Role.KEEPER)
    for name, role in COLLEAGUES.items():
        colleague, created = User.objects.get_or_create(username=name)
        if created:
            colleague.set_password(PASSWORD)
            colleague.save()
        Member.objects.create(team=team, person=colleague, role=role, answered_for=created)
    for sheet in owner.sheets.all():
        if sheet.title.startswith(TOGETHER):
            Share.objects.create(thing=sheet.pk, team=team, may_change=not sheet.title.startswith(TOGETHER[0]))
            carry(sheet, owner)
    joined = kept["joined"]
    Share.objects.create(thing=joined.pk, team=team)
    joined.vetted, joined.vetted_by = timezone.now(), owner
    joined.save(update_fields=["vetted", "vetted_by"])


def loaded(owner: User) -> None:
    """Write down that the demo is there."""
    Job.objects.create(
        owner=owner, kind=LOADED, title="The demo", state=Job.State.DONE, message="The demo is in the library."
    )


def settled_join(folder: Path, kept: dict[str, Dataset]) -> JoinIn:
    """The join of the returns with every doubt settled: spellings by the cross-reference, the twin by its later return."""
    same = json.loads((folder / "cross_reference.json").read_text("utf-8"))
    returns = read_file(folder / "returns.csv", cells=BARE_TABLE).dataset.columns["catchment"].to_pylist()
    twin = returns[-1]
    return JoinIn(more_keys=[], nearest_km=None, summarise={}, 
        areas=kept["catchments.zip"].pk, table=kept["returns.csv"].pk, area_key="name", table_key="catchment", same=same,
        chosen={same.get(twin, twin): len(returns) - 1}, fields=["peat_ha", "carbon_t", "drained_percent", "restoration_money"],
        title="Catchments with returns",
    )  # fmt: skip
