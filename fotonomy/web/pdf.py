"""Pages as PDF, by WeasyPrint: the same markup and styles that the browser prints."""

from collections.abc import Callable
from contextlib import suppress
from functools import lru_cache
from pathlib import Path
from threading import Lock, Thread
from typing import Any

from fotonomy.core.traced_numbers import plain

# Faces before what is set in them.
STYLES = ("web/paper-faces-pdf.css", "web/paper.css")
# Over them where the paper is letter.
LETTER = "web/paper-letter.css"
# What the sheets know of fonts is no thing for two at a time.
_SETTING = Lock()
STATIC = Path(__file__).resolve().parent / "static"


class NoPdfError(RuntimeError):
    """This machine lacks what PDFs are set with."""


@lru_cache(maxsize=1)
def _library() -> Any:
    # Loaded by the first who wants a PDF: it takes half a second and a lot of memory.
    try:
        import weasyprint  # type: ignore[import-untyped]
    except OSError as error:
        raise NoPdfError(
            "This server cannot make PDFs: it lacks Pango. Print the page from the browser, which "
            "looks the same."
        ) from error
    return weasyprint


def _fetcher(library: Any) -> Callable[..., Any]:
    """Reads our own styles and fonts, and nothing else: no network, no other file."""

    class Own(library.urls.URLFetcher):  # type: ignore[misc]
        def fetch(self, url: str, headers: Any = None) -> Any:
            path = Path(url.removeprefix("file://")).resolve()
            if not url.startswith("file://") or not path.is_relative_to(STATIC):
                raise ValueError(f"{url} is not one of ours")
            return super().fetch(url, headers)

    return Own()


@lru_cache(maxsize=1)
def _styles() -> tuple[Any, list[Any]]:
    """The faces and the styles of paper, read once: the configuration of fonts, and all sheets.

    The last is that of letter.
    """
    library = _library()
    fonts = library.text.fonts.FontConfiguration()
    sheets = [
        library.CSS(filename=str(STATIC / name), font_config=fonts, url_fetcher=_fetcher(library))
        for name in (*STYLES, LETTER)
    ]
    return fonts, sheets


def warm_up() -> None:
    """Load what PDFs are set with, beside everything else: somebody looks at a paper now."""
    if not _styles.cache_info().currsize:
        Thread(target=_warmed, daemon=True, name="pdf").start()


def _warmed() -> None:
    with suppress(NoPdfError), _SETTING:
        _styles()


def pdf_of(markup: str, letter: bool = False) -> bytes:
    """A page as PDF, set with the styles of paper, A4 or letter. Raises NoPdfError."""
    library = _library()
    with _SETTING:
        fonts, sheets = _styles()
        if not letter:
            sheets = sheets[:-1]
        # On paper nothing can be pressed.
        page = library.HTML(
            string=plain(markup), base_url=f"{STATIC.as_uri()}/", url_fetcher=_fetcher(library)
        )
        return bytes(page.write_pdf(stylesheets=sheets, font_config=fonts))
