"""Which elements of a release are shown by tests, and how these went."""

from __future__ import annotations

from collections import Counter, defaultdict
from urllib.parse import quote

import msgspec

from zarbek.core.model.example import Verdict
from zarbek.service.catalog.models import Release
from zarbek.service.links.models import Referrer
from zarbek.service.links.queries import judged_by_project
from zarbek.service.reference.example_page import verdicts_of
from zarbek.service.reference.navigation import audience_of_release, href_of_symbol
from zarbek.service.reference.own_tested import AskedElement, OwnExample, get_own_tested

#: Of the examples of an element, and of a module's elements without any, as a page has them.
MAX_EXAMPLES, MAX_WITHOUT = 12, 200


class ShownBy(msgspec.Struct):
    """An example of an element. project, version: where it is from."""

    title: str
    path: str
    href: str
    project: str
    version: str
    verdict: Verdict


class TestedElement(msgspec.Struct):
    """An element that examples show. name: within its module. left: how many more there are."""

    path: str
    name: str
    kind: str
    href: str
    examples: list[ShownBy]
    left: int = 0


class UntestedElement(msgspec.Struct):
    """An element that none shows."""

    path: str
    name: str
    kind: str
    href: str


class TestedModule(msgspec.Struct):
    """The elements of a module: those that examples show, and the others. left: how many more of these there are."""

    path: str
    href: str
    shown: list[TestedElement]
    others: list[UntestedElement]
    left: int = 0


class Tested(msgspec.Struct):
    """What is tested of a release, by module. elements: how many can be called or made; shown: how many of them by an
    example; examples: how many, by how they went."""

    project: str
    title: str
    version: str
    elements: int
    shown: int
    examples: dict[str, int]
    modules: list[TestedModule]


class _Home:
    """A release whose examples are shown."""

    def __init__(self, release: Release) -> None:
        self.project, self.version = release.project.slug, release.version
        self.verdicts = verdicts_of(release)
        self._base = href_of_symbol(release, "")

    def href(self, path: str) -> str:
        """Where a symbol's page is."""
        return self._base + quote(path)

    def verdict(self, path: str) -> Verdict:
        """How an example went."""
        return self.verdicts.get(path) or Verdict(path)

    def shown(self, example: OwnExample) -> ShownBy:
        """An example as the page has it."""
        path = example.path
        return ShownBy(example.title, path, self.href(path), self.project, self.version, self.verdict(path))


def list_tested(release: Release, *, is_whole: bool = False) -> Tested:
    """The elements that readers see, with the examples of this release and of others' newest ones.

    is_whole: with all that a page of a large release leaves out.
    """
    own, home, others = get_own_tested(release), _Home(release), _others(release)
    seen = list(map(audience_of_release(release).sees, own.standings))
    told = (e for e in own.examples if seen[e.standing] and any(map(seen.__getitem__, e.shows)))
    states = Counter(home.verdict(example.path).state for example in told)
    states += Counter({(x.project, x.path): x.verdict.state for some in others.values() for x in some}.values())
    elements = [element for element in own.elements if seen[element.standing]]
    modules: dict[str, TestedModule] = {}
    for element in elements:
        examples = [e for n in element.examples if seen[(e := own.examples[n]).standing]]
        module = modules.get(element.module)
        if module is None:
            module = modules[element.module] = TestedModule(element.module, home.href(element.module), [], [])
        _add(module, home, element, examples, others.get(element.path, []), is_whole=is_whole)
    shown = sum(len(module.shown) for module in modules.values())
    return Tested(
        home.project, release.project.title, home.version, len(elements), shown, dict(sorted(states.items())),
        list(modules.values()),
    )  # fmt: skip


def _add(
    module: TestedModule, home: _Home, element: AskedElement, own: list[OwnExample], others: list[ShownBy], *,
    is_whole: bool,
) -> None:  # fmt: skip
    path, href, number = element.path, home.href(element.path), len(own) + len(others)
    most = number if is_whole else MAX_EXAMPLES
    if number:
        first = [*map(home.shown, own[:most]), *others][:most]
        module.shown.append(TestedElement(path, element.name, element.kind, href, first, number - len(first)))
    elif is_whole or len(module.others) < MAX_WITHOUT:
        module.others.append(UntestedElement(path, element.name, element.kind, href))
    else:
        module.left += 1


def _others(release: Release) -> dict[str, list[ShownBy]]:
    """By path of an element: examples of other projects whose references are judged, each once."""
    rows = Referrer.objects.filter(project=release.project.slug, is_target=True, symbol__isnull=False)
    named = list(rows.exclude(source=release.project).values_list("source_id", "symbol__path", "path"))
    homes = {
        source: [(_Home(r), {e.path: e for e in get_own_tested(r).examples}) for r in releases if verdicts_of(r)]
        for source, releases in judged_by_project({source for source, _, _ in named}).items()
    }
    found: dict[str, dict[str, ShownBy]] = defaultdict(dict)
    for source, path, target in named:
        for home, examples in homes.get(source, ()):
            if path in examples:
                found[target].setdefault(home.href(path), home.shown(examples[path]))
    return {target: list(shown.values()) for target, shown in found.items()}
