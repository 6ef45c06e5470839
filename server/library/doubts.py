"""What is doubtful about a dataset, found once for each of its states."""

from collections import OrderedDict
from uuid import UUID

from greylatch.doubts.doubt import Doubt
from greylatch.doubts.finding import doubts_about

from library.derived import data_of
from library.models import Revision

KEPT = 32
_known: OrderedDict[UUID, list[Doubt]] = OrderedDict()


def doubts_of(revision: Revision) -> list[Doubt]:
    """Of a state of a table or of shapes."""
    if revision.pk not in _known:
        _known[revision.pk] = doubts_about(data_of(revision))
        while len(_known) > KEPT:
            _known.popitem(last=False)
    return _known[revision.pk]
