"""What the applications above are told of projects and releases."""

from __future__ import annotations

from django.dispatch import Signal

#: Before a release or a project goes, in the same transaction. Sent with slug, and version, empty for
#: all of a project. A receiver that raises a Problem keeps it.
going = Signal()
#: After it went. Sent with slug, version and releases, the ids of what is no more.
gone = Signal()
#: A release is judged now that was not, or the other way round. Sent with release.
judging_changed = Signal()
#: A release that was held back is latest now. Sent with release, and the namespace changes of its project.
hold_overridden = Signal()
#: Readers are sent elsewhere for names outside of the portal. Sent with names, of namespaces.
outside_changed = Signal()
