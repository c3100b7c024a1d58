"""Shared fixtures: the demo scenario, and people."""

import os
from collections.abc import Iterator
from typing import Any
from unittest.mock import patch

import pytest
import pytest_django.fixtures
from django.contrib.auth import get_user_model
from django.db import connection
from django.test import TransactionTestCase
from hypothesis import settings
from hypothesis.internal.conjecture import providers

from fotonomy.demo.loader import DEMO_USER, ensure_demo
from fotonomy.kit.starter_kit import give_starter_kit
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.web import long_work
from tests.demo_copy import demo_again, keep_copy, nothing_shot, put_back, read_copy
from tests.properties import LONG, MORE
from tools.kept_demo import kept_demo, one_at_a_time

# The same examples at every run, and no clock: a check either holds or does not. Hypothesis also
# takes constants out of the code that is loaded; so that no reworded sentence changes the examples,
# the steady profile does without. To hunt for new ones, constants and all:
# FOTONOMY_HUNT=2000 .venv-dev/bin/pytest tests/core tests/figures
if "FOTONOMY_HUNT" not in os.environ:
    providers._get_local_constants = providers.Constants  # type: ignore[assignment]
settings.register_profile("steady", derandomize=True, deadline=None)
settings.register_profile("long", derandomize=True, deadline=None, max_examples=100 * MORE)
settings.register_profile(
    "hunt", max_examples=int(os.environ.get("FOTONOMY_HUNT", "100")), deadline=None
)  # fmt: skip
settings.load_profile(
    "hunt" if "FOTONOMY_HUNT" in os.environ else "long" if LONG else "steady"
)  # fmt: skip


@pytest.fixture(scope="session")
def django_db_setup(request: pytest.FixtureRequest, django_db_blocker: Any) -> None:
    """The test database with the demo in it; every test rolls back to it.

    On SQLite it is read from a file kept from run to run: migrations and demo take 20 s of a core.
    """
    if connection.vendor != "sqlite":
        request.getfixturevalue("migrated_db")
        with django_db_blocker.unblock():
            ensure_demo()
        return
    kept = kept_demo()
    with one_at_a_time():
        if kept.exists():
            request.getfixturevalue("in_memory_db")
            with django_db_blocker.unblock():
                read_copy(kept)
            return
        request.getfixturevalue("migrated_db")
        with django_db_blocker.unblock():
            ensure_demo()
            keep_copy(kept)


# An empty test database, made by the migrations: what the fixture of this name does without us.
migrated_db = pytest_django.fixtures.django_db_setup


@pytest.fixture(scope="session")
def in_memory_db(django_test_environment: None, django_db_modify_db_settings: None) -> None:
    """A test database without a table, in memory as Django's own is."""
    name = connection.creation._get_test_db_name()
    connection.close()
    connection.settings_dict["NAME"] = name


@pytest.fixture(scope="session", autouse=True)
def swept_by_copy() -> Iterator[None]:
    """What a test of its own transactions wrote goes by putting the copy back, not table by table."""
    flush = TransactionTestCase._fixture_teardown

    def put_back_or_flush(case: TransactionTestCase) -> None:
        if not put_back():
            flush(case)

    with patch.object(TransactionTestCase, "_fixture_teardown", put_back_or_flush):
        yield


@pytest.fixture(autouse=True)
def own_line(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> None:
    """Nobody stands in the line for long work of the test before, or of a stream left unread.

    Browsers read what they ask for, and have the line that the server has.
    """
    line = long_work.Line() if "browser" in request.path.parts else long_work.Line(1000, 1000)
    monkeypatch.setattr(long_work, "_here", line)


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
