// Words with dots under them: the explanation in a little box beside the word, on any page.
(() => {
  let box, opener;

  document.addEventListener("click", (event) => {
    const word = event.target.closest?.("[data-word]");
    if (!word || event.ctrlKey || event.metaKey || event.shiftKey) return;
    event.preventDefault();
    // On a phone the first press on a setting brings it under the thumb, wherever it is pressed.
    const small = window.fotonomy?.server?.narrow?.matches;
    if (small && word.closest(".scale:not(.is-open)")) return;
    event.stopPropagation();
    show(word.dataset.word, word, word.closest("label") ? fieldOf(word) || word : word);
  }, true);

  // Esc closes the box alone, not what is open behind it.
  document.addEventListener("keydown", (event) => {
    if (event.key !== "Escape" || !box?.matches(":popover-open")) return;
    event.preventDefault();
    event.stopPropagation();
    box.hidePopover();
    opener?.focus();
  }, true);

  // F1 in a field explains its label.
  document.addEventListener("keydown", (event) => {
    if (event.key !== "F1" || event.ctrlKey || event.altKey) return;
    const around = event.target.closest?.(".scale, .bfield, .field, .tile");
    const word = around?.querySelector("[data-word]");
    if (!word) return;
    event.preventDefault();
    show(word.dataset.word, word, event.target);
  });

  function fieldOf(word) {
    return document.getElementById(word.closest("label").htmlFor);
  }

  async function show(key, word, back) {
    const place = word.getBoundingClientRect();
    const answer = await fetch(`${word.getAttribute("href").split("#")[0]}${key}/`);
    if (!answer.ok) return;
    opener = back;
    made().innerHTML = await answer.text();
    if (!box.matches(":popover-open")) box.showPopover();
    put(place);
    box.focus();
  }

  function made() {
    if (box) return box;
    box = document.createElement("div");
    box.className = "word-box";
    box.popover = "auto";
    box.tabIndex = -1;
    box.setAttribute("role", "dialog");
    box.setAttribute("aria-label", "What this word means");
    document.body.append(box);
    return box;
  }

  function put(place) {
    const room = document.documentElement.clientWidth;
    const left = Math.max(8, Math.min(place.left, room - box.offsetWidth - 8));
    const below = place.bottom + 6;
    const fits = below + box.offsetHeight < window.innerHeight - 8;
    box.style.left = `${left}px`;
    box.style.top = `${fits ? below : Math.max(8, place.top - box.offsetHeight - 6)}px`;
  }
})();
