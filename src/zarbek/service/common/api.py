"""Views that say what they take and give, so that the API can describe itself."""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass
from inspect import getdoc
from typing import Annotated, Any, TypeVar

import msgspec
from django.core.exceptions import ObjectDoesNotExist
from django.http import HttpRequest, HttpResponse
from rest_framework.request import Request
from rest_framework.views import APIView

from zarbek.service.common.asker import EDITION, Asker, ask_as, asker_of, asking
from zarbek.service.common.problems import Problem
from zarbek.service.common.request_validation import MAX_NUMBER, MAX_TEXT, check_path, check_query

#: Where the edition that a reader has chosen is kept.
EDITION_COOKIE = "zarbek-edition"
F = TypeVar("F", bound=Callable[..., Any])
T = TypeVar("T")


#: Text in one column: what a body's structs say of their fields, here and in the API's description.
Slug = Annotated[str, msgspec.Meta(max_length=100)]
Line = Annotated[str, msgspec.Meta(max_length=200)]
Address = Annotated[str, msgspec.Meta(max_length=500)]
Words = Annotated[str, msgspec.Meta(max_length=4000)]
#: Rules, states and the like compare by ASCII.
ASCII = "[ -~]*"


@dataclass(frozen=True, slots=True)
class Parameter:
    """A query parameter. type: a JSON Schema type. most: characters of a text; pattern: of all of it.
    least, most_number: of an integer."""

    name: str
    meaning: str
    type: str = "string"
    most: int = MAX_TEXT
    pattern: str = ""
    least: int = 0
    most_number: int = MAX_NUMBER


@dataclass(frozen=True, slots=True)
class Operation:
    """answer: the struct of a 2xx answer, a list of it, or None for none.

    body: the struct of a JSON body, or a media type.
    """

    id: str
    summary: str
    answer: Any = None
    status: int = 200
    parameters: tuple[Parameter, ...] = ()
    body: Any = None
    media_type: str = "application/json"


PAGING = (
    Parameter("limit", "Items a page, 1 to 500; 50 if left out.", "integer", least=1, most_number=500),
    Parameter("cursor", "Where to go on, from the answer before."),
)


def describe(**facts: Any) -> Callable[[F], F]:
    """Attach an Operation to a view's method; its summary is the first paragraph of the method's docstring."""

    def attach(method: F) -> F:
        summary = " ".join((getdoc(method) or "").partition("\n\n")[0].split())
        method.operation = Operation(summary=summary, **facts)  # type: ignore[attr-defined]
        return method

    return attach


class ApiView(APIView):
    """A view of the API. What it reads and writes is for whoever asks; actions check what that one may do."""

    is_read_again = False

    def dispatch(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Until it is known who asks, nobody does; see ``initial``."""
        with asking(Asker()):
            return super().dispatch(request, *args, **kwargs)

    def initial(self, request: Request, *args: Any, **kwargs: Any) -> None:
        """Nothing unfit comes further than this."""
        check_path(kwargs)
        operation: Operation | None = getattr(getattr(self, request.method.lower(), None), "operation", None)
        described = {p.name: p for p in operation.parameters} if operation is not None else {}
        check_query(request.query_params.lists(), described)
        super().initial(request, *args, **kwargs)
        asker = asker_of(request)
        asker.remembered[EDITION] = request.query_params.get("edition") or request.COOKIES.get(EDITION_COOKIE, "")
        ask_as(asker)

    def handle_exception(self, exc: Exception) -> HttpResponse:
        """What is read may be gone before all of it has been: a preview that another takes the place of. Then that one
        is read, once."""
        if isinstance(exc, ObjectDoesNotExist) and self.request.method == "GET" and not self.is_read_again:
            self.is_read_again = True
            return super().dispatch(self.request._request, *self.args, **self.kwargs)
        return super().handle_exception(exc)

    def perform_content_negotiation(self, request: Request, force: bool = False) -> tuple[Any, str]:
        """Every address has one form, whatever the caller would like best."""
        renderer = self.get_renderers()[0]
        return renderer, renderer.media_type


def read_body(request: Request | HttpRequest, kind: type[T]) -> T:
    """The JSON body as a struct. Raises Problem with the place of what is wrong."""
    try:
        return msgspec.convert(request.data, kind)  # type: ignore[union-attr]
    except msgspec.ValidationError as error:
        raise Problem(f"The body does not fit: {error}") from error


def read_choice(request: Request, name: str, choices: Collection[str], default: str) -> str:
    """A query parameter that is one of a few words. Raises Problem for another."""
    value = request.query_params.get(name) or default
    if value not in choices:
        raise Problem(f"{name} must be one of {', '.join(sorted(choices))}, not {value!r}.")
    return value


def read_flag(request: Request, name: str) -> bool:
    """Whether a query parameter says yes."""
    return request.query_params.get(name, "").lower() in ("1", "true", "yes")
