"""Moments that something of a shoot may have."""

from datetime import datetime, timedelta

from django.utils import timezone

from fotonomy.core.errors import RuleError
from fotonomy.shoots.models import Shoot

# A moment lies so near a day of the shoot, or today: two years off is a clock that is wrong.
NEAR_DAYS = 366


def check_moment(shoot: Shoot, at: datetime) -> datetime:
    """A moment that a thing of this shoot may have. Raises RuleError."""
    today = timezone.now().date()
    days = [day.date for day in shoot.days_by_id.values()]
    first, last = min([today, *days]), max([today, *days])
    try:
        near = first - timedelta(NEAR_DAYS) <= at.date() <= last + timedelta(NEAR_DAYS)
    except OverflowError:
        near = False
    if not near:
        raise RuleError("at", f"{at:%d %B %Y} is more than a year from this shoot", at.isoformat())
    return at
