"""Fetching in the background: first into an upload that is looked at like a file, later again into the dataset that it became."""

from datetime import timedelta
from pathlib import Path
from typing import Any

from celery import shared_task
from django.contrib.auth.models import User
from django.core.files import File
from django.db import transaction
from django.utils import timezone
from greylatch.errors import BadInput, Stopped
from greylatch.places.delivery import telling_key
from greylatch.progress import Progress
from jobs.models import Job
from jobs.tidying import scratch
from jobs.work import LIVE, Kind, begin, finish
from library.derived import data_of
from library.models import Dataset, Upload
from library.origin import Origin
from library.quota import check_room
from library.redelivery import RedeliveryIn, deliver
from pydantic import TypeAdapter

from services.kinds import KINDS, AnyAsked, fetched

ASKED: TypeAdapter[Any] = TypeAdapter(AnyAsked)
EVERY = {"hour": timedelta(hours=1), "day": timedelta(days=1), "week": timedelta(weeks=1)}
"""How often a dataset may ask its service again by itself."""


def fetch_first(job: Job, number: int, report: Progress) -> None:
    """Fetch what was asked into an upload, which the job's result names."""
    clean(job)  # of an earlier try that was cut off
    upload = _sent(job, job.owner, ASKED.validate_python(job.arguments["asked"]), report)
    with transaction.atomic():  # an upload that is no job's has a job that names it
        done = finish(job, Job.State.DONE, f"'{upload.name}' is here.", {"upload": str(upload.pk)})
        if done:
            Upload.objects.filter(pk=upload.pk).update(job=None)
    if not done:
        upload.forget()
        raise Stopped


def fetch_again(job: Job, number: int, report: Progress) -> None:
    """Ask a dataset's service again, and deliver what it sends in place of the rows; where nothing is different, nothing is changed."""
    clean(job)
    dataset = Dataset.objects.select_related("current", "owner").get(pk=job.arguments["dataset"])
    origin = Origin.of(dataset)
    assert origin is not None
    upload = _sent(job, dataset.owner, ASKED.validate_python(origin.asked), report)
    key = telling_key(data_of(dataset.newest))
    asked = RedeliveryIn(**origin.corrections.model_dump(), upload=upload.pk, key=key)

    def last(changed: Dataset) -> None:
        words = f"'{changed.title}' is as its service has it now."
        # Written in the same transaction as the rows; the dataset at hand may be older than what others said of it.
        now = Dataset.objects.select_for_update().get(pk=changed.pk)
        _write(now, fetched=timezone.now(), trouble="")
        if not finish(job, Job.State.DONE, words, {"dataset": str(changed.pk)}):
            raise Stopped
        upload.forget()

    with scratch() as folder:
        deliver(dataset, job.owner, upload, asked, folder, last, unless_same=True)


def clean(job: Job) -> None:
    """Remove what a fetch that did not end well left behind, and write down why it did not."""
    for upload in Upload.objects.filter(job=job):
        upload.forget()
    if job.kind == "refresh":
        now = Job.objects.filter(pk=job.pk).values_list("state", "message").first()
        dataset = Dataset.objects.filter(pk=job.arguments["dataset"]).first()
        if dataset is not None and now is not None and now[0] == Job.State.FAILED:
            _write(dataset, trouble=now[1])


def refresh(who: User, dataset: Dataset) -> Job:
    """Begin to ask a dataset's service again. Raises BadInput for one that came from none, or whose kind can't be asked again."""
    origin = Origin.of(dataset)
    kind = KINDS.get(origin.kind) if origin else None
    if kind is None or not kind.again:
        raise BadInput(f"'{dataset.title}' can't be fetched again.", "Bring it in anew.")
    if Job.objects.filter(kind="refresh", state__in=LIVE, arguments__dataset=str(dataset.pk)).exists():
        raise BadInput(f"'{dataset.title}' is being fetched already.", "Wait for that, or stop it.")
    return begin(who, "refresh", f"Fetch {dataset.title} again", {"dataset": str(dataset.pk)})


@shared_task
def refresh_due() -> int:
    """Every so often: datasets whose timetable says that it is time. Returns how many were begun."""
    begun = 0
    now = timezone.now()
    due = Dataset.objects.filter(origin__every__in=list(EVERY), current__isnull=False).select_related("owner")
    for dataset in due:
        origin = Origin.of(dataset)
        if origin is None or now < (origin.next or now):
            continue
        # Of two clocks that come at once, one takes it.
        later = origin.model_copy(update={"next": now + EVERY[origin.every]})
        if Dataset.objects.filter(pk=dataset.pk, origin=dataset.origin).update(origin=later.kept()):
            try:
                refresh(dataset.owner, dataset)
                begun += 1
            except BadInput as error:
                dataset.origin = later.kept()
                _write(dataset, trouble=str(error))
    return begun


def _write(dataset: Dataset, **changed: Any) -> None:
    """Change what is known of where a dataset comes from."""
    origin = Origin.of(dataset)
    if origin is not None:
        dataset.origin = origin.model_copy(update=changed).kept()
        dataset.save(update_fields=["origin"])


def _sent(job: Job, owner: User, asked: Any, report: Progress) -> Upload:
    """What a service sends, as an upload of `owner`'s that belongs to the job while it runs."""
    with scratch() as folder:
        arrived = fetched(owner, asked, Path(folder), report)
        size = arrived.path.stat().st_size
        check_room(owner, size)
        about = {name: words for name, words in vars(arrived.about).items() if words}
        origin = Origin(asked=asked.model_dump(mode="json"), fetched=timezone.now(), said=about)
        upload = Upload.objects.create(owner=owner, name=arrived.name[-200:], size=size, origin=origin.kept(), job=job)
        with arrived.path.open("rb") as file:
            upload.file.save(f"{upload.pk}{arrived.path.suffix}", File(file), save=True)
    return upload


FETCH = Kind({"fetch": fetch_first}, clean)
REFRESH = Kind({"fetch": fetch_again}, clean)
