"""What a project file says of its tests (``[examples]``)."""

from __future__ import annotations

import msgspec


class ExampleSettings(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """tests: patterns, as in gitignore, of files with tests; None for those that are called so by the customs of their
    language. shown: names of tests that are examples without a mark, ``*`` for any part. results: patterns of files, in
    the JUnit form, that say how tests went."""

    tests: list[str] | None = None
    shown: list[str] = []
    results: list[str] = []


NO_EXAMPLES = ExampleSettings()
