"""A dataset as somebody may see or change it: asked for in one way by every address."""

from uuid import UUID

from django.contrib.auth.models import User
from django.http import HttpRequest
from people.access import Verb, allowed_one, person

from library.models import Dataset


def current_dataset(request: HttpRequest, pk: UUID, verb: Verb = "see") -> Dataset:
    """A dataset of which the one who asks may do `verb`, with its current revision; Http404 or HttpError 403 otherwise."""
    return dataset_for(person(request), pk, verb)


def dataset_for(who: User, pk: UUID, verb: Verb = "see") -> Dataset:
    """As `current_dataset`, for somebody who is known. One whose making has not ended is not there yet."""
    whole = Dataset.objects.select_related("current", "owner", "vetted_by").filter(current__isnull=False)
    return allowed_one(who, verb, whole, pk=pk)
