"""Long work, as people see it: what it is, how far, how it ended."""

import uuid

from django.conf import settings
from django.db import models


class Job(models.Model):
    """A piece of long work. Its state is kept here, not in the queue, so that it outlives every worker."""

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        FAILED = "failed"
        STOPPED = "stopped"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="jobs")
    kind = models.CharField(max_length=20)
    title = models.CharField(max_length=300)
    state = models.CharField(max_length=10, choices=State, default=State.WAITING)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    message = models.CharField(max_length=1000, blank=True)
    # By how many processes it is worked on just now. A job that waits in the queue between its parts is not lost.
    at_work = models.PositiveSmallIntegerField(default=0)
    stop_asked = models.BooleanField(default=False)
    result = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)
    heard = models.DateTimeField(auto_now=True)
    ended = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-created",)
        indexes = (models.Index(fields=("owner", "state")),)
