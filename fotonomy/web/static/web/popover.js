// A little box over the page, beside what was pressed: for words and for numbers.
window.fotonomy = window.fotonomy || {};
fotonomy.popover = {
  // An empty box that closes by itself when something else is pressed.
  make(label, kind = "") {
    const box = document.createElement("div");
    box.className = `word-box ${kind}`.trim();
    box.popover = "auto";
    box.tabIndex = -1;
    box.setAttribute("role", "dialog");
    box.setAttribute("aria-label", label);
    document.body.append(box);
    return box;
  },

  // Under the place, above it, or as far down as there is room.
  put(box, place) {
    const room = document.documentElement.clientWidth;
    const left = Math.max(8, Math.min(place.left, room - box.offsetWidth - 8));
    const below = place.bottom + 6,
      above = place.top - box.offsetHeight - 6;
    const lowest = Math.max(8, window.innerHeight - box.offsetHeight - 8);
    const top = below <= lowest ? below : above > 8 ? above : lowest;
    box.style.left = `${left}px`;
    box.style.top = `${top}px`;
  },
};
