"""Teams, who is in them, and what is shared with whom."""

import hashlib
import secrets
import uuid
from collections.abc import Iterable
from datetime import datetime, timedelta

from django.conf import settings
from django.contrib.auth.models import User
from django.db import models
from django.db.models import Q
from django.utils import timezone

LASTS = timedelta(days=14)
"""For how long an invitation can be taken."""


class Role(models.TextChoices):
    """What somebody does in a team: readers look, makers make, keepers vet and invite."""

    READER = "reader"
    MAKER = "maker"
    KEEPER = "keeper"


class Owned(models.Model):
    """What has an owner, may be shared with people and teams, and may be vetted by a team's keeper."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="%(class)ss")
    vetted = models.DateTimeField(null=True)
    vetted_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")

    def seen_with(self, by: User) -> Iterable[tuple[uuid.UUID, int]]:
        """What has to be seen by all who see this, and whose it is, as far as its owner or `by`, who changed it, may show it:
        nothing."""
        return ()

    class Meta:
        abstract = True


class Team(models.Model):
    """People who work on the same things."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=80)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("name",)


class Member(models.Model):
    """Somebody in a team."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    team = models.ForeignKey(Team, models.CASCADE, related_name="members")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=6, choices=Role)
    # Who invites a stranger answers for the account that is made; who invites somebody with an account must not get hold of it.
    answered_for = models.BooleanField(
        default=False,
        help_text="the account was made by an invitation of this team, whose keepers may reset its password",
    )
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("created",)
        constraints = (models.UniqueConstraint(fields=("team", "person"), name="once_in_a_team"),)


class Invitation(models.Model):
    """A link by which one person comes into a team. Only its digest is kept: who reads the database can't take it."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    team = models.ForeignKey(Team, models.CASCADE, related_name="invitations")
    role = models.CharField(max_length=6, choices=Role)
    digest = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    created = models.DateTimeField(auto_now_add=True)
    ends = models.DateTimeField()

    class Meta:
        ordering = ("-created",)

    @classmethod
    def write(cls, team: Team, role: str, made_by: models.Model) -> tuple["Invitation", str]:
        """A new invitation with its token, which is told this once."""
        token = secrets.token_urlsafe(24)
        ends = timezone.now() + LASTS
        return cls.objects.create(team=team, role=role, made_by=made_by, digest=digest_of(token), ends=ends), token

    @classmethod
    def of(cls, token: str, now: datetime | None = None) -> "Invitation | None":
        """The invitation of a token, where it can still be taken."""
        good = cls.objects.filter(digest=digest_of(token), ends__gt=now or timezone.now())
        return good.select_related("team", "made_by").first()


class Share(models.Model):
    """That a person or a team may see a thing, and perhaps change it. `through` names the sheet by which a dataset is seen."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    thing = models.UUIDField(db_index=True, help_text="id of what is shared: of any model that is `Owned`")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, null=True, related_name="shares")
    team = models.ForeignKey(Team, models.CASCADE, null=True, related_name="shares")
    may_change = models.BooleanField(default=False)
    through = models.UUIDField(null=True, db_index=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("created",)
        constraints = (
            models.CheckConstraint(condition=Q(person__isnull=True) ^ Q(team__isnull=True), name="with_one"),
            models.UniqueConstraint(
                fields=("thing", "person", "team", "through"), name="shared_once", nulls_distinct=False
            ),
        )


def digest_of(token: str) -> str:
    """Under which a token is kept."""
    return hashlib.sha256(token.encode()).hexdigest()
