"""A second factor from the drawing to the log-in, in the browser."""

import time
import urllib.parse
from base64 import b32decode
from io import BytesIO
from typing import Any

import cv2
import numpy as np
import pytest
from django.contrib.auth import get_user_model
from PIL import Image
from playwright.sync_api import Page, expect

from tests.web.test_second_factor import code_at

NAME, PASSWORD = "rigger", "slack-water-7"


def read_by_a_phone(page: Page) -> str:
    """What a reader of QR codes (OpenCV's) sees on the screen.

    A hand moves a phone nearer and farther until it reads; OpenCV misses some
    codes at one size that it reads at another.
    """
    shot = Image.open(BytesIO(page.locator(".qr-sheet").screenshot())).convert("L")
    for nearer in (1.0, 1.5, 2.0, 3.0, 0.75):
        size = (round(shot.width * nearer), round(shot.height * nearer))
        text, *_ = cv2.QRCodeDetector().detectAndDecode(np.asarray(shot.resize(size)))
        if text:
            return text
    return ""


@pytest.mark.parametrize("theme", ["day", "night"])
def test_from_the_drawing_to_the_log_in(
    new_page: Any, live_server: Any, transactional_db: None, theme: str
) -> None:
    page, address = new_page(), live_server.url
    get_user_model().objects.create_user(NAME, password=PASSWORD)
    page.context.add_cookies([{"name": "theme", "value": theme, "url": address}])
    page.goto(f"{address}/account/second-factor/")
    page.get_by_label("Username").fill(NAME)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_label("Password").press("Enter")
    told = urllib.parse.urlparse(read_by_a_phone(page))
    asked = urllib.parse.parse_qs(told.query)
    assert (told.scheme, told.netloc, told.path) == ("otpauth", "totp", f"/Fotonomy%3A{NAME}")
    assert asked["issuer"] == ["Fotonomy"]
    assert page.locator(".secret").inner_text().replace(" ", "") == asked["secret"][0]
    secret = b32decode(asked["secret"][0])
    page.get_by_label("Type the six digits").fill(code_at(secret, time.time()))
    page.keyboard.press("Enter")
    expect(page.locator(".paper-codes code")).to_have_count(10)
    codes = page.locator(".paper-codes code").all_inner_texts()
    page.get_by_role("link", name="I have them").click()
    expect(page.locator("main")).to_contain_text("Second factor: on")
    page.context.clear_cookies()
    page.goto(f"{address}/kit/")
    page.get_by_label("Username").fill(NAME)
    page.get_by_label("Password").fill(PASSWORD)
    page.keyboard.press("Enter")
    # The field has the focus: type and go.
    expect(page.locator("#code")).to_be_focused()
    page.keyboard.type(codes[0])
    page.keyboard.press("Enter")
    expect(page).to_have_url(f"{address}/kit/")
