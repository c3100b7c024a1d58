"""Measure how wide the shipped faces set their letters, and write figures/advances.py.

Run it after the fonts change: ``python tools/glyph_widths.py``. Needs Debian's chromium.
"""

import json
from pathlib import Path

from playwright.sync_api import sync_playwright

ROOT = Path(__file__).resolve().parent.parent
FONTS = ROOT / "fotonomy/web/static/vendor"
TARGET = ROOT / "fotonomy/figures/glyph_widths.py"
ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-background-networking",
    # Letters as wide as in a window.
    "--font-render-hinting=none",
]  # fmt: skip
# What labels are written with: printable Latin, and the marks and signs of the trade.
LETTERS = "".join(map(chr, range(32, 127))) + "".join(map(chr, range(0xA0, 0x180))) + (
    "−–—·×→←↑↓▲■✕◆●…°±µ²³⅓⅔½¼≈≤≥\u202f\u2009'ʹ″′€"
)  # fmt: skip
WEIGHTS = {"PLAIN": 400, "BOLD": 700}
MEASURE = """async ([letters, weight, face]) => {
  await document.fonts.load(`${weight} 100px "${face}"`, letters);
  const pen = document.createElement("canvas").getContext("2d");
  pen.font = `${weight} 100px "${face}"`;
  return [...letters].map((letter) => Math.round(10 * pen.measureText(letter).width));
}"""


def page_markup() -> str:
    """A page that knows the two faces."""
    faces = (("Archivo", "archivo"), ("Spline Sans Mono", "spline-sans-mono"))
    rules = "".join(
        f'@font-face {{ font-family: "{name}"; src: url("file://{FONTS}/{file}.woff2"); '
        "font-weight: 400 800; }" for name, file in faces
    )  # fmt: skip
    return f"<!doctype html><meta charset=utf-8><style>{rules}</style><p>x"


def main() -> None:
    """Measure and write."""
    page_file = ROOT / "tools/.advances.html"
    page_file.write_text(page_markup())
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(
                executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS
            )
            page = browser.new_page()
            page.goto(f"file://{page_file}")
            found = {
                name: page.evaluate(MEASURE, [LETTERS, weight, "Archivo"])
                for name, weight in WEIGHTS.items()
            }
            mono = page.evaluate(MEASURE, ["0", 500, "Spline Sans Mono"])[0]
            browser.close()
    finally:
        page_file.unlink()
    lines = [
        "# ruff: noqa: SIM905",
        '"""Advance widths of the shipped faces, in thousandths of the type size.',
        "",
        "Made by tools/glyph_widths.py; not edited by hand.",
        '"""',
        "",
        "LETTERS = (",
        *(
            f"    {json.dumps(LETTERS[k : k + 40], ensure_ascii=True)}"
            for k in range(0, len(LETTERS), 40)
        ),
        ")",
    ]
    for name, widths in found.items():
        lines += ["", f"{name} = dict(", "    zip(", "        LETTERS,"]
        lines += ["        map(", "            int,", "            ("]
        rows = [" ".join(map(str, widths[k : k + 18])) for k in range(0, len(widths), 18)]
        lines += [f'                "{row} "' for row in rows]
        lines += ["            ).split(),", "        ),", "        strict=True,", "    )", ")"]
    lines += ["", f"MONO = {mono}", ""]
    TARGET.write_text("\n".join(lines))


if __name__ == "__main__":
    main()
