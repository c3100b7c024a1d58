"""The base settings as they stand; named so that a server's configuration reads well."""

from fotonomy.site.settings.base import *  # noqa: F403
