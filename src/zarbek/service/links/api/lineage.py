"""Where data come from, and where they go."""

from __future__ import annotations

from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.linking.data_flow import MAX_DEPTH, Direction
from zarbek.service.catalog.queries import get_release
from zarbek.service.common.api import ApiView, Parameter, describe, read_choice
from zarbek.service.common.conditional import json_response
from zarbek.service.common.request_validation import read_number
from zarbek.service.links.lineage import Lineage, get_lineage

_DIRECTIONS: dict[str, tuple[Direction, ...]] = {"both": ("up", "down"), "up": ("up",), "down": ("down",)}


class LineageView(ApiView):
    """The way of the data of a table or column."""

    @describe(id="getLineage", answer=Lineage,
              parameters=(Parameter("direction", "up to what the data come from, down to where they go, or both; both "
                                    "if left out."),
                          Parameter("depth", f"How many steps at most, 1 to {MAX_DEPTH}; all if left out.")))  # fmt: skip
    def get(self, request: Request, slug: str, version: str, path: str) -> HttpResponse:
        """Where the data of a table or column come from and where they go, step by step, across projects."""
        direction = read_choice(request, "direction", tuple(_DIRECTIONS), "both")
        depth = read_number("depth", request.query_params.get("depth", str(MAX_DEPTH)), 1, MAX_DEPTH)
        return json_response(request, get_lineage(get_release(slug, version), path, _DIRECTIONS[direction], depth))
