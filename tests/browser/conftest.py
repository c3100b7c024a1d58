"""A real browser: Debian's chromium, headless, no network but the test server."""

import os
from collections.abc import Iterator
from time import monotonic, time
from typing import Any

import pytest
from django.conf import settings
from django.contrib.auth import get_user_model
from django.test import Client
from playwright.sync_api import Browser, FloatRect, Page, expect, sync_playwright

from fotonomy.demo.loader import DEMO_USER
from fotonomy.shoots.models import Setup
from tests.demo_copy import demo_again

# Playwright runs an event loop of its own beside Django's tests.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
CHROMIUM = os.environ.get("FOTONOMY_CHROMIUM", "/usr/bin/chromium-headless-shell")
# How long is waited for what must come: on a machine that has much to do it comes late, not never.
PATIENCE_MS = 30_000
expect.set_options(timeout=PATIENCE_MS)
# Where the tests' own server is.
_served: list[str] = []
ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-background-networking",
    # Letters as wide as in a window.
    "--font-render-hinting=none",
]  # fmt: skip


# What Chromium writes to the console as an error where a test provokes it on purpose: a status,
# and a database that is taken from an open page because the data of the site is cleared.
PROVOKED = ("Failed to load resource", "Force close delete origin")


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        yield browser
        browser.close()


@pytest.fixture(scope="session")
def live_server(live_server: Any) -> Any:
    """The tests' own server; where it is, is known to whoever enters the demo."""
    _served[:] = [live_server.url]
    return live_server


@pytest.fixture
def new_page(chromium: Browser, live_server: Any) -> Iterator[Any]:
    """A function that opens a page; any script error or refused policy fails the test."""
    contexts, troubles = [], []
    under_way: set[Any] = set()

    def listen(message: Any) -> None:
        if message.type == "error" and not any(words in message.text for words in PROVOKED):
            troubles.append(message.text)

    def open_page(width: int = 1280, height: int = 800, **options: Any) -> Page:
        context = chromium.new_context(
            viewport={"width": width, "height": height}, base_url=live_server.url, **options
        )
        context.set_default_timeout(PATIENCE_MS)
        contexts.append(context)
        page = context.new_page()
        page.on("pageerror", lambda error: troubles.append(str(error)))
        page.on("console", listen)
        page.on("request", lambda request: under_way.add(request))
        page.on("requestfinished", lambda request: under_way.discard(request))
        page.on("requestfailed", lambda request: under_way.discard(request))
        return page

    yield open_page
    for context in contexts:
        # What the server still works on would meet an emptied database.
        answered = monotonic() + 5
        while under_way and context.pages and monotonic() < answered:
            context.pages[0].wait_for_timeout(20)
        under_way.clear()
        context.close()
    assert troubles == []


@pytest.fixture
def demo_page(new_page: Any, transactional_db: None) -> Page:
    """A desk-sized page inside the demo, on setup 4B."""
    demo_again()
    page = new_page()
    enter_demo(page)
    return page


def resting(page: Page, selector: str) -> FloatRect:
    """Where something stands once it stands still: a drawing that is being swapped is nowhere."""
    waited = monotonic() + PATIENCE_MS / 1000
    last = None
    while monotonic() < waited:
        box = page.locator(selector).bounding_box()
        if box is not None and box == last:
            return box
        last = box
        page.wait_for_timeout(60)
    raise AssertionError(f"{selector} does not come to rest")


def at_bench(page: Page, setup: str) -> None:
    """Wait for the bench of a setup, and for its scripts: a key pressed before is not heard."""
    page.locator("h1", has_text=setup).wait_for()
    page.locator(".bench-page[data-ready]").wait_for()


def enter_demo(page: Page, setup: str = "4B Adze chips", scripts: bool = True) -> None:
    """Logged in as the demo's person, on the bench of a setup.

    By a session of their own and not through the door, which has tests of its own.
    """
    client = Client()
    client.force_login(get_user_model().objects.get(username=DEMO_USER))
    session = client.cookies[settings.SESSION_COOKIE_NAME].value
    # As Django's own it outlives the browser.
    lasts = time() + settings.SESSION_COOKIE_AGE
    page.context.add_cookies([
        {"name": settings.SESSION_COOKIE_NAME, "value": session, "url": _served[-1],
         "expires": lasts},
    ])  # fmt: skip
    code, _, _ = setup.partition(" ")
    row = Setup.objects.get(code=code, shoot__owner__username=DEMO_USER)
    page.goto(row.get_absolute_url())
    if scripts:
        at_bench(page, setup)
    else:
        page.locator("h1", has_text=setup).wait_for()


def open_tile(page: Page, name: str) -> None:
    """Give a tile the stage, as a press on its name does."""
    link = page.locator(f"#open-{name}")
    if link.get_attribute("aria-expanded") != "true":
        link.click()
    page.locator(f"#stage.tile-{name}").wait_for()
