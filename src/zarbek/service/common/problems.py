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
    status, code, title = 404, "not-found", "There is nothing at this address"


class Conflict(Problem):
    status, code, title = 409, "conflict", "The request conflicts with what is there"


class Refused(Problem):
    status, code, title = 422, "refused", "The content was refused"


class Forbidden(Problem):
    status, code, title = 403, "forbidden", "This is not allowed"


class Unauthorized(Problem):
    status, code, title = 401, "unauthorized", "Say who you are"


class TooLarge(Problem):
    status, code, title = 413, "too-large", "The upload is too large"


class UnsupportedMediaType(Problem):
    status, code, title = 415, "unsupported-media-type", "The body is of the wrong kind"


class NotAllowed(Problem):
    status, code, title = 403, "not-allowed", "This may not be done here"


class Unavailable(Problem):
    status, code, title = 503, "unavailable", "This cannot be had just now"


class NoRoom(Problem):
    status, code, title = 507, "no-room", "There is no room"


class TooMany(Problem):
    status, code, title = 429, "too-many", "That was too often"
