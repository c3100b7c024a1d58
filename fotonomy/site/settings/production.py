"""The base settings as they stand, refusing to start without a secret key that nobody can guess."""

from django.core.exceptions import ImproperlyConfigured

from fotonomy.site.settings.base import *  # noqa: F403
from fotonomy.site.settings.base import SECRET_KEY

# As Django's own deployment check asks for; here it is no advice.
LEAST_LENGTH, LEAST_DIFFERENT = 50, 5

if not SECRET_KEY:
    raise ImproperlyConfigured("Set FOTONOMY_SECRET_KEY: the SECRET_KEY of this server.")
if len(SECRET_KEY) < LEAST_LENGTH or len(set(SECRET_KEY)) < LEAST_DIFFERENT:
    raise ImproperlyConfigured(
        f"FOTONOMY_SECRET_KEY is too weak: at least {LEAST_LENGTH} characters, and not all alike. "
        "python3 -c 'import secrets; print(secrets.token_urlsafe(48))' makes one."
    )
