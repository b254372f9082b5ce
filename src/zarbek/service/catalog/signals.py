"""What the applications above are told of projects and releases."""

from __future__ import annotations

from django.dispatch import Signal

#: Before a release or a project goes, in the same transaction. Sent with slug, and version, empty for
#: all of a project. A receiver that raises a Problem keeps it.
going = Signal()
#: After it went. Sent with slug, version and releases, the ids of what is no more.
gone = Signal()
