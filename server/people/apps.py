"""Accounts, teams and sharing, as an app of Django's."""

from django.apps import AppConfig
from django.db.models.signals import post_delete


class People(AppConfig):
    """Hears when a thing is deleted that may have been shared."""

    name = "people"

    def ready(self) -> None:
        """Connect the signal once all models are known."""
        from people.sharing import forget_shares

        post_delete.connect(forget_shares, dispatch_uid="forget-shares")
