"""The portal's addresses, and that of the preview itself."""

from django.urls import path

from zarbek.service.preview.api import PreviewState
from zarbek.service.web import urls as web

urlpatterns = [path("api/v1/preview", PreviewState.as_view()), *web.urlpatterns]
handler404 = web.handler404
handler500 = web.handler500
