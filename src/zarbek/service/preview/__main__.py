"""Show a working tree at an address of this machine.

usage: python -m zarbek.service.preview PATH --port PORT
"""

from __future__ import annotations

import argparse
import os
import socket
import sys
import tempfile
from pathlib import Path

import django


def main(arguments: list[str]) -> None:
    """Serve until told to stop; what was made goes then."""
    parser = argparse.ArgumentParser(prog="zarbek preview")
    parser.add_argument("path", type=Path)
    parser.add_argument("--port", type=int, default=0)
    options = parser.parse_args(arguments)
    with tempfile.TemporaryDirectory(prefix="zarbek-preview-", ignore_cleanup_errors=True) as home:
        os.environ |= {"ZARBEK_HOME": home, "DJANGO_SETTINGS_MODULE": "zarbek.service.settings.preview"}
        _serve(options.path.resolve(), _listen(options.port))


def _listen(port: int) -> socket.socket:
    listening = socket.socket()
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listening.bind(("127.0.0.1", port))
    except OSError as error:
        raise SystemExit(f"Port {port} cannot be taken: {error.strerror}. Give another one with --port.") from error
    listening.listen(128)
    return listening


def _serve(path: Path, listening: socket.socket) -> None:
    # What follows reads the settings, which must be known by then.
    django.setup()
    from zarbek.service.preview.serving import serve

    serve(path, listening)


if __name__ == "__main__":
    main(sys.argv[1:])
