"""Links of a gathered source against a set of known ones."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path

from bench.corpora import corpus
from bench.measures import Row
from bench.portal import Service
from zarbek.core.gathering.gather import GatherOptions, gather


def measure_truth(truth: Path, project_file: str) -> list[Row]:
    """truth: a folder with ``score.py`` and ``python_sqlalchemy.jsonl``."""
    source = corpus("sqlalchemy")
    (source / "zarbek.toml").write_text(project_file)
    with Service() as service, tempfile.TemporaryDirectory() as folder:
        out, links = Path(folder, "b.bundle"), Path(folder, "links.jsonl")
        gather(source, out, GatherOptions(slug="sqlalchemy", version="1.4.46", use_cache=False))
        service.publish(out)
        links.write_text("\n".join(service.client.links("sqlalchemy")))
        command = [
            sys.executable,
            str(truth / "score.py"),
            str(truth / "python_sqlalchemy.jsonl"),
            str(links),
            "--json",
        ]
        score = json.loads(subprocess.run(command, capture_output=True, check=True).stdout)
    return [
        (
            "links of SQLAlchemy 1.4.46: right",
            f"{100 * score['right_share']:.2f} %",
            ", ".join(f"{v} {k}" for k, v in score.items() if isinstance(v, int)),
        ),
        ("links of SQLAlchemy 1.4.46: false dangling", f"{100 * score['false_dangling_share']:.3f} %", ""),
    ]


def prefixes_of(truth: Path) -> str:
    prefixes = json.loads((truth / "sqlalchemy_prefixes.json").read_text())
    return "[prefixes]\n" + "".join(f'{k} = "{v}"\n' for k, v in prefixes.items())
