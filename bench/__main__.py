"""Measure the promises and print a table.

usage: python -m bench [gather] [languages] [links] [store] [publish] [part] [readings] [index] [growth] [interfaces] [startup] [hostile] [examples] [faults] [files] [load] [streams] [slopes] [trees] [models] [preview] [precision] [recall] [truth --truth FOLDER]
"""

from __future__ import annotations

import argparse
import os
import platform
from collections.abc import Callable, Iterable
from pathlib import Path

from bench.examples import measure_examples
from bench.faults import measure_faults
from bench.files import measure_files
from bench.growth import measure_growth
from bench.hostile import measure_hostile
from bench.interfaces import measure_interfaces
from bench.languages import measure_languages
from bench.load import measure_load
from bench.measures import Row, measure_gather, measure_links
from bench.models import measure_models
from bench.portal import measure_index, measure_portals_part, measure_publish, measure_readings, measure_store
from bench.precision.measure import measure_precision
from bench.precision.recall import measure_recall
from bench.preview import measure_preview
from bench.slopes import measure_slopes
from bench.startup import measure_startup
from bench.streams import measure_streams
from bench.trees import measure_trees
from bench.truth import measure_truth

CORPORA = ("sqlalchemy", "django", "numpy", "scipy", "stdlib")


def main() -> None:
    """Run the parts that are asked for, and print their rows."""
    parser = argparse.ArgumentParser(prog="./run bench", description="Measure the promises.")
    parser.add_argument(
        "parts",
        nargs="*",
        help="gather, languages, links, store, publish, part, readings, index, growth, interfaces, startup, hostile, examples, faults, files, load, streams, slopes, trees, models, preview, precision, recall, truth; all but growth, startup, hostile, examples, faults, files, load, streams, slopes, trees, models, preview, precision, recall and truth if left out",
    )
    parser.add_argument("--truth", type=Path, help="a folder of known links")
    options = parser.parse_args()
    if "truth" in options.parts and options.truth is None:
        parser.error("truth needs --truth FOLDER, the folder of known links")
    measures: dict[str, Callable[[], Iterable[Row]]] = {
        "gather": lambda: [row for name in CORPORA for row in measure_gather(name)],
        "links": lambda: [row for name in ("sqlalchemy", "django") for row in measure_links(name)],
        "store": lambda: measure_store("django"),
        "publish": lambda: measure_publish("sqlalchemy"),
        "part": lambda: [row for name in ("sqlalchemy", "pandas", "java.base") for row in measure_portals_part(name)],
        "readings": lambda: [row for name in ("sqlalchemy", "pandas", "java.base") for row in measure_readings(name)],
        "index": measure_index,
        "languages": measure_languages,
        "growth": lambda: measure_growth(plot=Path(__file__).with_name("growth.svg")),
        "interfaces": measure_interfaces,
        "startup": measure_startup,
        "hostile": measure_hostile,
        "examples": measure_examples,
        "faults": measure_faults,
        "files": measure_files,
        "load": measure_load,
        "streams": measure_streams,
        "slopes": measure_slopes,
        "trees": measure_trees,
        "models": measure_models,
        "truth": lambda: measure_truth(options.truth),
        "preview": measure_preview,
        "precision": measure_precision,
        "recall": measure_recall,
    }
    print(f"Python {platform.python_version()}, {os.cpu_count()} cores\n")
    print("| what | figure | |\n| --- | --- | --- |")
    for part in options.parts or [
        "gather",
        "languages",
        "links",
        "store",
        "publish",
        "part",
        "readings",
        "index",
        "interfaces",
    ]:
        for what, figure, note in measures[part]():
            print(f"| {what} | {figure} | {note} |", flush=True)


if __name__ == "__main__":
    main()
