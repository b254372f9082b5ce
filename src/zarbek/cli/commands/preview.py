"""``zarbek preview``"""

from __future__ import annotations

import argparse
import os
import signal
import subprocess
import sys
from importlib.util import find_spec
from pathlib import Path
from typing import TextIO

from zarbek.cli.exits import Exit
from zarbek.core.errors import SourceNotFound, ZarbekError
from zarbek.core.material.processes import die_with_parent

EXAMPLE = "zarbek preview ."


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("path", type=Path, nargs="?", default=Path("."), help="the working tree; here if left out")
    parser.add_argument("--port", type=int, default=0, help="of 127.0.0.1; any that is free if left out")


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Show a working tree as the portal would, at an address of this machine, until interrupted."""
    if find_spec("django") is None:
        raise ZarbekError("A preview needs the portal's own packages: pip install 'zarbek[service]'")
    if not options.path.is_dir():
        raise SourceNotFound(str(options.path))
    command = [sys.executable, "-m", "zarbek.service.preview", str(options.path), "--port", str(options.port)]
    child = subprocess.Popen(command, env=dict(os.environ), preexec_fn=lambda: die_with_parent(signal.SIGTERM))
    try:
        return Exit.FINE if child.wait() == 0 else Exit.COULD_NOT
    except KeyboardInterrupt:
        child.wait()
        return Exit.FINE
