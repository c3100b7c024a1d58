// The running order: dragged with the mouse or a finger; the server keeps it and says what can be undone.
document.addEventListener("alpine:init", () => {
  Alpine.data("order", () => ({
    init() {
      const list = this.$root.querySelector("[data-order]");
      const row = list.querySelector("[aria-current]");
      if (row) list.scrollLeft = row.offsetLeft - list.offsetLeft;
      this.whenWanted(list);
    },

    // What drags is fetched when a hand comes near: most visits to a bench never move a row.
    whenWanted(list) {
      const near = ["pointerover", "focusin"];
      const fetchIt = () => {
        document.removeEventListener("touchstart", fetchIt);
        near.forEach((name) => list.removeEventListener(name, fetchIt));
        const script = document.createElement("script");
        script.src = list.dataset.sortable;
        script.addEventListener("load", () => this.makeSortable(list));
        document.head.append(script);
      };
      near.forEach((name) => list.addEventListener(name, fetchIt));
      document.addEventListener("touchstart", fetchIt, { passive: true });
    },

    makeSortable(list) {
      Sortable.create(list, {
        animation: matchMedia("(prefers-reduced-motion: reduce)").matches ? 0 : 120,
        delay: 200,
        delayOnTouchOnly: true,
        onEnd: (event) => {
          if (event.oldIndex !== event.newIndex) this.keep(list);
        },
      });
      list.dataset.sorts = "";
    },

    keep(list) {
      const here = list.querySelector("[aria-current]").dataset.setup;
      const body = new URLSearchParams({ setup: here });
      for (const row of list.querySelectorAll("[data-setup]")) body.append("order", row.dataset.setup);
      Alpine.store("bench").post(list.dataset.order, body);
    },
  }));
});
