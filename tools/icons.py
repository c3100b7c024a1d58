"""Makes the icons of the field pages from the mark; run by hand when the mark changes."""

from pathlib import Path

from playwright.sync_api import sync_playwright

STATIC = Path(__file__).resolve().parent.parent / "fotonomy" / "site" / "static" / "site"
CHROMIUM = "/usr/bin/chromium-headless-shell"
# A launcher may cut the icon round: the mark keeps to the middle.
PAGE = """<body style="margin:0;background:#f6f3ec;display:grid;place-items:center;
width:{px}px;height:{px}px"><div style="width:62%;height:62%">{mark}</div>"""


def main() -> None:
    """Write one picture a size."""
    mark = (STATIC / "mark.svg").read_text("utf-8")
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=["--no-sandbox"])
        for px in (192, 512):
            page = browser.new_page(viewport={"width": px, "height": px})
            page.set_content(PAGE.format(px=px, mark=mark))
            page.screenshot(path=STATIC / f"mark-{px}.png")
        browser.close()


if __name__ == "__main__":
    main()
