#!/usr/bin/env python3
"""Django's command line for Fair Witness."""

import os
import sys

from django.core.management import execute_from_command_line

from fairwitness.server.keeping.folder import prepare

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fairwitness.server.settings")
    from django.conf import settings

    prepare(settings.DATA)
    execute_from_command_line(sys.argv)
