"""The door for a WSGI server."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fotonomy.site.settings.production")
application = get_wsgi_application()
