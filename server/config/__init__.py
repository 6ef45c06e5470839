"""The Django project. Celery's application is imported here so that tasks find it."""

from config.celery import app as celery_app

__all__ = ["celery_app"]
