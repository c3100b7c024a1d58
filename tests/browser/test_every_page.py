"""On every page, at four widths, by day and by night: nothing too small, cut off or overlapping."""

from typing import Any

import pytest
from playwright.sync_api import Page

from tests.browser.conftest import enter_demo
from tests.browser.pages import every_page
from tests.demo_copy import demo_again

pytestmark = pytest.mark.django_db(transaction=True)

# Letters of formulas (subscripts, roots) are set as in print, smaller than the text.
FOUND = """() => {
  const found = [];
  const seen = (one) => one.checkVisibility({opacityProperty: true, visibilityProperty: true});
  const left_out = (one) => one.closest(
    "option, datalist, script, style, noscript, .sr, math, sub, sup, [hidden], .default-submit, dialog:not([open])");
  const words = (one) => one.textContent.trim().replace(/\\s+/g, " ").slice(0, 40);
  const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (walk.nextNode()) {
    const parent = walk.currentNode.parentElement;
    if (!walk.currentNode.textContent.trim() || left_out(parent) || !seen(parent)) continue;
    if (parent.getBoundingClientRect().width <= 1) continue;
    // A drawing may be shown larger or smaller than it is written.
    const svg = parent.closest("svg");
    const scale = svg && parent.getScreenCTM ? Math.abs(parent.getScreenCTM().d) : 1;
    const size = parseFloat(getComputedStyle(parent).fontSize) * scale;
    if (size < 11.95) found.push(`small ${size.toFixed(1)} px: ${words(parent)}`);
  }
  if (document.documentElement.scrollWidth > innerWidth)
    found.push(`wide: ${document.documentElement.scrollWidth} px`);
  const pen = document.createElement("canvas").getContext("2d");
  for (const one of document.querySelectorAll("body *")) {
    if (left_out(one) || !seen(one)) continue;
    const style = getComputedStyle(one);
    if (one.matches("select") && !one.multiple && one.selectedOptions[0]) {
      pen.font = `${style.fontWeight} ${style.fontSize} ${style.fontFamily}`;
      const room = one.clientWidth - parseFloat(style.paddingLeft) - 16;
      const text = one.selectedOptions[0].textContent.trim();
      if (pen.measureText(text).width > room + 1) found.push(`cut select: ${text}`);
    } else if (one.matches("input:not([type=checkbox], [type=radio], [type=file], [type=range])")) {
      if (one.value && one.scrollWidth > one.clientWidth + 1) found.push(`cut field: ${one.value}`);
    } else if (["hidden", "clip"].includes(style.overflowX) && !one.closest("svg") && one.clientWidth > 1) {
      const text = [...one.childNodes].some((node) => node.nodeType === 3 && node.textContent.trim());
      if (text && one.scrollWidth > one.clientWidth + 1) found.push(`cut: ${words(one)}`);
    }
  }
  for (const svg of document.querySelectorAll("svg")) {
    if (left_out(svg) || !seen(svg)) continue;
    const frame = svg.getBoundingClientRect();
    const texts = [...svg.querySelectorAll("text")].filter((one) => seen(one) && one.textContent.trim());
    const boxes = texts.map((one) => one.getBoundingClientRect());
    boxes.forEach((box, k) => {
      if (getComputedStyle(svg).overflow === "hidden" && (box.left < frame.left - 1.5 || box.right > frame.right + 1.5))
        found.push(`cut in a drawing: ${words(texts[k])}`);
      for (let j = 0; j < k; j++) {
        const other = boxes[j];
        const wide = Math.min(box.right, other.right) - Math.max(box.left, other.left);
        // Of the height of a line a quarter above and below the letters is blank.
        const blank = Math.min(box.height, other.height) / 4;
        const high = Math.min(box.bottom, other.bottom) - Math.max(box.top, other.top) - 2 * blank;
        if (wide > 1.5 && high > 1 && !texts[k].closest("[transform*=rotate]"))
          found.push(`overlapping in a drawing: ${words(texts[j])} | ${words(texts[k])}`);
      }
    });
  }
  // What floats over the page on purpose (strips at its edge, panels) covers other things.
  const floats = (one) => {
    for (let at = one; at && at !== document.body; at = at.parentElement)
      if (["fixed", "sticky"].includes(getComputedStyle(at).position)) return true;
    return false;
  };
  const things = [...document.querySelectorAll("a, button, input, select, textarea, summary")].filter(
    (one) => !one.closest("svg") && !left_out(one) && seen(one) && !floats(one) && one.type !== "hidden"
      && one.getBoundingClientRect().width > 2);
  const spots = things.map((one) => [...one.getClientRects()]);
  spots.forEach((mine, k) => {
    for (let j = 0; j < k; j++) {
      if (things[k].contains(things[j]) || things[j].contains(things[k])) continue;
      for (const box of mine) for (const other of spots[j]) {
        const wide = Math.min(box.right, other.right) - Math.max(box.left, other.left);
        const high = Math.min(box.bottom, other.bottom) - Math.max(box.top, other.top);
        if (wide > 2 && high > 4)
          found.push(`overlapping: ${words(things[j]) || things[j].name} | ${words(things[k]) || things[k].name}`);
      }
    }
  });
  return [...new Set(found)];
}"""


@pytest.mark.parametrize("theme", ["Day", "Night"])
@pytest.mark.parametrize("size", [(390, 844), (820, 1180), (1280, 800), (1920, 1080)])
def test_nothing_is_small_cut_or_overlapping(
    new_page: Any, theme: str, size: tuple[int, int]
) -> None:
    demo_again()
    page: Page = new_page(*size)
    page.goto("/log-in/")
    if theme == "Night":
        page.get_by_role("button", name="Night").click()
    enter_demo(page)
    troubles = []
    for path in every_page():
        page.goto(path)
        page.evaluate("document.fonts.ready")
        troubles += [f"{path} {one}" for one in page.evaluate(FOUND)]
    assert troubles == [], "\n".join(troubles)
