"""Commands for whoever runs the portal: ``zarbek-manage COMMAND``."""

from __future__ import annotations

import os
import sys

from django.core.management import execute_from_command_line


def main() -> None:
    """Run the command that the command line names."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zarbek.service.settings")
    execute_from_command_line(sys.argv)


if __name__ == "__main__":
    main()
