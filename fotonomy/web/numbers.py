"""Marked numbers become something to press, on the way out of every page.

In a text a mark becomes a link, in a drawing a piece of its label that scripts follow; within
links, buttons, attributes and whatever is no page, the number stays and the mark goes.
"""

import re
from collections.abc import Callable
from html import unescape

from django.http import HttpRequest, HttpResponse
from django.utils.html import escape

from fotonomy.core.traced_numbers import MARKED, OPEN, plain

# Inside these nothing else can be pressed, or no markup is wanted.
_NO_LINKS = (
    "a", "button", "select", "option", "textarea", "title", "script", "style", "label", "summary",
)  # fmt: skip
_STEPS = re.compile(rf"<(/?)({'|'.join(_NO_LINKS)}|svg)(?=[\s>])|{MARKED.pattern}")
# A working is on this program's own pages: a mark that leads elsewhere is none of ours.
_OWN = re.compile(r"/(?![/\\])[^\s\\]*")
_OPEN_BYTES = OPEN.encode()
_TEXTS = re.compile(r"text/|application/(json|[\w.-]+\+(json|xml)|xml|javascript)")


def linked(html: str) -> str:
    """A page with every mark as what one presses."""
    parts: list[str] = []
    inside, drawings, at = 0, 0, 0
    for step in _STEPS.finditer(html):
        tag = step[2]
        if tag == "svg":
            drawings += -1 if step[1] else 1
            continue
        if tag:
            inside = max(0, inside + (-1 if step[1] else 1))
            continue
        start = step.start()
        # What a template wrote is escaped already, what a figure made ready may not be.
        address, text = escape(unescape(step[3])), step[4]
        parts.append(html[at:start])
        at = step.end()
        in_a_tag = html.rfind("<", 0, start) > html.rfind(">", 0, start)
        if in_a_tag or inside or not _OWN.fullmatch(unescape(step[3])):
            parts.append(text)
        elif drawings:
            parts.append(f'<tspan class="number" data-working="{address}">{text}</tspan>')
        else:
            parts.append(f'<a class="number" href="{address}" tabindex="-1">{text}</a>')
    parts.append(html[at:])
    return plain("".join(parts))


class Numbers:
    """Middleware: turns the marks of pages into links, and takes them out of everything else."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The answer, with its numbers to be pressed."""
        answer = self.get_response(request)
        sort = answer.headers.get("Content-Type", "")
        # Pictures may hold the bytes of a mark by chance.
        if answer.streaming or not _TEXTS.match(sort) or _OPEN_BYTES not in answer.content:
            return answer
        text = answer.content.decode(answer.charset)
        is_page = sort.startswith("text/html")
        answer.content = (linked(text) if is_page else plain(text)).encode(answer.charset)
        return answer
