"""``manage.py backup FOLDER``: a copy of all that matters, made while Calado goes on."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from calado.errors import CaladoError
from server.jobs.keeping import back_up


class Command(BaseCommand):
    """Copy the data."""

    help = "Copies projects, shots and exports into a new folder, also while Calado runs."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the folder."""
        parser.add_argument("folder", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Copy, and say how much it was."""
        try:
            size = back_up(options["folder"].resolve())
        except CaladoError as error:
            raise CommandError(str(error)) from error
        self.stdout.write(f"Copied {size / 2**20:.1f} MB to {options['folder']}.")
