"""``make screenshots``: one current picture of each main view, from the demo data.

With ``--small`` the bench alone, into a folder that is thrown away. With names of pictures
(``tools/screenshots.py drill day``) only those are kept; the way to the others is walked too.
"""

import os
import sys
import tempfile
from io import BytesIO
from pathlib import Path

from PIL import Image
from playwright.sync_api import Browser, Page, sync_playwright

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from benchmarks import scale  # noqa: E402
from benchmarks.measures import database_in, served  # noqa: E402

TARGET = ROOT / "docs" / "screenshots"
ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-background-networking",
    # Letters as wide as in a window.
    "--font-render-hinting=none",
]  # fmt: skip


def enter(browser: Browser, address: str, width: int, height: int, night: bool = False) -> Page:
    """A page inside the demo, on its shoot."""
    page = browser.new_page(viewport={"width": width, "height": height}, base_url=address)
    page.goto("/log-in/")
    if night:
        page.get_by_role("button", name="Night").click()
    page.get_by_role("button", name="Enter the demo").click()
    return page


def bench(page: Page, setup: str, opened: str = "none") -> None:
    """Open a setup of the demo shoot, with a tile on the stage or none."""
    page.goto("/shoots/")
    page.get_by_role("link", name="Keel to Tide").first.click()
    page.locator(".row", has_text=setup).locator("a").click()
    page.locator("h1", has_text=setup).wait_for()
    page.goto(f"{page.url.partition('?')[0]}?open={opened}")
    page.locator(".bench-page[data-ready]").wait_for()
    page.wait_for_load_state("networkidle")


def shoot(page: Page, name: str, whole: bool = False) -> None:
    """Keep a picture once the fonts are there."""
    page.evaluate("document.fonts.ready")
    keep(name, Image.open(BytesIO(page.screenshot(full_page=whole))))


def keep(name: str, drawn: Image.Image) -> None:
    """Write one picture, unless others were asked for by name."""
    asked = [word for word in sys.argv[1:] if not word.startswith("-")]
    if not asked or name in asked:
        drawn.save(TARGET / f"{name}.png", optimize=True)
        print(name, flush=True)


def nothing_fits(page: Page, plans: Image.Image) -> None:
    """Plans, and a setup made impossible beside them: sun, an open iris, no glass, all held."""
    bench(page, "5A Launch, side pass", "light")
    for name, text in (("light", "15 EV"), ("iris", "f/1.8"), ("nd_density", "none")):
        page.locator(f"#f-{name}").fill(text)
        page.keyboard.press("Tab")
        page.wait_for_load_state("networkidle")
    for name in ("iris", "nd_density"):
        page.locator(f"[data-scale={name}] .hold input").check()
        page.wait_for_load_state("networkidle")
    page.locator("h1").click()
    page.keyboard.press("p")
    page.locator(".missing").wait_for()
    beside("plans", plans, picture(page))


def level_and_noise(page: Page) -> None:
    """A scene of many tones: its level, the methods, the monitor, and paper."""
    bench(page, "7A Forge door", "level")
    level = picture(page)
    page.keyboard.press("x")
    page.locator("#methods .methods").wait_for()
    beside("level", level, picture(page))
    bench(page, "7A Forge door", "picture")
    page.get_by_role("link", name="All views").click()
    page.wait_for_load_state("networkidle")
    shoot(page, "monitor", whole=True)
    bench(page, "4B Adze chips")
    page.locator(".files summary", has_text="Paper").click()
    page.get_by_role("link", name="Call sheet").click()
    page.locator("[data-print]").wait_for()
    shoot(page, "call-sheet")


def runs(page: Page) -> None:
    """The benches of single pictures, and a rehearsal that goes wrong."""
    bench(page, "8A Mast and stars", "run")
    shoot(page, "interval")
    page.get_by_role("link", name="Dry run").click()
    page.locator("#dry[data-ready]").wait_for()
    page.get_by_label("somebody turns the interval dial").check()
    page.get_by_role("button", name="Run it").click()
    page.locator(".dry-word").wait_for()
    page.get_by_role("button", name="take Pack 100").click()
    page.locator("#dry[data-ready]").wait_for()
    shoot(page, "dry-run")


def working(page: Page) -> None:
    """How a number came about, over the bench it stands on."""
    bench(page, "4B Adze chips")
    page.locator("[data-tile=motion] .tile-line a.number").nth(1).click()
    page.locator(".working-lines").wait_for()
    shoot(page, "working")
    page.keyboard.press("Escape")


def drill(browser: Browser, address: str) -> None:
    """The drill on a phone: a graded exercise, a lesson, and what is weak."""
    page = enter(browser, address, 390, 844)
    for kind, guess in (("how-many-stops", "3"), ("nd-for-this", "5"), ("read-the-light", "12"),
                        ("place-the-face", "60"), ("how-many-stops", "4")):  # fmt: skip
        for seed in (3, 4, 5):
            page.goto(f"/drill/{kind}/1/{seed}/")
            page.locator("#answer").fill(guess)
            page.get_by_role("button", name="Check").click()
            page.locator(".drill-result").wait_for()
    page.goto("/drill/set-it/2/7/")
    page.get_by_role("button", name="Check").click()
    page.locator(".drill-side img").first.wait_for()
    page.wait_for_load_state("networkidle")
    exercise = picture(page)
    page.goto("/drill/lessons/iris/")
    page.wait_for_load_state("networkidle")
    lesson = picture(page)
    page.goto("/drill/")
    page.locator("#skills-title").scroll_into_view_if_needed()
    page.evaluate("document.getElementById('skills-title').scrollIntoView()")
    beside("drill", exercise, lesson, picture(page))


def days(page: Page) -> None:
    """The first day with a setup in hand, and a year looked through for another."""
    page.goto("/shoots/")
    page.get_by_role("link", name="Keel to Tide").first.click()
    page.get_by_role("link", name="Day", exact=True).click()
    page.locator(".day-page[data-ready]").wait_for()
    page.locator('.block[aria-label^="5A"]').click()
    page.locator(".in-hand h2", has_text="5A").wait_for()
    page.locator("h1").click()
    shoot(page, "day")
    page.get_by_role("link", name="Sun 6").click()
    page.locator(".day-page[data-ready]").wait_for()
    page.locator('.block[aria-label^="8A"]').click()
    page.locator(".in-hand h2", has_text="8A").wait_for()
    page.get_by_role("link", name="Find a better date").click()
    page.locator("table.parts").wait_for()
    year = picture(page)
    page.goto("/shoots/")
    page.get_by_role("link", name="Keel to Tide").first.click()
    page.goto(f"/shoots/{page.url.split('/')[4]}/places/")
    page.locator(".site-plan a.camera", has_text="5A").first.click()
    page.wait_for_load_state("networkidle")
    beside("places", picture(page), year)


def at_the_spot(browser: Browser, address: str) -> None:
    """The card of a setup in full sun, and light that differs by night."""
    page = enter(browser, address, 390, 844)
    bench(page, "6A Ferry lights over the estuary")
    page.get_by_role("link", name="Field", exact=True).click()
    page.get_by_role("button", name="sun", exact=True).click()
    page.get_by_role("link", name="6A Ferry lights").click()
    page.locator(".values").wait_for()
    sun = picture(page)
    page.get_by_role("button", name="day", exact=True).click()
    page.get_by_role("link", name="the day", exact=True).click()
    page.get_by_role("link", name="4B Adze chips").click()
    page.get_by_role("link", name="Log a take").click()
    page.locator(".verdicts").wait_for()
    log = picture(page)
    page.get_by_role("link", name="‹ card").click()
    page.get_by_role("link", name="the day", exact=True).click()
    page.get_by_role("link", name="What remains").click()
    page.locator(".scenes").wait_for()
    remains = picture(page)
    page = enter(browser, address, 390, 844, night=True)
    bench(page, "5A Launch, side pass")
    page.get_by_role("link", name="Field", exact=True).click()
    page.get_by_role("link", name="5A Launch").click()
    page.locator(".values").wait_for()
    night = picture(page)
    page.get_by_role("link", name="Light differs").click()
    page.get_by_role("button", name="−1", exact=True).click()
    page.locator(".ways").wait_for()
    beside("field-card", sun, night)
    beside("field-log", picture(page), log, remains)


def afterwards(browser: Browser, address: str) -> None:
    """Plan against actual, and a test frame beside it."""
    page = enter(browser, address, 1280, 844)
    bench(page, "3A Trolley to the saw")
    page.get_by_role("link", name="Takes", exact=True).click()
    page.locator("figure.drawing").wait_for()
    held = picture(page)
    phone = enter(browser, address, 390, 844)
    bench(phone, "3A Trolley to the saw")
    phone.get_by_role("link", name="Takes", exact=True).click()
    phone.get_by_role("link", name="3A Trolley to the saw").click()
    phone.locator(".take-block h2 a").first.click()
    phone.get_by_role("link", name="What it says").click()
    phone.locator("[data-marks]").wait_for()
    phone.wait_for_load_state("networkidle")
    beside("takes", held, picture(phone))
    desk = enter(browser, address, 1280, 1000)
    bench(desk, "1A Mill pond filling")
    desk.get_by_role("link", name="Takes", exact=True).click()
    desk.get_by_role("link", name="1A Mill pond filling").click()
    desk.get_by_role("link", name="The run, frame by frame").click()
    desk.locator(".run-events img").first.wait_for()
    desk.wait_for_load_state("networkidle")
    shoot(desk, "run")


def picture(page: Page) -> Image.Image:
    """What a page shows, once the fonts are there."""
    page.evaluate("document.fonts.ready")
    return Image.open(BytesIO(page.screenshot()))


def beside(name: str, *pictures: Image.Image) -> None:
    """Keep several phones side by side as one picture."""
    gap = 20
    width = sum(one.width for one in pictures) + gap * (len(pictures) - 1)
    whole = Image.new("RGB", (width, max(one.height for one in pictures)), "#888")
    left = 0
    for one in pictures:
        whole.paste(one, (left, 0))
        left += one.width + gap
    keep(name, whole)


def main() -> None:
    """All pictures."""
    global TARGET
    chromium = os.environ.get("FOTONOMY_CHROMIUM", "/usr/bin/chromium-headless-shell")
    folder = tempfile.TemporaryDirectory()
    if scale.is_small():
        TARGET = Path(folder.name) / "pictures"
    TARGET.mkdir(parents=True, exist_ok=True)
    database_in(Path(folder.name))
    with folder, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium, args=ARGUMENTS)
        with served() as (address, _):
            page = enter(browser, address, 1280, 800)
            bench(page, "4B Adze chips")
            shoot(page, "bench")
            if scale.is_small():
                return
            bench(page, "1B Mist over the slip")
            page.keyboard.press("p")
            page.locator(".plan-row").first.wait_for()
            plans = picture(page)
            bench(page, "4C Caulking iron", "focus")
            shoot(page, "bench-open")
            level_and_noise(page)
            runs(page)
            bench(page, "4B Adze chips")
            page.keyboard.press("c")
            page.locator("table.compare").wait_for()
            shoot(page, "compare")
            page.goto("/kit/")
            shoot(page, "kit")
            working(page)
            days(page)
            nothing_fits(page, plans)
            page.keyboard.press("p")
            for _ in range(5):
                page.keyboard.press("z")
                page.wait_for_load_state("networkidle")
            page = enter(browser, address, 1280, 800, night=True)
            bench(page, "7A Forge door")
            night = picture(page)
            page = enter(browser, address, 390, 800)
            bench(page, "4B Adze chips")
            beside("bench-night", night, picture(page))
            at_the_spot(browser, address)
            afterwards(browser, address)
            drill(browser, address)
        browser.close()


if __name__ == "__main__":
    main()
