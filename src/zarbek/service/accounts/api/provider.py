"""The way to the provider of identities, back from it, and its word that somebody has left."""

from __future__ import annotations

import logging

from django.conf import settings
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.utils.decorators import method_decorator
from django.views import View
from django.views.decorators.csrf import csrf_exempt
from mozilla_django_oidc.views import OIDCAuthenticationCallbackView, OIDCAuthenticationRequestView

from zarbek.service.accounts.actions.people import end_sign_ins
from zarbek.service.accounts.provider import PROVIDER_FAULTS, ProviderBackend, provider_setting

logger = logging.getLogger(__name__)
#: Where the console says that it did not work.
FAILED = "/sign-in?failed=provider"


class ToProvider(OIDCAuthenticationRequestView):
    """Sends somebody to the provider."""

    get_settings = staticmethod(provider_setting)

    def __init__(self, *args: object, **kwargs: object) -> None:
        """What the provider says is asked for at a request, which can say that it does not answer."""
        View.__init__(self, *args, **kwargs)
        self.OIDC_RP_CLIENT_ID = settings.OIDC_RP_CLIENT_ID

    def get(self, request: HttpRequest) -> HttpResponse:
        """Off to the provider, or back to the console where it does not answer."""
        try:
            self.OIDC_OP_AUTH_ENDPOINT = provider_setting("OIDC_OP_AUTHORIZATION_ENDPOINT")
        except PROVIDER_FAULTS as error:
            logger.warning("the provider of identities cannot be asked: %s", error)
            return HttpResponseRedirect(FAILED)
        return super().get(request)


class FromProvider(OIDCAuthenticationCallbackView):
    """Takes in who comes back from the provider."""

    get_settings = staticmethod(provider_setting)
    failure_url = FAILED

    def get(self, request: HttpRequest) -> HttpResponse:
        """Signed in for a while, after which the provider is asked again; or back to the console."""
        try:
            return super().get(request)
        except PROVIDER_FAULTS as error:
            logger.warning("somebody could not be signed in: %s", error)
            return HttpResponseRedirect(FAILED)

    def login_success(self) -> HttpResponse:
        """Whoever has left the provider by then comes no more."""
        response = super().login_success()
        self.request.session.set_expiry(settings.OIDC_SESSION_S)
        return response


@method_decorator(csrf_exempt, name="dispatch")
class LogoutFromProvider(View):
    """The provider says that somebody's sessions are over (OpenID Connect Back-Channel Logout 1.0)."""

    def post(self, request: HttpRequest) -> HttpResponse:
        """200 where they have ended, 400 for a word that is not the provider's (section 2.8)."""
        try:
            subject = ProviderBackend().subject_to_end(request.POST.get("logout_token", ""))
        except PROVIDER_FAULTS as error:
            logger.warning("a logout token was refused: %s", error)
            return HttpResponse(status=400, headers={"Cache-Control": "no-store"})
        for person in User.objects.filter(identity__subject=subject):
            end_sign_ins(person)
        return HttpResponse(status=200, headers={"Cache-Control": "no-store"})
