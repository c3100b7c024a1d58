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
        const query = new URLSearchParams(new FormData(form));
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

  // A level is dragged to its mark: the slider fills the field.
  for (const slider of document.querySelectorAll("[data-fills]")) {
    const field = document.getElementById(slider.dataset.fills);
    slider.hidden = false;
    slider.addEventListener("input", () => { field.value = slider.value; });
    field.addEventListener("input", () => {
      const typed = Number.parseFloat(field.value.replace(",", "."));
      if (Number.isFinite(typed)) slider.value = typed;
    });
  }

  // An order is answered by places; two things that would have one place change places.
  const order = document.querySelector("[data-order]");
  order?.addEventListener("change", (event) => {
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
  });
})();
