"""The queue of long work."""

import multiprocessing.process as processes
import os
from typing import Any

from celery import Celery
from celery.signals import worker_process_init

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")

app = Celery("greylatch")
app.config_from_object("django.conf:settings", namespace="CELERY")
app.autodiscover_tasks()


STANDARD = processes.current_process()


@worker_process_init.connect
def may_have_readers(**_: Any) -> None:
    """Let a worker's process have others read strangers' files for it. Celery's own library for processes puts itself in the
    place of the standard one, as a daemon, which may have none; here the standard one comes back."""
    processes._current_process = STANDARD


@worker_process_init.connect
def collects_seldom(**_: Any) -> None:
    """Before the first task, and with what the queue's process has loaded."""
    from config.warm import collect_seldom  # only now, when Django is ready

    collect_seldom()
