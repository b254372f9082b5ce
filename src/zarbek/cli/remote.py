"""The portal that a command talks to, and names of releases on the command line."""

from __future__ import annotations

import argparse
import os

from zarbek.client import Portal

DEFAULT_URL = "http://127.0.0.1:8080"


def add_portal_arguments(parser: argparse.ArgumentParser) -> None:
    """Add which portal is meant, and whether the answer is printed as JSON."""
    parser.add_argument(
        "--url", default=os.environ.get("ZARBEK_URL", DEFAULT_URL), help="the portal; ZARBEK_URL if left out"
    )


def open_portal(options: argparse.Namespace) -> Portal:
    """The portal that is meant, with the token of ZARBEK_TOKEN. Raises TokenUnreadable."""
    return Portal(options.url, os.environ.get("ZARBEK_TOKEN", ""))


def split_release(text: str) -> tuple[str, str]:
    """``slug@version`` to its parts; no version means latest."""
    slug, _, version = text.partition("@")
    return slug, version
