"""The base settings as they stand, refusing to start without a secret key."""

from django.core.exceptions import ImproperlyConfigured

from fotonomy.site.settings.base import *  # noqa: F403
from fotonomy.site.settings.base import SECRET_KEY

if not SECRET_KEY:
    raise ImproperlyConfigured("Set FOTONOMY_SECRET_KEY: the SECRET_KEY of this server.")
