"""Who may see what: an owner sees their own; to anybody else a thing is not there."""

from typing import Any, TypeVar

from django.contrib.auth.models import User
from django.core.exceptions import ObjectDoesNotExist, ValidationError
from django.db.models import Model, QuerySet
from django.http import Http404, HttpRequest

M = TypeVar("M", bound=Model)


def own(things: type[M] | QuerySet[M], user: User, **which: Any) -> M:
    """The one thing of `user` that fits; Http404 where there is none, or where it belongs to somebody else."""
    query = things if isinstance(things, QuerySet) else things._default_manager.all()
    try:
        return query.get(owner=user, **which)
    except (ObjectDoesNotExist, ValidationError) as error:
        raise Http404 from error


def person(request: HttpRequest) -> User:
    """The signed-in person; the API's guard has made sure that there is one."""
    user = request.user
    assert user.is_authenticated
    return user
