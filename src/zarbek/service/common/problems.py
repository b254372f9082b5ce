"""Errors of the API as exceptions that carry problem details (RFC 9457)."""

from __future__ import annotations


class Problem(Exception):
    """status: HTTP status. code: stable name. title: the same for every occurrence.
    detail: what is wrong here and what to do."""

    status = 400
    code = "bad-request"
    title = "The request cannot be understood"

    def __init__(self, detail: str, **facts: object) -> None:
        super().__init__(detail)
        self.detail, self.facts = detail, facts


class NotFound(Problem):
    """Nothing is there."""

    status, code, title = 404, "not-found", "There is nothing at this address"


class Conflict(Problem):
    """It does not go together with what is there."""

    status, code, title = 409, "conflict", "The request conflicts with what is there"


class Refused(Problem):
    """What was sent is understood, but not taken."""

    status, code, title = 422, "refused", "The content was refused"


class Forbidden(Problem):
    """The caller may not do this."""

    status, code, title = 403, "forbidden", "This is not allowed"


class Unauthorized(Problem):
    """The caller has not said who they are."""

    status, code, title = 401, "unauthorized", "Say who you are"


class TooLarge(Problem):
    """More than the portal takes."""

    status, code, title = 413, "too-large", "The upload is too large"


class UnsupportedMediaType(Problem):
    """Not the kind of body that the address takes."""

    status, code, title = 415, "unsupported-media-type", "The body is of the wrong kind"


class NotAllowed(Problem):
    """Nobody may do this here, as the portal is set up."""

    status, code, title = 403, "not-allowed", "This may not be done here"


class Unavailable(Problem):
    """It cannot be had now, but later."""

    status, code, title = 503, "unavailable", "This cannot be had just now"


class NoRoom(Problem):
    """The disk is full."""

    status, code, title = 507, "no-room", "There is no room"


class TooMany(Problem):
    """Too often for now."""

    status, code, title = 429, "too-many", "That was too often"
