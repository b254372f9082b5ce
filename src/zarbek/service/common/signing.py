"""Secrets that sign calls, as Standard Webhooks 1.0 writes them."""

from __future__ import annotations

import base64
import secrets


def new_signing_secret() -> str:
    """A new secret of 24 random bytes, in the form that Standard Webhooks gives it."""
    return "whsec_" + base64.b64encode(secrets.token_bytes(24)).decode()
