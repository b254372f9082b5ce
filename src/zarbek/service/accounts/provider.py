"""Signing in at a provider of identities by OpenID Connect (Core 1.0), whose groups are teams here."""

from __future__ import annotations

import logging
import time
from typing import Any

import jwt
import requests
from django.conf import settings
from django.contrib.auth.models import User
from django.core.exceptions import SuspiciousOperation
from django.db.models import QuerySet
from mozilla_django_oidc.auth import OIDCAuthenticationBackend
from mozilla_django_oidc.utils import import_from_settings

from zarbek.service.accounts.actions.people import MOST_CHARS, add_from_provider, join_groups

logger = logging.getLogger(__name__)
#: What the provider's own description of itself calls the addresses that are needed (OpenID Connect Discovery 1.0,
#: section 3).
_DISCOVERED = {
    "OIDC_OP_AUTHORIZATION_ENDPOINT": "authorization_endpoint", "OIDC_OP_TOKEN_ENDPOINT": "token_endpoint",
    "OIDC_OP_USER_ENDPOINT": "userinfo_endpoint", "OIDC_OP_JWKS_ENDPOINT": "jwks_uri",
}  # fmt: skip
_KEPT_S = 3600.0
_discovered: dict[str, tuple[float, dict[str, Any]]] = {}
#: The event of a token that ends sessions (OpenID Connect Back-Channel Logout 1.0, section 2.4).
_LOGOUT = "http://schemas.openid.net/event/backchannel-logout"


def provider_setting(name: str, *default: Any) -> Any:
    """A setting of the package, or what the provider says of itself. Raises requests' exceptions where it does not
    answer, SuspiciousOperation where it says that it is another."""
    if name not in _DISCOVERED:
        return import_from_settings(name, *default)
    return _discover(settings.OIDC_ISSUER)[_DISCOVERED[name]]


def _discover(issuer: str) -> dict[str, Any]:
    at, known = _discovered.get(issuer, (0.0, {}))
    if known and time.monotonic() - at < _KEPT_S:
        return known
    address = issuer.rstrip("/") + "/.well-known/openid-configuration"
    answer = requests.get(address, timeout=settings.OIDC_TIMEOUT)
    answer.raise_for_status()
    found: dict[str, Any] = answer.json()
    if found.get("issuer") != issuer:
        raise SuspiciousOperation(f"{address} is of {found.get('issuer')!r}")
    _discovered[issuer] = (time.monotonic(), found)
    return found


class ProviderBackend(OIDCAuthenticationBackend):
    """Accounts of people who sign in at the provider. They are known by the name that it has for them for good."""

    get_settings = staticmethod(provider_setting)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        """What the provider says is asked for when somebody signs in: a portal starts without it."""
        self.UserModel = User
        self.OIDC_RP_CLIENT_ID, self.OIDC_RP_CLIENT_SECRET = settings.OIDC_RP_CLIENT_ID, settings.OIDC_RP_CLIENT_SECRET
        self.OIDC_RP_SIGN_ALGO, self.OIDC_RP_IDP_SIGN_KEY = settings.OIDC_RP_SIGN_ALGO, None

    def __getattr__(self, name: str) -> Any:
        if name in _DISCOVERED:
            return provider_setting(name)
        raise AttributeError(name)

    def verify_token(self, token: str, **kwargs: Any) -> dict[str, Any]:
        """What an identity token says, once it is sure that the provider says so to this portal and at this time (Core
        1.0, section 3.1.3.7). Raises SuspiciousOperation."""
        payload = super().verify_token(token, **kwargs)
        return self._checked(payload)

    def _checked(self, payload: dict[str, Any]) -> dict[str, Any]:
        audience = payload.get("aud")
        if payload.get("iss") != settings.OIDC_ISSUER:
            raise SuspiciousOperation("the token is of another issuer")
        if self.OIDC_RP_CLIENT_ID not in (audience if isinstance(audience, list) else [audience]):
            raise SuspiciousOperation("the token is for another client")
        if not payload.get("sub"):
            raise SuspiciousOperation("the token says of nobody that it is")
        return payload

    def get_userinfo(self, access_token: str, id_token: str, payload: dict[str, Any]) -> dict[str, Any]:
        """What the provider tells of somebody. Raises SuspiciousOperation for word of somebody else (section 5.3.2)."""
        found: dict[str, Any] = super().get_userinfo(access_token, id_token, payload)
        if found.get("sub") != payload["sub"]:
            raise SuspiciousOperation("the provider tells of somebody else")
        return {**payload, **found}

    def verify_claims(self, claims: dict[str, Any]) -> bool:
        """Whoever the provider knows may come."""
        return bool(claims.get("sub"))

    def filter_users_by_claims(self, claims: dict[str, Any]) -> QuerySet[User]:
        """The account of somebody, by the provider's name for them: addresses and names change hands."""
        return User.objects.filter(identity__subject=str(claims["sub"]))

    def create_user(self, claims: dict[str, Any]) -> User:
        """A new account, called as the provider calls the person, unless somebody else is called so here."""
        names = (claims.get("preferred_username"), claims.get("email"), claims["sub"])
        name = next(str(n).strip()[: MOST_CHARS - 4] for n in names if n)
        person = add_from_provider(name, email=str(claims.get("email") or ""))
        return self.update_user(person, claims)

    def update_user(self, user: User, claims: dict[str, Any]) -> User:
        """The account with what the provider says of the person now: groups are teams, and one of them may be that of
        the administrators."""
        groups = claims.get(settings.OIDC_GROUPS_CLAIM)
        found = [str(g) for g in groups] if isinstance(groups, list) else []
        join_groups(user, found, subject=str(claims["sub"]), administrators=settings.OIDC_ADMINISTRATORS)
        user.refresh_from_db()
        return user

    def subject_to_end(self, token: str) -> str:
        """Whose sessions a logout token says are over (Back-Channel Logout 1.0, section 2.6). Raises
        SuspiciousOperation, and what the reading of tokens raises."""
        payload = self._checked(self._verify_jws(token, self.retrieve_matching_jwk(token)))
        if _LOGOUT not in (payload.get("events") or {}) or "nonce" in payload:
            raise SuspiciousOperation("the token is no logout token")
        return str(payload["sub"])


#: What may go wrong between the portal and the provider: nobody is signed in then.
PROVIDER_FAULTS = (requests.RequestException, jwt.PyJWTError, SuspiciousOperation, KeyError, ValueError)
