"""What a preview says of itself."""

from __future__ import annotations

from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.common.api import ApiView, Parameter, describe
from zarbek.service.common.conditional import json_response
from zarbek.service.common.request_validation import read_number
from zarbek.service.preview.state import STATE, Shown

#: So long a page waits for the next before it asks again.
WAIT_S = 20.0


class PreviewState(ApiView):
    """What is shown, and what comes next."""

    @describe(
        id="getPreview",
        answer=Shown,
        parameters=(Parameter("after", "Answer once something later is shown.", "integer"),),
    )
    def get(self, request: Request) -> HttpResponse:
        """What a preview shows now, or what it shows next."""
        after = request.query_params.get("after")
        if after is None:
            return json_response(request, STATE.get())
        return json_response(request, STATE.wait(read_number("after", after, 0, 2**31), WAIT_S))
