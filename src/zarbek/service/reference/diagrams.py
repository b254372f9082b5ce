"""Diagrams of texts, drawn by Graphviz in a process that can do nothing else."""

from __future__ import annotations

import re
import shutil
import subprocess
from functools import cache

from zarbek.core.writing.diagram import Drawn
from zarbek.service.common.packing import digest_of
from zarbek.service.reference.rendering_cache import kept_once

#: Of a diagram's text, in characters, and of what is drawn, in bytes.
_MAX_TEXT, _MAX_SVG = 20_000, 2_000_000
_TIME_S, _MEMORY_BYTES = 4, 512 * 2**20
#: Nothing is read from files, whatever the text asks for (Graphviz, "SERVER_NAME").
_ENVIRONMENT = {"PATH": "/usr/local/bin:/usr/bin:/bin", "LANG": "C.UTF-8", "SERVER_NAME": "zarbek", "GV_FILE_PATH": ""}
#: As the page's own words, unless the text says otherwise.
_FACES = [*(f"-{part}fontname=Helvetica" for part in "GNE"), "-Gfontsize=11", "-Nfontsize=11", "-Efontsize=10"]
_ERROR = re.compile(r"Error: (?:<stdin>: )?(.+)")
_TOO_MUCH = Drawn(why="it takes more time or memory than a diagram may")


def draw(text: str) -> Drawn:
    """A diagram by its text in DOT, drawn once; the same text where nothing that draws is installed."""
    if len(text) > _MAX_TEXT:
        return Drawn(why=f"it is longer than {_MAX_TEXT:,} characters")
    command = _command()
    if not command:
        return Drawn(why="Graphviz is not installed where this portal runs")
    key = digest_of(text.encode(errors="replace"))
    return Drawn(*kept_once(f"{key}-diagram", lambda: tuple(_drawn(command, text))))


@cache
def _command() -> list[str]:
    """The command, held to its bounds; what it writes of files are its own messages. Empty where there is none."""
    programs = [shutil.which(name) for name in ("prlimit", "dot")]
    if not all(programs):
        return []
    bounds = [f"--as={_MEMORY_BYTES}", f"--cpu={_TIME_S}", "--fsize=100000", "--core=0"]
    return [str(programs[0]), *bounds, str(programs[1]), "-Tsvg", *_FACES]


def _drawn(command: list[str], text: str) -> Drawn:
    try:
        done = subprocess.run(
            command, input=text.encode(errors="replace"), capture_output=True, timeout=_TIME_S, env=_ENVIRONMENT,
            check=False,
        )  # fmt: skip
    except subprocess.TimeoutExpired:
        return _TOO_MUCH
    if done.returncode == 0 and len(done.stdout) <= _MAX_SVG:
        return Drawn(done.stdout.decode(errors="replace"))
    told = _ERROR.search(done.stderr.decode(errors="replace"))
    return Drawn(why=told[1]) if told and done.returncode > 0 else _TOO_MUCH
