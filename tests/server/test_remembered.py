"""What a process remembers of datasets: one copy for all that ask, on which others hang what they have worked out."""

import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from django.test import Client
from greylatch.paint.sources import VectorSource
from library.derived import KEPT, Remembered, data_of, forget_remembered, source_of
from library.models import Dataset, Revision

from tests.server.tables import cell, change


def revision(dataset: uuid.UUID | None = None) -> Revision:
    return Revision(pk=uuid.uuid4(), dataset_id=dataset or uuid.uuid4())


def test_who_comes_second_gets_what_the_first_one_made() -> None:
    remembered: Remembered[dict[str, Any]] = Remembered()
    one = revision()
    first = remembered.keep(one, {"made": 1})
    assert remembered.keep(one, {"made": 2}) is first and remembered.of(one) is first
    assert remembered.keep(one, {"made": 3}, "another frame") == {"made": 3}


def test_of_a_dataset_the_two_newest_are_remembered_and_of_all_only_so_many() -> None:
    remembered: Remembered[int] = Remembered()
    dataset = uuid.uuid4()
    revisions = [revision(dataset) for _ in range(4)]
    for number, each in enumerate(revisions):
        remembered.keep(each, number)
    assert [remembered.of(each) for each in revisions] == [None, None, 2, 3]
    assert remembered.of_earlier(list(reversed(revisions))) == (revisions[3], 3)
    assert remembered.of_earlier(revisions[:2]) is None
    for _ in range(KEPT):
        remembered.keep(revision(), 0)
    assert len(remembered) == KEPT and remembered.of(revisions[3]) is None
    last = revision()
    remembered.keep(last, 1)
    remembered.forget(last.dataset_id)
    assert remembered.of(last) is None


@pytest.mark.django_db
def test_threads_that_ask_at_once_get_one_source(named: dict[str, Dataset]) -> None:
    """Several tiles of a layer are asked for together: each had a source of its own, and its trees were made again and again."""
    current = named["Catchments"].newest
    data = data_of(current)  # connections of other threads don't see what a test has written
    forget_remembered()
    with ThreadPoolExecutor(4) as pool:
        waiting = [pool.submit(lambda: VectorSource(data)) for _ in range(4)]
        made = [each.result() for each in waiting]
    assert len({id(each) for each in made}) == 4
    first = source_of(current)
    assert all(source_of(current) is first for _ in range(3))


@pytest.mark.django_db
def test_a_changed_attribute_makes_one_new_source_with_the_same_shapes(
    owner: Client, named: dict[str, Dataset]
) -> None:
    dataset = named["Catchments with returns"]
    before = source_of(dataset.newest)
    assert isinstance(before, VectorSource)
    _ = before.shapes
    was = data_of(dataset.newest).record(0)["carbon_t"]
    change(owner, dataset, cell(0, "carbon_t", 777, was))
    newest = Dataset.objects.get(pk=dataset.pk).newest
    after = source_of(newest)
    assert isinstance(after, VectorSource)
    assert after is not before and after.shapes is before.shapes
    assert after.dataset.record(0)["carbon_t"] == 777
    assert source_of(newest) is after, "and not another one for every tile"
