"""The portal's own figures for Prometheus, summed over all processes that share a state folder.

A process writes its figures to files in ``PROMETHEUS_MULTIPROC_DIR``, which the settings name before this is loaded;
whoever starts a portal empties that folder.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from prometheus_client import CollectorRegistry, Counter, Histogram, generate_latest
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.multiprocess import MultiProcessCollector
from prometheus_client.registry import Collector

#: outcome: done, dry or failed.
PUBLISHES = Counter("zarbek_publishes", "Publish runs that ended, by outcome.", ["outcome"])
STAGE_SECONDS = Histogram(
    "zarbek_stage_seconds", "Seconds that a stage of a publish took.", ["stage"],
    buckets=(0.01, 0.05, 0.1, 0.5, 1, 2, 5, 10, 30, 60, 300, 900, 3600),
)  # fmt: skip
#: outcome: held, dangling, stale or outside.
REFERENCES = Counter("zarbek_references", "References of releases that were published, by outcome.", ["outcome"])
SEARCH_SECONDS = Histogram(
    "zarbek_search_seconds", "Seconds that a search took.",
    buckets=(0.001, 0.0025, 0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5),
)  # fmt: skip
#: What a gauge says now: values by the words of its labels.
Reading = dict[tuple[str, ...], float]


class Gauge(Collector):
    """A figure that is read when it is asked for, the same in every process."""

    def __init__(self, name: str, meaning: str, labels: tuple[str, ...], read: Callable[[], Reading]) -> None:
        self._facts, self._read = (name, meaning, labels), read

    def collect(self) -> Iterator[GaugeMetricFamily]:
        """The figures as they are now, by label."""
        name, meaning, labels = self._facts
        family = GaugeMetricFamily(name, meaning, labels=labels)
        for words, value in self._read().items():
            family.add_metric(words, value)
        yield family


def write_metrics(*gauges: Gauge) -> bytes:
    """All figures in Prometheus's text format, those of processes that have ended too."""
    registry = CollectorRegistry()
    MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    for gauge in gauges:
        registry.register(gauge)
    return generate_latest(registry)
