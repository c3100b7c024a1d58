// Lamps from above: one is dragged, its distance and angle are typed for it, and the sums follow.
(() => {
  const form = document.getElementById("lamps");
  const answer = document.getElementById("lamps-answer");
  if (!form || !answer) return;
  const WAIT_MS = 60;
  let asked = 0;
  let waits = 0;
  let held = null;

  const field = (number, name) => form.elements[`l-${number}-${name}`];

  async function ask() {
    const mine = (asked += 1);
    const query = new URLSearchParams(/** @type {any} */ (new FormData(form)));
    const got = await fetch(`?${query}`, { headers: { "X-Fotonomy-Fragment": "lamps" } }).catch(() => null);
    if (mine !== asked || !got || ![200, 422].includes(got.status)) return;
    answer.innerHTML = await got.text();
    // A reload shows what is on the screen.
    history.replaceState(null, "", `?${query}`);
  }

  function soon() {
    clearTimeout(waits);
    waits = setTimeout(ask, WAIT_MS);
  }

  form.addEventListener("input", soon);

  function lampOf(element) {
    const found = element
      .closest?.(".lamp-handle")
      ?.getAttribute("class")
      .match(/lamp-(\d+)/);
    return found ? Number(found[1]) : null;
  }

  answer.addEventListener("pointerdown", (event) => {
    held = lampOf(event.target);
    if (held === null) return;
    event.preventDefault();
    answer.setPointerCapture(event.pointerId);
  });
  answer.addEventListener("pointermove", (event) => {
    const figure = answer.querySelector(".lamps-plan");
    if (held === null || !figure || !answer.hasPointerCapture(event.pointerId)) return;
    const svg = figure.querySelector("svg");
    const frame = svg.getBoundingClientRect();
    const per = svg.viewBox.baseVal.width / frame.width;
    const { x, subject, background, scale } = figure.dataset;
    const from = field(held, "role").value === "background" ? background : subject;
    const across = ((event.clientX - frame.left) * per - x) / scale;
    const before = ((event.clientY - frame.top) * per - from) / scale;
    const away = Math.max(0.1, Math.hypot(across, before));
    field(held, "distance").value = `${Math.round(away * 20) / 20} m`;
    field(held, "angle").value = `${Math.round((Math.atan2(across, before) * 180) / Math.PI)}°`;
    soon();
  });
  for (const end of ["pointerup", "pointercancel"]) answer.addEventListener(end, () => (held = null));
})();
