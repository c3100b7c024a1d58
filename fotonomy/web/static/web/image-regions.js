// Areas on a picture: dragged, sized by their lower right corner, or moved by the arrow keys. The
// numbers of the form are the truth; the drawing follows them.
(() => {
  const picture = document.querySelector("[data-marks]");
  if (!picture) return;
  const drawing = picture.querySelector("svg"),
    { width: wide, height: high } = drawing.viewBox.baseVal;
  const field = (mark, side) => document.querySelector(`[name="${side}-${mark.dataset.mark}"]`);
  const number = (mark, side) => Number(field(mark, side).value.replace(",", ".")) || 0;
  const held = (value, low, top) => Math.min(top, Math.max(low, value));
  const LEAST = 1,
    CORNER_PX = 26;

  const draw = (mark) => {
    const [left, top, width, height] = ["left", "top", "width", "height"].map((side) => number(mark, side));
    const box = mark.querySelector("rect"),
      name = mark.querySelector("text");
    box.setAttribute("x", (left * wide) / 100);
    box.setAttribute("y", (top * high) / 100);
    box.setAttribute("width", (width * wide) / 100);
    box.setAttribute("height", (height * high) / 100);
    name.setAttribute("x", (left * wide) / 100);
    name.setAttribute("y", (top * high) / 100);
  };
  const put = (mark, sides) => {
    const width = held(sides.width, LEAST, 100),
      height = held(sides.height, LEAST, 100);
    const all = { width, height, left: held(sides.left, 0, 100 - width), top: held(sides.top, 0, 100 - height) };
    for (const [side, value] of Object.entries(all)) field(mark, side).value = value.toFixed(2);
    draw(mark);
  };
  const sides = (mark) =>
    Object.fromEntries(["left", "top", "width", "height"].map((side) => [side, number(mark, side)]));

  let grip = null;
  drawing.addEventListener("pointerdown", (event) => {
    const mark = event.target.closest("[data-mark]");
    if (!mark) return;
    event.preventDefault();
    mark.focus();
    const box = mark.querySelector("rect").getBoundingClientRect();
    const sizes = event.clientX > box.right - CORNER_PX && event.clientY > box.bottom - CORNER_PX;
    grip = { mark, sizes, x: event.clientX, y: event.clientY, from: sides(mark) };
    drawing.setPointerCapture(event.pointerId);
  });
  drawing.addEventListener("pointermove", (event) => {
    if (!grip) return;
    const whole = drawing.getBoundingClientRect(),
      { from, mark } = grip;
    const across = (100 * (event.clientX - grip.x)) / whole.width;
    const down = (100 * (event.clientY - grip.y)) / whole.height;
    if (grip.sizes)
      put(mark, {
        ...from,
        width: held(from.width + across, LEAST, 100 - from.left),
        height: held(from.height + down, LEAST, 100 - from.top),
      });
    else put(mark, { ...from, left: from.left + across, top: from.top + down });
  });
  const drop = () => (grip = null);
  drawing.addEventListener("pointerup", drop);
  drawing.addEventListener("pointercancel", drop);

  const KEYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  drawing.addEventListener("keydown", (event) => {
    const mark = event.target.closest("[data-mark]"),
      step = KEYS[event.key];
    if (!mark || !step) return;
    event.preventDefault();
    const from = sides(mark);
    if (event.shiftKey) put(mark, { ...from, width: from.width + step[0], height: from.height + step[1] });
    else put(mark, { ...from, left: from.left + step[0], top: from.top + step[1] });
  });
  for (const mark of drawing.querySelectorAll("[data-mark]"))
    for (const side of ["left", "top", "width", "height"])
      field(mark, side).addEventListener("input", () => draw(mark));
})();
