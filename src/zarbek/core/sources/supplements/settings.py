"""What a project says of its supplements."""

from __future__ import annotations

import msgspec

from zarbek.core.model.limits import File
from zarbek.core.model.supplement import How


class SupplementSettings(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """folder: below the source's root. how: of parts that do not say so themselves."""

    folder: File = "supplements"
    how: How = "add"


NO_SUPPLEMENTS = SupplementSettings()
