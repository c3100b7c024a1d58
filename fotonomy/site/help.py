"""The guide and the words of the trade, open to everybody."""

import re
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from pathlib import Path

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.safestring import SafeString, mark_safe
from markdown_it import MarkdownIt

from fotonomy.core.glossary import BY_KEY, TERMS, Term, found
from fotonomy.figures.glossary import word_figure

MOST_ASKED = 80
GUIDE = Path(__file__).resolve().parents[2] / "docs" / "using.md"


@dataclass(frozen=True, slots=True)
class WordView:
    """One word as the templates draw it."""

    term: Term
    also: str
    figure: SafeString


@lru_cache(maxsize=128)
def _view(key: str) -> WordView:
    term = BY_KEY[key]
    # Markup from our own figure of invented data.
    return WordView(term, ", ".join(term.also), mark_safe(word_figure(term.drawing)))


def words(request: HttpRequest) -> HttpResponse:
    """Every word, or those that a search finds."""
    asked = " ".join(request.GET.get("q", "").split())[:MOST_ASKED]
    views = [_view(term.key) for term in found(asked)]
    return render(request, "help/words.html", {"views": views, "asked": asked, "all": len(TERMS)})


def word(request: HttpRequest, key: str) -> HttpResponse:
    """One word, as the little box over a page shows it."""
    if key not in BY_KEY:
        raise Http404
    return render(request, "help/_word.html", {"v": _view(key), "boxed": True})


@dataclass(frozen=True, slots=True)
class Guide:
    """The guide as a page: its markup, and its headings with their anchors."""

    markup: SafeString
    headings: tuple[tuple[str, str], ...]


def _anchor(heading: str) -> str:
    return re.sub(r"[^a-z0-9]+", "-", heading.lower()).strip("-")


@lru_cache(maxsize=1)
def _guide() -> Guide:
    source = GUIDE.read_text(encoding="utf-8")
    reader = MarkdownIt("commonmark", {"html": False}).enable("table")
    tokens = reader.parse(source)
    headings = []
    for opening, inline in pairwise(tokens):
        if opening.type == "heading_open":
            opening.attrSet("id", _anchor(inline.content))
            if opening.tag == "h2":
                headings.append((_anchor(inline.content), inline.content))
        if opening.type == "table_open":
            opening.attrSet("class", "guide-table")
        for part in inline.children or ():
            # Other papers of the project do not stand on this page.
            if part.type == "link_open" and ".md" in str(part.attrs.get("href", "")):
                part.attrs["href"] = "#"
    # Our own text, read with markup of others switched off.
    return Guide(mark_safe(reader.renderer.render(tokens, reader.options, {})), tuple(headings))


def guide(request: HttpRequest) -> HttpResponse:
    """How the program is used."""
    return render(request, "help/guide.html", {"guide": _guide()})
