// Scales and readings under the hand: drag, wheel, and steps by marks.
document.addEventListener("alpine:init", () => {
  const MARK_PX = 34;

  Alpine.data("scales", () => ({
    init() {
      this.store = Alpine.store("bench");
      this.store.step = (scale, marks) => this.step(scale, marks);
      this.dragScales();
      this.dragReadings();
      this.$root.addEventListener(
        "wheel",
        (event) => {
          const held = event.target.closest(".track");
          if (!held || document.activeElement !== held) return;
          event.preventDefault();
          this.step(held.closest(".scale"), Math.sign(event.deltaY || event.deltaX));
        },
        { passive: false },
      );
    },

    // Move a scale by marks and send; ends are ends.
    step(scale, marks) {
      const options = JSON.parse(scale.dataset.options);
      if (!options.length) return;
      const input = scale.querySelector("input[name]");
      const at = options.findIndex(([text]) => text === input.value);
      const start = at >= 0 ? at : Number(scale.dataset.index);
      this.choose(scale, Math.max(0, Math.min(options.length - 1, start + marks)));
    },

    choose(scale, index) {
      const options = JSON.parse(scale.dataset.options);
      const input = scale.querySelector("input[name]");
      const picked = options[index];
      if (!picked || picked[0] === input.value) return;
      input.value = picked[0];
      scale.querySelector(".track").setAttribute("aria-valuetext", picked[0]);
      scale.querySelectorAll(".mark").forEach((mark, k) => {
        const around = options[index + k - 2];
        mark.textContent = around ? around[1] : "";
        mark.dataset.value = around ? around[0] : "";
        mark.classList.toggle("is-present", k === 2);
      });
      this.store.change(input.name);
    },

    // One drag: `begin` gives what is held or nothing, `move` gets it and the way gone in px.
    drag(begin, move, drop) {
      let hold = null;
      this.$root.addEventListener("pointerdown", (event) => {
        const held = event.button ? null : begin(event);
        if (!held) return;
        hold = { ...held, x: event.clientX, moved: 0, id: event.pointerId };
        this.store.gesture = `drag-${Date.now()}-${Math.round(performance.now())}`;
      });
      this.$root.addEventListener("pointermove", (event) => {
        if (hold && event.pointerId === hold.id) move(hold, event.clientX - hold.x);
      });
      const end = (event) => {
        if (!hold || event.pointerId !== hold.id) return;
        const done = hold;
        hold = null;
        this.store.gesture = "";
        if (event.type === "pointerup") drop?.(done, event);
      };
      this.$root.addEventListener("pointerup", end);
      this.$root.addEventListener("pointercancel", end);
    },

    // A track sideways: the ring turns under the finger, one mark every so many pixels. A press
    // that does not travel picks the mark under it.
    dragScales() {
      this.drag(
        (event) => {
          const held = event.target.closest(".track");
          if (!held) return null;
          held.setPointerCapture(event.pointerId);
          return { scale: held.closest(".scale") };
        },
        (hold, way) => {
          const marks = Math.round(-way / MARK_PX);
          if (marks === hold.moved) return;
          this.step(hold.scale, marks - hold.moved);
          hold.moved = marks;
        },
        (hold, event) => {
          if (hold.moved) return;
          const under = document
            .elementsFromPoint(event.clientX, event.clientY)
            .find((element) => element.matches(".mark[data-value]"));
          const options = JSON.parse(hold.scale.dataset.options);
          if (under)
            this.choose(
              hold.scale,
              options.findIndex(([text]) => text === under.dataset.value),
            );
        },
      );
    },

    // A reading along the level drawing: by tenths of a stop, as many as fit into the way the
    // finger went. The drawing is swapped on the way, so the figure holds the pointer.
    dragReadings() {
      this.drag(
        (event) => {
          const mark = event.target.closest("[data-reading]");
          if (!mark) return null;
          const svg = mark.ownerSVGElement;
          const tenth = Number(mark.dataset.tenth) * (svg.clientWidth / svg.viewBox.baseVal.width);
          mark.closest("figure").setPointerCapture(event.pointerId);
          event.preventDefault();
          return { index: mark.dataset.reading, tenth };
        },
        (hold, way) => {
          const tenths = Math.round(way / hold.tenth);
          if (tenths === hold.moved) return;
          this.store.nudge(hold.index, tenths - hold.moved);
          hold.moved = tenths;
        },
      );
    },
  }));
});
