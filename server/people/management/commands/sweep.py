"""Set right what was lost and take away what was left behind; what the worker does by itself every little while."""

from django.core.management.base import BaseCommand, CommandParser
from jobs.tidying import tidy
from jobs.work import sweep


class Command(BaseCommand):
    """Prints what was found."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "--older-than", type=float, default=3600.0, metavar="SECONDS", help="leave alone what is newer"
        )

    def handle(self, *args: object, older_than: float, **options: object) -> None:
        self.stdout.write(f"parts called again: {sweep()}")
        for what, n in tidy(older_than).items():
            self.stdout.write(f"{what} removed: {n}")
