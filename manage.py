#!/usr/bin/env python
"""Django's command line for Calado."""

import os
import sys

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
    # the browser's driver for the tests of the whole runs a loop of its own in the thread that drives it
    if "test" in sys.argv[1:2]:
        os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)
