"""Pages of trees as they were gathered, where they can do nothing."""

from __future__ import annotations

import posixpath
from urllib.parse import quote

from django.core.signing import BadSignature, TimestampSigner
from django.http import FileResponse, HttpResponse, HttpResponseBase
from django.shortcuts import redirect
from rest_framework.request import Request

from zarbek.service.catalog.models import Release
from zarbek.service.catalog.queries import get_release
from zarbek.service.common.api import ApiView, describe
from zarbek.service.common.asker import PORTAL, asking
from zarbek.service.common.conditional import caching
from zarbek.service.common.problems import NotFound
from zarbek.service.reference.originals import OTHER_TYPE, find_original

#: For so long what a page loads is given to whoever has the page's address.
_KEY_S = 12 * 3600
#: A page of an origin of its own that runs nothing, sends nothing, and loads what the portal holds of its tree (CSP
#: Level 3; HTML, section 7.5).
_POLICY = (
    "sandbox; default-src 'none'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; font-src 'self'; "
    "frame-src 'self'; base-uri 'self'; form-action 'none'"
)


def _signer() -> TimestampSigner:
    return TimestampSigner(salt="originals")


class OriginalDetail(ApiView):
    """A page of a tree as it was gathered."""

    @describe(id="getOriginal", answer=str, media_type="text/html")
    def get(self, request: Request, slug: str, version: str, path: str) -> HttpResponseBase:
        """A page of a tree as it was gathered, or a file that one shows. Nothing in it runs.

        Where not everybody may read the project, its address is given a key for 12 hours: what such a page loads is
        asked for without saying who asks.
        """
        release = get_release(slug, version)
        if release.project.visibility == "public":
            return _shown(release, path)
        key = _signer().sign(str(release.pk))
        place = f"/api/v1/originals/{quote(slug)}/{quote(version, safe='')}"
        return redirect(f"{place}/~{quote(key)}/{quote(path)}")


class OriginalByKey(ApiView):
    """The same for who has been given a key."""

    @describe(id="getOriginalByKey", answer=str, media_type="text/html")
    def get(self, request: Request, slug: str, version: str, key: str, path: str) -> HttpResponseBase:
        """The same for what a page loads from a project that not everybody may read."""
        try:
            signed = _signer().unsign(key, max_age=_KEY_S)
        except BadSignature as error:  # Whatever is or is not there: nothing is told of it.
            raise NotFound("This address is no longer good. Open the page again from the portal.") from error
        with asking(PORTAL):
            release = get_release(slug, version)
            if signed != str(release.pk):
                raise NotFound("This address is that of another release. Open the page again from the portal.")
            return _shown(release, path)


def _shown(release: Release, path: str) -> HttpResponseBase:
    content, media_type = find_original(release, path)
    response: HttpResponseBase
    if isinstance(content, str):
        response = HttpResponse(content.encode(errors="replace"), content_type=media_type)
    else:
        response = FileResponse(content.file.open(), content_type=media_type, as_attachment=media_type == OTHER_TYPE,
                                filename=posixpath.basename(path))  # fmt: skip
    response["Cache-Control"] = caching(immutable=False)
    response["Content-Security-Policy"] = _POLICY
    response["Cross-Origin-Resource-Policy"] = "cross-origin"  # To the portal itself such a page is somebody else's.
    response["X-Content-Type-Options"] = "nosniff"
    response["Referrer-Policy"] = "no-referrer"
    response.xframe_options_exempt = True  # type: ignore[attr-defined]  # In another page it can do no more.
    return response
