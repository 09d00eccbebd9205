"""``manage.py restore FOLDER``: a backup in place of the data, while Calado stands still."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from calado.errors import CaladoError
from server.jobs.keeping import restore
from server.jobs.management.commands.serve import hold_data


class Command(BaseCommand):
    """Bring a backup back."""

    help = "Puts a backup in place of the data; what stood there is kept beside it. Stop Calado first."
    # the database it finds may be damaged
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the folder."""
        parser.add_argument("folder", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Bring it back, and say where the other data went."""
        with hold_data():
            try:
                aside = restore(options["folder"].resolve())
            except CaladoError as error:
                raise CommandError(str(error)) from error
        kept = f" What stood there is in {aside}." if aside else ""
        self.stdout.write(f"The data is as it was in {options['folder']}.{kept}")
