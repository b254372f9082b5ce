"""The portal for servers that speak WSGI (PEP 3333)."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zarbek.service.settings")
application = get_wsgi_application()
