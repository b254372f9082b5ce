"""What the applications above are told of projects and releases."""

from __future__ import annotations

from django.dispatch import Signal

#: Before a release or a project goes, in the same transaction. Sent with slug, and version, empty for
#: all of a project. A receiver that raises a Problem keeps it.
going = Signal()
#: After it went. Sent with slug, version and releases, the ids of what is no more.
gone = Signal()
#: A release is no longer judged. Sent with release.
judging_ended = Signal()
#: Names mean something else now, and no run brought that about. Sent with change, after it is kept.
changed = Signal()
