// The running order: dragged with the mouse or a finger; the server keeps it and says what can be undone.
document.addEventListener("alpine:init", () => {
  Alpine.data("order", () => ({
    init() {
      const list = this.$root.querySelector("[data-order]");
      const row = list.querySelector("[aria-current]");
      if (row) list.scrollLeft = row.offsetLeft - list.offsetLeft;
      Sortable.create(list, {
        animation: matchMedia("(prefers-reduced-motion: reduce)").matches ? 0 : 120,
        delay: 200,
        delayOnTouchOnly: true,
        onEnd: (event) => {
          if (event.oldIndex !== event.newIndex) Alpine.store("bench").task(() => this.keep(list));
        },
      });
    },

    async keep(list) {
      const token = document.querySelector("#bench [name=csrfmiddlewaretoken]").value;
      const rows = [...list.querySelectorAll("[data-setup]")];
      const body = new URLSearchParams({
        csrfmiddlewaretoken: token,
        setup: list.querySelector("[aria-current]").dataset.setup,
      });
      rows.forEach((row) => body.append("order", row.dataset.setup));
      const html = await fotonomy.server.post(list.dataset.order, body);
      if (html !== null) Alpine.store("bench").show(html);
    },
  }));
});
