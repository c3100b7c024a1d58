// The drill: a slider that is moved shows at once what comes of it; an order is sent as one answer.
(() => {
  for (const form of document.querySelectorAll("[data-look]")) {
    form.querySelector("[data-without-script]")?.remove();
    const looked = form.parentElement.querySelector("[data-looked]");
    let asked = 0;
    form.addEventListener("input", () => {
      for (const slider of form.querySelectorAll("input[type=range]")) said(slider);
      const mine = (asked += 1);
      clearTimeout(form.waits);
      form.waits = setTimeout(async () => {
        const query = new URLSearchParams(/** @type {any} */ (new FormData(form)));
        const answer = await fetch(`${form.action}?${query}`, {
          headers: { "X-Fotonomy-Fragment": "drill" },
        }).catch(() => null);
        if (answer?.ok && mine === asked) looked.innerHTML = await answer.text();
      }, 60);
    });
    form.addEventListener("submit", (event) => event.preventDefault());
  }

  function said(slider) {
    const text = slider.dataset.marks.split("|")[slider.value];
    slider.setAttribute("aria-valuetext", text);
    slider.parentElement.querySelector("output").textContent = text;
  }

  // A tone is dragged along its curve; the slider under it does the same by keys.
  for (const box of document.querySelectorAll("[data-curve]")) {
    const points = JSON.parse(box.dataset.curve);
    const [svg, slider] = [box.querySelector("svg"), box.querySelector("[data-along]")];
    const field = document.getElementById(slider.dataset.along);
    const [drop, reach, handle] = ["drop", "reach", "handle"].map((one) => svg.querySelector(`.curve-${one}`));
    const nearest = (of, value) =>
      points.reduce(
        (best, point, k) => (Math.abs(point[of] - value) < Math.abs(points[best][of] - value) ? k : best),
        0,
      );
    function put(k) {
      const [stops, percent, x, y] = points[k];
      for (const [name, value] of [
        ["cx", x],
        ["cy", y],
      ])
        handle.setAttribute(name, value);
      for (const [name, value] of [
        ["x1", x],
        ["x2", x],
        ["y1", y],
      ])
        drop.setAttribute(name, value);
      for (const [name, value] of [
        ["x2", x],
        ["y1", y],
        ["y2", y],
      ])
        reach.setAttribute(name, value);
      slider.value = k;
      slider.setAttribute("aria-valuetext", `${Math.round(percent)} %, ${stops.toFixed(1)} stops from grey`);
    }
    function take(k) {
      put(k);
      field.value = Math.round(points[k][1]);
    }
    function follow(event) {
      const frame = svg.getBoundingClientRect();
      take(nearest(2, ((event.clientX - frame.left) * svg.viewBox.baseVal.width) / frame.width));
    }
    slider.hidden = false;
    slider.addEventListener("input", () => take(Number(slider.value)));
    svg.addEventListener("pointerdown", (event) => {
      svg.setPointerCapture(event.pointerId);
      follow(event);
    });
    svg.addEventListener("pointermove", (event) => {
      if (svg.hasPointerCapture(event.pointerId)) follow(event);
    });
    field.addEventListener("input", () => {
      const typed = Number.parseFloat(field.value.replace(",", "."));
      if (Number.isFinite(typed)) put(nearest(1, typed));
    });
    field.dispatchEvent(new Event("input"));
  }

  // A light is dragged to its EV: the slider fills the field.
  for (const slider of document.querySelectorAll("[data-fills]")) {
    const field = document.getElementById(slider.dataset.fills);
    slider.hidden = false;
    slider.addEventListener("input", () => {
      field.value = slider.value;
    });
    field.addEventListener("input", () => {
      const typed = Number.parseFloat(field.value.replace(",", "."));
      if (Number.isFinite(typed)) slider.value = typed;
    });
  }

  // An order is answered by places; two things that would have one place change places.
  for (const order of document.querySelectorAll("[data-order]"))
    order.addEventListener("change", (event) => {
      const places = [...order.querySelectorAll("[data-place]")];
      const taken = new Set(places.map((one) => one.value));
      const free = places.map((_, k) => String(k + 1)).find((place) => !taken.has(place));
      const other = places.find((one) => one !== event.target && one.value === event.target.value);
      if (other && free) other.value = free;
      const rows = [...order.children].sort(
        (a, b) => a.querySelector("select").value - b.querySelector("select").value,
      );
      order.append(...rows);
      event.target.focus();
    });

  // Enter goes on once an answer is there.
  document.querySelector("[data-result]")?.focus();
  const next = document.querySelector("[data-next]");
  document.addEventListener("keydown", (event) => {
    const busy = event.target.closest?.("a, button, input, select, textarea, [popover]");
    if (next && event.key === "Enter" && !busy) next.click();
    if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest?.("input, select, textarea")) return;
    const choice = document.querySelector(`[data-press="${CSS.escape(event.key)}"]`);
    if (!choice) return;
    event.preventDefault();
    choice.click();
  });
})();
