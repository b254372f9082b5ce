"""What the statuses of answers mean, in words."""

from __future__ import annotations

from http import HTTPStatus

#: Names that RFC 9110 gave to statuses and that are younger than the standard library's.
_RENAMED = {"413": "Content Too Large", "422": "Unprocessable Content"}


def status_words(status: str) -> str:
    """What a status means by RFC 9110, section 15; for ranges and the rest a few plain words."""
    if status in _RENAMED:
        return _RENAMED[status]
    if status.isascii() and status.isdigit():
        try:
            return HTTPStatus(int(status)).phrase
        except ValueError:
            return ""
    return {"default": "Anything else", "1XX": "On the way", "2XX": "Done", "3XX": "Elsewhere", "4XX": "Asked wrongly",
            "5XX": "Failed", "fault": "Fault", "answer": "Answer"}.get(status, "")  # fmt: skip
