"""Styles and scripts as pages ask for them: small files for people, few for browsers.

A bundle is made of its parts wherever static files are looked for, so that ``collectstatic`` and a
server that serves them from where they lie see the same files.
"""

from collections.abc import Iterator
from hashlib import blake2b
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.staticfiles.finders import BaseFinder
from django.core.files.storage import FileSystemStorage
from rcssmin import cssmin
from rjsmin import jsmin

from fotonomy.web.screen_widths import MEDIUM_TO, PAGE_EDGE, PHONE_EDGE, PHONE_TO

STATIC = Path(__file__).resolve().parent / "static"
# Measures that drawings are cut by as well: styles read them as variables.
MEASURES = f":root{{--page-edge:{PAGE_EDGE}px;--phone-edge:{PHONE_EDGE}px}}"
# What every script of a page may use; a page's own come after it.
_COMMON = ("web/popover.js", "web/words.js", "web/numbers.js")
_OUTBOX = ("vendor/idb.min.js", "web/outbox.js")
_QUEUE = (*_OUTBOX, "web/actions.js", "web/server.js")
_STYLES = (
    "theme", "page", "bench", "order", "about", "fields", "scales", "tiles", "strip", "plans",
    "findings", "readings", "monitor", "methods", "stills", "drawing", "help", "working", "drill",
    "day", "places", "crew", "takes", "lamps",
)  # fmt: skip
# By name: the parts in their order, each with the media query it is for, if any.
BUNDLES: dict[str, tuple[tuple[str, str], ...]] = {
    "pages.css": (
        ("vendor/bulma.css", ""),
        *((f"web/{name}.css", "") for name in _STYLES),
        ("web/medium.css", f"(max-width: {MEDIUM_TO}px)"),
        ("web/narrow.css", f"(max-width: {PHONE_TO}px)"),
        ("web/print.css", "print"),
    ),
    "field.css": (("web/theme.css", ""), ("web/field.css", ""), ("web/working.css", "")),
    **{
        f"{name}.js": tuple((part, "") for part in parts)
        for name, parts in {
            "common": _COMMON,
            "alpine": ("vendor/alpine-morph.min.js", "vendor/alpine-csp.min.js"),
            "bench": (
                "web/playing.js", *_QUEUE, "web/keys.js", "web/scales.js", "web/panels.js",
                "web/order.js", "web/stage.js", "web/bench.js",
            ),
            "day": (*_QUEUE, "web/day.js"),
            "field": (
                *_OUTBOX, "web/popover.js", "web/numbers.js", "web/field.js",
                "web/kept-days.js", "web/typed-light.js", "web/field-offline.js",
            ),
            "drill-offline": (
                *_OUTBOX, "web/kept-days.js", "web/drill.js", "web/grading.js",
                "web/drill-offline.js",
            ),
            "log-in": (*_OUTBOX, "web/kept-days.js", "web/log-in.js"),
        }.items()
    },
}  # fmt: skip


def written(name: str) -> str:
    """A bundle's text, made as small as it goes. KeyError for a name that is none."""
    parts = [MEASURES] if name.endswith(".css") else []
    for part, media in BUNDLES[name]:
        text = (STATIC / part).read_text("utf-8")
        if name.endswith(".css"):
            small = str(cssmin(text))
            parts.append(f"@media {media}{{{small}}}" if media else small)
        else:
            # Vendored scripts are small already.
            parts.append(text if part.startswith("vendor/") else str(jsmin(text)))
    return ("\n" if name.endswith(".css") else ";\n").join(parts)


def _stamp() -> str:
    """What the parts are now: a changed part makes other files."""
    digest = blake2b(Path(__file__).read_bytes(), digest_size=8)
    digest.update(f"{MEASURES}{BUNDLES}".encode())
    for part in sorted({part for parts in BUNDLES.values() for part, _ in parts}):
        digest.update((STATIC / part).read_bytes())
    return digest.hexdigest()


def made_in(folder: Path) -> Path:
    """Where all bundles lie under ``folder``; those that are missing are written."""
    place = folder / _stamp() / "bundle"
    place.mkdir(parents=True, exist_ok=True)
    for name in BUNDLES:
        file = place / name
        if not file.exists():
            # Under another name first: who looks meanwhile sees none or all of it.
            unfinished = place / f".{id(file)}-{name}"
            unfinished.write_text(written(name), "utf-8")
            unfinished.rename(file)
    return place.parent


class BundleFinder(BaseFinder):
    """Finds ``bundle/NAME`` for static files."""

    def __init__(self, *_: Any, **__: Any) -> None:
        self.storage = FileSystemStorage(location=made_in(settings.DATA_DIR / "bundles"))

    def check(self, **_: Any) -> list[Any]:
        """There is nothing to configure."""
        return []

    def find(self, path: str, find_all: bool = False, **_: Any) -> Any:
        """The file of a bundle, or an empty list, as finders answer."""
        name = path.removeprefix("bundle/")
        if path == name or name not in BUNDLES:
            return []
        file = self.storage.path(path)
        return [file] if find_all else file

    def list(self, ignore_patterns: Any) -> Iterator[tuple[str, FileSystemStorage]]:
        """Every bundle, with where it lies."""
        for name in BUNDLES:
            yield f"bundle/{name}", self.storage
