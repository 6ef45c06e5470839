"""Long work, as people see it: what it is, how far, how it ended; and the parts in which workers do it."""

import uuid

from django.conf import settings
from django.db import models


class Job(models.Model):
    """A piece of long work. All that is needed to do it is kept here, not in the queue, so that it outlives every worker and
    every message: a message only wakes a worker."""

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
    arguments = models.JSONField(default=dict)
    needed = models.BigIntegerField(default=0, help_text="bytes of disk, as estimated when it was begun")
    state = models.CharField(max_length=10, choices=State, default=State.WAITING)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    message = models.CharField(max_length=1000, blank=True)
    stop_asked = models.BooleanField(default=False)
    result = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-created",)
        indexes = (models.Index(fields=("owner", "state")),)


class Part(models.Model):
    """What one worker does at a time. The parts of a stage may be done side by side; the next stage begins when all are."""

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"

    job = models.ForeignKey(Job, models.CASCADE, related_name="parts")
    stage = models.CharField(max_length=20)
    number = models.PositiveIntegerField()
    state = models.CharField(max_length=10, choices=State, default=State.WAITING)
    tries = models.PositiveSmallIntegerField(default=0)
    # Whoever claimed the part last; an earlier worker that was given up for dead changes nothing any more.
    claim = models.UUIDField(null=True)
    sent = models.DateTimeField(null=True, help_text="when a worker was last called")
    heard = models.DateTimeField(null=True, help_text="when its worker was last heard of")
    kept = models.CharField(
        max_length=200,
        blank=True,
        default="",
        help_text="where in the storage what it made lies until all parts are done",
    )

    class Meta:
        constraints = (models.UniqueConstraint(fields=("job", "stage", "number"), name="one_part_a_number"),)
        indexes = (models.Index(fields=("state", "heard")),)
