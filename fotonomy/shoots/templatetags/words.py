"""Words with dots under them, which open their explanation."""

import re
from functools import lru_cache

from django import template
from django.urls import reverse
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from fotonomy.core.glossary import spotted, word_of_setting, word_of_tile

register = template.Library()


@lru_cache(maxsize=2048)
def _word(key: str, text: str, reached: bool) -> SafeString:
    # A label's own word is reached by F1 in its field; the way through the fields stays short.
    last = "" if reached else format_html(' tabindex="{}"', -1)
    return format_html(
        '<a class="term" href="{}#{}" data-word="{}"{}>{}</a>',
        reverse("words"),
        key,
        key,
        last,
        text,
    )


@register.filter
def setting_word(label: str, name: str) -> str:
    """A setting's label as a word, or plain where it explains itself."""
    key = word_of_setting(name)
    return _word(key, label, False) if key else label


@register.filter
def tile_word(note: str, name: str) -> str:
    """What a tile is about, as the word that explains it."""
    return _word(word_of_tile(name), note, False)


@register.filter
def word(text: str, key: str) -> str:
    """A text as the word with this key."""
    return _word(key, text, True)


@register.filter
@lru_cache(maxsize=4096)
def dotted(text: str) -> SafeString:
    """A sentence with the words of the trade in it as such."""
    return format_html_join(
        "", "{}", ((_word(key, piece, True) if key else piece,) for piece, key in spotted(text))
    )


@register.filter
def signs(text: str) -> SafeString:
    """Signs of a formula, with what stands low in them set low."""
    return format_html_join("", "{}{}", (
        (before, format_html("<sub>{}</sub>", low) if low else "")
        for before, low in re.findall(r"([^_]+)(?:_(\w+))?", text)
    ))  # fmt: skip
