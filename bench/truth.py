"""Links of gathered sources against sets of known ones."""

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

#: Set to (corpus, slug, version).
SETS = {
    "java_base": ("java.base", "java-base", "17"),
    "rust_std": ("rust-std", "rust-std", "1.63.0"),
    "cpp_dealii": ("deal.II", "dealii", "9.4.1"),
    "python_sqlalchemy": ("sqlalchemy", "sqlalchemy", "1.4.46"),
    "python_pandas": ("pandas", "pandas", "1.5.3"),
}


def measure_truth(truth: Path) -> list[Row]:
    """truth: a folder with ``score.py`` and the sets. Gathers, publishes and scores each."""
    rows: list[Row] = []
    (corpus("sqlalchemy") / "zarbek.toml").write_text(_prefixes_of(truth))
    with Service() as service, tempfile.TemporaryDirectory() as folder:
        for name, (source, slug, version) in SETS.items():
            out, links = Path(folder, f"{name}.bundle"), Path(folder, f"{name}.jsonl")
            gather(corpus(source), out, GatherOptions(slug=slug, version=version, use_cache=False))
            service.publish(out)
            links.write_text("\n".join(service.client.links(slug)))
            rows += _scored(truth, name, links, Path(folder))
    return rows


def _scored(truth: Path, name: str, links: Path, folder: Path) -> list[Row]:
    known = truth / f"{name}.jsonl"
    targeted = folder / "targeted.jsonl"
    targeted.write_text("\n".join(r for r in known.read_text().split("\n") if r.strip() and json.loads(r)["target"]))
    whole, part = _score(truth, known, links), _score(truth, targeted, links)
    note = ", ".join(f"{v} {k}" for k, v in whole.items() if isinstance(v, int))
    return [
        (f"{name}: right", f"{100 * whole['right_share']:.2f} %", note),
        (f"{name}: right, of rows with a target", f"{100 * part['right_share']:.2f} %", ""),
        (f"{name}: false dangling", f"{100 * whole['false_dangling_share']:.3f} %", ""),
    ]


def _score(truth: Path, known: Path, links: Path) -> dict[str, float]:
    command = [sys.executable, str(truth / "score.py"), str(known), str(links), "--json"]
    found: dict[str, float] = json.loads(subprocess.run(command, capture_output=True, check=True).stdout)
    return found


def _prefixes_of(truth: Path) -> str:
    prefixes = json.loads((truth / "sqlalchemy_prefixes.json").read_text())
    return "[prefixes]\n" + "".join(f'{k} = "{v}"\n' for k, v in prefixes.items())
