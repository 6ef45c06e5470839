"""The queue of long work."""

import multiprocessing
import os
from typing import Any

from celery import Celery
from celery.signals import worker_process_init

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")

app = Celery("greylatch")
app.config_from_object("django.conf:settings", namespace="CELERY")
app.autodiscover_tasks()


@worker_process_init.connect
def may_have_readers(**_: Any) -> None:
    """Let a worker's process have others read strangers' files for it: Celery marks its own as daemons, which may have none."""
    multiprocessing.current_process()._config["daemon"] = False  # type: ignore[attr-defined]
