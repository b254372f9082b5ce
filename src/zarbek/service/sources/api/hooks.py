"""Repositories that are watched."""

from __future__ import annotations

from django.http import HttpResponse
from rest_framework.parsers import BaseParser
from rest_framework.request import Request
from standardwebhooks import Webhook as Signer
from standardwebhooks import WebhookVerificationError

from zarbek.service.catalog.permissions import require_maintainer
from zarbek.service.common.api import ApiView, describe
from zarbek.service.common.conditional import json_response
from zarbek.service.common.problems import Forbidden
from zarbek.service.common.signing import new_signing_secret
from zarbek.service.sources.api.repositories import SourceView, source_view
from zarbek.service.sources.polling import poll_source
from zarbek.service.sources.queries import find_source, get_source, list_ahead
from zarbek.service.sources.tasks import poll

_MAX_BODY = 2**20


class AnyBody(BaseParser):
    """Leaves the body unread: whatever a code host says, only its signature counts."""

    media_type = "*/*"

    def parse(self, stream, media_type=None, parser_context=None):  # type: ignore[no-untyped-def]
        """Nothing: the view reads the body."""
        return {}


class AheadList(ApiView):
    """Repositories that are ahead of the portal."""

    @describe(id="listAhead", answer=list[SourceView])
    def get(self, request: Request) -> HttpResponse:
        """Repositories that have what the portal has not published."""
        return json_response(request, [source_view(s, request=request) for s in list_ahead()])


class Poll(ApiView):
    """Asking a repository what it has."""

    @describe(id="pollSource", answer=SourceView)
    def post(self, request: Request, source_id: int) -> HttpResponse:
        """Look now what a repository has that the portal has not."""
        source = get_source(source_id)
        require_maintainer(source.project.slug)
        poll_source(source.pk)
        return json_response(request, source_view(get_source(source_id), request=request))


class Hook(ApiView):
    """Called by whoever holds the source's secret; the signature is that of Standard Webhooks 1.0."""

    parser_classes = [AnyBody]
    authentication_classes = []

    @describe(id="callHook", answer=None, status=202,
              body="*/*")  # fmt: skip
    def post(self, request: Request, source_id: int) -> HttpResponse:
        """Have a repository looked at, by a signed call."""
        source = find_source(source_id)
        body = request.stream.read(_MAX_BODY) if request.stream else b""
        # An unknown source, or one without a secret, is answered like a wrong signature: nobody learns which
        # there are, and what has no secret takes no calls.
        secret = source.hook_secret if source is not None and source.hook_secret else new_signing_secret()
        try:
            Signer(secret).verify(body, {k.lower(): v for k, v in request.headers.items()})
        except (WebhookVerificationError, ValueError) as error:  # Also what is no UTF-8, or no number.
            raise Forbidden("The signature does not fit.") from error
        if source is None or not source.hook_secret:
            raise Forbidden("The signature does not fit.")
        poll.enqueue(source.pk)
        return HttpResponse(status=202)
