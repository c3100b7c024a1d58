"""``{% part "template" view %}``: a small template rendered once for each distinct view.

Most of the bench stays as it was from one change to the next. Views are frozen and
hashable, so their markup can be kept by value; no request, user or token goes in.
"""

from functools import lru_cache
from typing import Any

from django import template
from django.template.loader import get_template

register = template.Library()


@register.simple_tag
@lru_cache(maxsize=4096)
def part(name: str, view: Any) -> str:
    """The markup of template ``name`` with the view as ``v``."""
    return get_template(name).render({"v": view})
