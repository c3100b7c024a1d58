"""One person on one machine, over plain HTTP, with the demo's door open."""

from django.core.management.utils import get_random_secret_key

from fotonomy.site.settings.base import *  # noqa: F403
from fotonomy.site.settings.base import DATA_DIR, LOGGING, SECRET_KEY, env

DEMO_MODE = True
LOGGING["loggers"]["fotonomy.access"]["level"] = "WARNING"  # type: ignore[index]
ALLOWED_HOSTS = env.list("FOTONOMY_HOSTS", default=["localhost", "127.0.0.1", "[::1]"])
SECURE_SSL_REDIRECT = SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = False
SECURE_HSTS_SECONDS = 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = False

DATA_DIR.mkdir(parents=True, exist_ok=True, mode=0o700)
_key_file = DATA_DIR / "secret_key"
if not _key_file.exists():
    _key_file.touch(mode=0o600)
    _key_file.write_text(get_random_secret_key(), "utf-8")
SECRET_KEY = SECRET_KEY or _key_file.read_text("utf-8")
