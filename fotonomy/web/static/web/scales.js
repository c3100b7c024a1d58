// Scales and readings under the hand: drag, wheel, and steps by marks.
document.addEventListener("alpine:init", () => {
  const MARK_PX = 34;
  const RESTED_MS = 300;

  Alpine.data("scales", () => ({
    init() {
      this.store = Alpine.store("bench");
      this.store.step = (scale, marks) => this.step(scale, marks);
      this.store.putBack = () => this.putBack();
      this.dragScales();
      this.dragReadings();
      this.dragBars();
      this.dragFocus();
      this.$root.addEventListener("click", (event) => this.pressed(event));
      this.$root.addEventListener(
        "wheel",
        (event) => {
          const held = event.target.closest(".track");
          if (!held || !this.meant(held)) {
            this.rolledAt = performance.now();
            return;
          }
          event.preventDefault();
          this.wheel(held.closest(".scale"), Math.sign(event.deltaY || event.deltaX));
        },
        { passive: false },
      );
      this.$root.addEventListener("pointerover", (event) => {
        const over = event.target.closest(".track");
        if (over !== this.over) [this.over, this.overAt] = [over, performance.now()];
      });
    },

    // A wheel turns a scale that has the focus, or over which the pointer has come to rest. A page
    // that rolls by under the pointer turns nothing.
    meant(track) {
      if (document.activeElement === track) return true;
      const now = performance.now();
      return this.over === track && now - this.overAt > RESTED_MS && now - (this.rolledAt || 0) > RESTED_MS;
    },

    // What is turned without a pause is one step to undo.
    wheel(scale, marks) {
      clearTimeout(this.rolling);
      this.turned ??= `wheel-${Date.now()}-${Math.round(performance.now())}`;
      this.store.gesture = this.turned;
      this.step(scale, marks);
      this.store.gesture = "";
      this.rolling = setTimeout(() => (this.turned = null), 700);
    },

    // Move a scale by marks and send; ends are ends.
    step(scale, marks) {
      const options = JSON.parse(scale.dataset.options);
      if (!options.length) return;
      const input = scale.querySelector("input[list]");
      const at = options.findIndex(([text]) => text === input.value);
      // A value that is on no mark lies under the one it would push away.
      const start = at >= 0 ? at : Number(scale.dataset.index) - (marks > 0 ? 1 : 0);
      this.choose(scale, Math.max(0, Math.min(options.length - 1, start + marks)));
    },

    choose(scale, index) {
      const options = JSON.parse(scale.dataset.options);
      const input = scale.querySelector("input[list]");
      const picked = options[index];
      if (!picked || picked[0] === input.value) return;
      input.value = picked[0];
      scale.querySelector(".track").setAttribute("aria-valuetext", picked[0]);
      scale.querySelectorAll(".mark").forEach((mark, k) => {
        const around = options[index + k - 2];
        const bare = mark.querySelector(".bare");
        (bare || mark).textContent = around ? around[1] : "";
        if (bare) mark.querySelector(".full").textContent = around ? around[0] : "";
        mark.dataset.value = around ? around[0] : "";
        mark.classList.toggle("is-present", k === 2);
      });
      this.store.change(input.name);
    },

    // On a phone a setting that is pressed comes under the thumb, alone, until it is done with.
    pressed(event) {
      const scale = event.target.closest(".scale");
      if (!scale) return;
      const turn = event.target.closest("[data-turn]");
      if (turn) this.step(scale, Number(turn.dataset.turn));
      else if (event.target.closest("[data-type]")) this.type(scale);
      else if (event.target.closest("[data-done]")) this.putBack();
      else if (fotonomy.server.narrow.matches && !scale.matches(".is-open")) {
        scale.classList.add("is-open");
        scale.parentElement.classList.add("has-open");
        scale.querySelector(".track").focus();
      }
    },

    putBack() {
      const scale = this.$root.querySelector(".scale.is-open");
      if (!scale) return false;
      scale.classList.remove("is-open");
      scale.parentElement.classList.remove("has-open");
      scale.querySelector(".track").focus();
      return true;
    },

    type(scale) {
      const input = scale.querySelector("input[list]");
      input.focus();
      input.select();
    },

    // One drag: `begin` gives what is held or nothing, `move` gets it and the way gone in px, to the
    // right or, where what is held says so, upwards.
    drag(begin, move, drop) {
      let hold = null;
      this.$root.addEventListener("pointerdown", (event) => {
        const held = event.button ? null : begin(event);
        if (!held) return;
        hold = { ...held, x: event.clientX, y: event.clientY, moved: 0, id: event.pointerId };
        this.store.gesture = `drag-${Date.now()}-${Math.round(performance.now())}`;
      });
      this.$root.addEventListener("pointermove", (event) => {
        if (!hold || event.pointerId !== hold.id) return;
        move(hold, hold.upwards ? hold.y - event.clientY : event.clientX - hold.x);
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
          /** @type {any[]} */
          const there = document.elementsFromPoint(event.clientX, event.clientY);
          const under = there.find((element) => element.matches(".mark[data-value]"));
          const options = JSON.parse(hold.scale.dataset.options);
          if (fotonomy.server.narrow.matches && !hold.scale.matches(".is-open")) return;
          if (under?.matches(".is-present")) this.type(hold.scale);
          else if (under)
            this.choose(
              hold.scale,
              options.findIndex(([text]) => text === under.dataset.value),
            );
        },
      );
    },

    // A reading along the level drawing, or upwards on the picture: by tenths of a stop, as many as fit into the way the
    // finger went. The drawing is swapped on the way, so the figure holds the pointer.
    dragReadings() {
      this.drag(
        (event) => {
          const mark = event.target.closest("[data-reading]");
          if (!mark) return null;
          const svg = mark.ownerSVGElement;
          const { reading, tenth: px, upwards } = mark.dataset;
          const tenth = Number(px) * (svg.clientWidth / svg.viewBox.baseVal.width);
          mark.closest("figure").setPointerCapture(event.pointerId);
          event.preventDefault();
          return { index: reading, tenth, upwards };
        },
        (hold, way) => {
          const tenths = Math.round(way / hold.tenth);
          if (tenths === hold.moved) return;
          this.store.nudge(hold.index, tenths - hold.moved);
          hold.moved = tenths;
        },
      );
    },

    // The end of a bar of the budget: to the right is more light, and the setting moves by its own
    // marks to where its gain is nearest.
    dragBars() {
      this.drag(
        (event) => {
          const bar = event.target.closest("rect[data-stop]");
          const scale = bar && document.querySelector(`[data-scale="${bar.dataset.setting}"]`);
          if (!scale) return null;
          const options = JSON.parse(scale.dataset.options);
          const now = options.find(([text]) => text === scale.querySelector("input[list]").value);
          const start = (now || options[Number(scale.dataset.index)])?.[2];
          if (start === undefined || new Set(options.map((option) => option[2])).size < 2) return null;
          bar.closest("figure").setPointerCapture(event.pointerId);
          event.preventDefault();
          return { scale, options, start, stop: Number(bar.dataset.stop) };
        },
        (hold, way) => {
          const wanted = hold.start + way / hold.stop;
          let best = 0;
          hold.options.forEach((option, k) => {
            const off = Math.abs(option[2] - wanted);
            if (off < Math.abs(hold.options[best][2] - wanted)) best = k;
          });
          if (Math.abs(way) < 4 || best === hold.moved) return;
          hold.moved = best;
          this.choose(hold.scale, best);
        },
        (hold) => hold.scale.querySelector(".track").focus(),
      );
    },

    // The focus plane and the depth that is wanted, on the open tile where their fields are: px are
    // a factor, for the axis is logarithmic.
    dragFocus() {
      this.drag(
        (event) => {
          const mark = event.target.closest("[data-decade]");
          const depth = mark && "wanted" in mark.dataset;
          const field = document.getElementById(depth ? "f-depth_m" : "f-subject_distance_m");
          if (!mark || !field) return null;
          mark.closest("figure").setPointerCapture(event.pointerId);
          event.preventDefault();
          const { distance, wanted, decade } = mark.dataset;
          const [, number, unit] = /^([\d.,]+)\s*(.*)$/.exec(field.value) || [];
          if (number === undefined) return null;
          return {
            field,
            depth,
            unit,
            was: Number(number.replace(",", ".")),
            at: Number(distance),
            wanted: Number(wanted),
            decade: Number(decade),
          };
        },
        (hold, way) => {
          const factor = 10 ** (way / hold.decade);
          const metres = hold.depth ? 2 * ((hold.at + hold.wanted / 2) * factor - hold.at) : hold.at * factor;
          if (Math.abs(way) < 3 || metres <= 0) return;
          // In the unit that stands there.
          const size = (hold.was * metres) / (hold.depth ? hold.wanted : hold.at);
          const text = `${Number(size.toPrecision(3))} ${hold.unit}`;
          if (text === hold.field.value) return;
          hold.field.value = text;
          this.store.change(hold.field.name);
        },
      );
    },
  }));
});
