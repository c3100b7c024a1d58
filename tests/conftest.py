"""Shared fixtures: the demo scenario, and people."""

import os
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from hypothesis import settings
from hypothesis.internal.conjecture import providers

from fotonomy.demo.loader import DEMO_USER, ensure_demo
from fotonomy.kit.starter_kit import give_starter_kit
from fotonomy.shoots.models import Setup, Shoot
from tests.demo_copy import demo_again, keep_copy, nothing_shot

# The same examples at every run, and no clock: a check either holds or does not. Hypothesis also
# takes constants out of the code that is loaded; so that no reworded sentence changes the examples,
# the steady profile does without. To hunt for new ones, constants and all:
# FOTONOMY_HUNT=2000 .venv-dev/bin/pytest tests/core tests/figures
if "FOTONOMY_HUNT" not in os.environ:
    providers._get_local_constants = providers.Constants  # type: ignore[assignment]
settings.register_profile("steady", derandomize=True, deadline=None)
settings.register_profile(
    "hunt", max_examples=int(os.environ.get("FOTONOMY_HUNT", "100")), deadline=None
)  # fmt: skip
settings.load_profile("hunt" if "FOTONOMY_HUNT" in os.environ else "steady")


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup: None, django_db_blocker: Any) -> None:
    """The test database with the demo in it, loaded once; every test rolls back to it."""
    with django_db_blocker.unblock():
        ensure_demo()
        keep_copy()


@pytest.fixture
def demo(db: None) -> Shoot:
    """The demo shoot with its twelve setups; a test of its own transactions may have swept it."""
    demo_again()
    return Shoot.objects.get(owner__username=DEMO_USER)


@pytest.fixture
def adze(demo: Shoot) -> Setup:
    """The demo's setup 4B, adze chips."""
    return demo.setups.get(code="4B")


@pytest.fixture
def launch(demo: Shoot) -> Setup:
    """A setup of the demo under the open sky, with others after it at its place."""
    return demo.setups.select_related("shoot", "place", "day").get(code="5A")


@pytest.fixture
def nothing_shot_yet(demo: Shoot) -> None:
    """The demo before its first day."""
    nothing_shot()


@pytest.fixture
def demo_client(client: Any, demo: Shoot) -> Any:
    """A client logged in as the demo person."""
    client.force_login(demo.owner)
    return client


@pytest.fixture
def stranger(db: None) -> Any:
    """Somebody else, with a kit of their own."""
    user = get_user_model().objects.create_user("stranger", password="quay-side-42")
    give_starter_kit(user)
    return user
