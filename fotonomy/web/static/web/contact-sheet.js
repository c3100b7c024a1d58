// Pictures side by side, zoomed and moved together: by the slider, the wheel, dragging, or keys.
(() => {
  const row = document.querySelector("[data-row]");
  if (!row) return;
  const bar = document.querySelector("[data-zoom-bar]");
  const slider = bar.querySelector("[data-zoom]"),
    says = bar.querySelector("[data-zoom-says]");
  const panes = [...row.querySelectorAll("[data-pane]")];
  const STEP = 0.05;
  let zoom = 1,
    x = 0.5,
    y = 0.5,
    grip = null;
  bar.hidden = false;

  const held = (value, low, top) => Math.min(top, Math.max(low, value));
  const show = () => {
    // What is looked at stays within the picture.
    const edge = 0.5 / zoom;
    x = held(x, edge, 1 - edge);
    y = held(y, edge, 1 - edge);
    row.style.setProperty("--zoom", zoom);
    row.style.setProperty("--x", `${(0.5 - x) * 100}%`);
    row.style.setProperty("--y", `${(0.5 - y) * 100}%`);
    slider.value = zoom;
    says.textContent =
      zoom === 1
        ? "whole picture"
        : `${zoom} times, about ${Math.round(x * 100)} % across, ${Math.round(y * 100)} % down`;
  };
  const zoomTo = (value) => {
    zoom = held(Math.round(value * 4) / 4, 1, 8);
    show();
  };
  slider.addEventListener("input", () => zoomTo(Number(slider.value)));
  for (const pane of panes) {
    pane.addEventListener(
      "wheel",
      (event) => {
        event.preventDefault();
        zoomTo(zoom * (event.deltaY < 0 ? 1.25 : 0.8));
      },
      { passive: false },
    );
    pane.addEventListener("pointerdown", (event) => {
      grip = { left: event.clientX, top: event.clientY, x, y, box: pane.getBoundingClientRect() };
      pane.setPointerCapture(event.pointerId);
    });
    pane.addEventListener("pointermove", (event) => {
      if (!grip) return;
      x = grip.x - (event.clientX - grip.left) / grip.box.width / zoom;
      y = grip.y - (event.clientY - grip.top) / grip.box.height / zoom;
      show();
    });
    for (const end of ["pointerup", "pointercancel"]) pane.addEventListener(end, () => (grip = null));
    pane.addEventListener("dblclick", () => zoomTo(zoom > 1 ? 1 : 3));
    pane.addEventListener("keydown", (event) => {
      const moves = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      if (moves) {
        x += (moves[0] * STEP) / zoom;
        y += (moves[1] * STEP) / zoom;
        show();
      } else if (event.key === "+" || event.key === "=") zoomTo(zoom + 0.5);
      else if (event.key === "-") zoomTo(zoom - 0.5);
      else return;
      event.preventDefault();
    });
  }
  show();
})();
