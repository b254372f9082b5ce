"""Who did what, written down beside what was done."""

from __future__ import annotations

from typing import Any

import msgspec

from zarbek.service.accounts.models import AuditEntry
from zarbek.service.common.asker import current_asker


def note(action: str, *, project: str = "", subject: str = "", before: Any = None, after: Any = None) -> None:
    """Write down that whoever asks now has done something, in the transaction in which it is done. before, after: what
    changed, as far as it is fit to be read by others: no secret of any kind."""
    asker = current_asker()
    AuditEntry.objects.create(
        actor=asker.name, token=asker.token, address=asker.address, action=action, project=project,
        subject=subject[:300], before=msgspec.to_builtins(before), after=msgspec.to_builtins(after),
    )  # fmt: skip
