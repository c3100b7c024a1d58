"""Leaving: an account with everything that belongs to it."""

from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.db import transaction

from fotonomy.shoots.models import Shoot
from fotonomy.shoots.services.crew import drop_guests_of_nothing


@transaction.atomic
def delete_account(user: User) -> None:
    """Remove a person with shoots, setups, history, kit and sessions; nothing of it is kept."""
    # Setups hold on to their gear: they go first.
    for shoot in Shoot.objects.filter(owner=user):
        shoot.delete()
    drop_guests_of_nothing()
    for session in Session.objects.iterator():
        if session.get_decoded().get("_auth_user_id") == str(user.pk):
            session.delete()
    user.delete()
