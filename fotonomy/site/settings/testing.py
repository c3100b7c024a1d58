"""Settings for the tests: everything in memory, files served from where they lie."""

from fotonomy.site.settings.base import *  # noqa: F403
from fotonomy.site.settings.base import DATABASE_URL

SECRET_KEY = "only for tests, never for a server"
ALLOWED_HOSTS = ["localhost", "127.0.0.1", "testserver"]
DEMO_MODE = True
LOGGING = {"version": 1, "disable_existing_loggers": False}
SIGN_UP = "on"
SECURE_SSL_REDIRECT = SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = False
if not DATABASE_URL:
    DATABASES = {"default": {"ENGINE": "django.db.backends.sqlite3", "NAME": ":memory:"}}
AXES_ENABLED = False
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
WHITENOISE_AUTOREFRESH = True
WHITENOISE_USE_FINDERS = True
