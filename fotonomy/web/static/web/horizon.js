// A horizon marked on a picture. The picture never leaves the device; the server turns the marked
// shares of its width and height into directions and heights.
(() => {
  const form = document.querySelector("[data-panorama]");
  if (!form) return;
  const part = (name) => form.querySelector(`[data-${name}]`);
  const canvas = part("canvas"),
    svg = part("marks"),
    stage = part("stage");
  const STEP = 0.004,
    WIDEST = 2400;
  let points = JSON.parse(form.elements.points.value || "[]").map(([x, y]) => ({ x, y }));
  let level = Number(form.elements.level.value) || 0.5;
  let held = null;

  const clamp = (value) => Math.min(1, Math.max(0, value));
  const make = (name, given) => {
    const node = document.createElementNS("http://www.w3.org/2000/svg", name);
    for (const [key, value] of Object.entries(given)) node.setAttribute(key, value);
    return node;
  };

  const tell = () => {
    form.elements.points.value = JSON.stringify(points.map(({ x, y }) => [x, y]));
    form.elements.level.value = level.toFixed(5);
    const count = points.length;
    part("count").textContent = count ? `${count} ${count === 1 ? "point" : "points"}` : "";
  };

  const draw = (focus) => {
    points.sort((one, other) => one.x - other.x);
    const width = stage.clientWidth,
      height = canvas.clientHeight;
    svg.setAttribute("viewBox", `0 0 ${width} ${height}`);
    svg.replaceChildren();
    const y = level * height;
    const line = make("g", {
      tabindex: 0,
      role: "slider",
      "aria-label": "Level of the camera",
      "aria-valuenow": Math.round(100 * (1 - level)),
      "aria-valuemin": 0,
      "aria-valuemax": 100,
      class: "level-mark",
    });
    const word = make("text", { x: 23, y: y + 5, class: "level-word" });
    word.textContent = "level";
    line.append(
      make("line", { x1: 0, x2: width, y1: y, y2: y, class: "seen" }),
      make("rect", { x: 0, y: y - 22, width: 44, height: 44, class: "hold" }),
      make("rect", { x: 4, y: y - 9, width: 38, height: 18, class: "grip" }),
      word,
    );
    line.dataset.mark = "level";
    svg.append(line);
    if (points.length > 1)
      svg.append(
        make("polyline", { class: "land-line", points: points.map((p) => `${p.x * width},${p.y * height}`).join(" ") }),
      );
    points.forEach((point, at) => {
      const mark = make("g", {
        tabindex: 0,
        role: "button",
        class: "land-mark",
        "aria-label": `Point ${at + 1} of ${points.length}`,
      });
      const place = { cx: point.x * width, cy: point.y * height };
      mark.append(
        make("circle", { ...place, r: 22, class: "hold" }),
        make("circle", { ...place, r: 6, class: "seen" }),
      );
      mark.dataset.mark = at;
      svg.append(mark);
      if (point === focus) mark.focus();
    });
    if (focus === "level") line.focus();
    tell();
  };

  const where = (event) => {
    const box = canvas.getBoundingClientRect();
    return { x: clamp((event.clientX - box.left) / box.width), y: clamp((event.clientY - box.top) / box.height) };
  };
  const marked = (node) => {
    const mark = node.closest?.("[data-mark]");
    if (!mark) return null;
    return mark.dataset.mark === "level" ? "level" : points[Number(mark.dataset.mark)];
  };

  svg.addEventListener("pointerdown", (event) => {
    const at = where(event);
    held = marked(event.target);
    // Away from every mark a new point is set.
    if (held === null) {
      held = at;
      points.push(held);
    }
    svg.setPointerCapture(event.pointerId);
    event.preventDefault();
    draw(held);
  });
  svg.addEventListener("pointermove", (event) => {
    if (held === null) return;
    const at = where(event);
    if (held === "level") level = at.y;
    else Object.assign(held, at);
    draw(held);
  });
  for (const name of ["pointerup", "pointercancel"]) svg.addEventListener(name, () => (held = null));

  const MOVES = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  svg.addEventListener("keydown", (event) => {
    const one = marked(event.target);
    if (one === null) return;
    if ((event.key === "Delete" || event.key === "Backspace") && one !== "level") {
      const at = points.indexOf(one);
      points.splice(at, 1);
      draw(points[Math.min(at, points.length - 1)] ?? "level");
    } else if (event.key === "Enter" && one === "level") {
      const point = { x: 0.5, y: clamp(level - 0.1) };
      points.push(point);
      draw(point);
    } else if (MOVES[event.key]) {
      const [dx, dy] = MOVES[event.key].map((way) => way * STEP * (event.shiftKey ? 5 : 1));
      if (one === "level") level = clamp(level + dy);
      else Object.assign(one, { x: clamp(one.x + dx), y: clamp(one.y + dy) });
      draw(one);
    } else return;
    event.preventDefault();
  });

  part("picture").addEventListener("change", async (event) => {
    const file = event.target.files[0];
    part("no-picture").hidden = true;
    if (!file) return;
    let picture;
    try {
      picture = await createImageBitmap(file);
    } catch {
      part("no-picture").hidden = false;
      return;
    }
    const share = Math.min(1, WIDEST / picture.width);
    canvas.width = Math.max(1, Math.round(picture.width * share));
    canvas.height = Math.max(1, Math.round(picture.height * share));
    canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
    const aspect = (picture.width / picture.height).toFixed(5);
    // The same picture chosen again after a wrong direction: its points are still good.
    if (aspect !== form.elements.aspect.value) points = [];
    form.elements.aspect.value = aspect;
    picture.close();
    stage.hidden = part("how").hidden = false;
    draw();
  });
  addEventListener("resize", () => stage.hidden || draw());
})();
