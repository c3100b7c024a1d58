// A run of frames: looked at a part at a time with a count, stopped and gone on with; played small.
(() => {
  const form = document.querySelector("[data-see]");
  if (form) {
    const one = (name) => form.querySelector(`[data-${name}]`);
    const going = one("going"),
      bar = form.querySelector("progress");
    let stopped = false;
    form.addEventListener("submit", async (event) => {
      event.preventDefault();
      stopped = false;
      going.hidden = false;
      one("trouble").hidden = true;
      form.querySelector("[type=submit]").disabled = true;
      const headers = { Accept: "application/json" };
      try {
        for (;;) {
          const answer = await fetch(form.action, { method: "POST", body: new FormData(form), headers });
          if (answer.redirected || !answer.ok) throw new Error(answer.redirected ? "signed out" : `${answer.status}`);
          const { done, of } = await answer.json();
          bar.max = of;
          bar.value = done;
          one("count").textContent = `${done} of ${of}`;
          if (done >= of) return location.reload();
          if (stopped) break;
        }
      } catch (error) {
        one("trouble").textContent = `It stopped (${error.message}). Press again: it goes on where it stopped.`;
        one("trouble").hidden = false;
      }
      form.querySelector("[type=submit]").disabled = false;
    });
    one("stop").addEventListener("click", () => (stopped = true));
  }

  const player = document.querySelector("[data-player]");
  if (!player) return;
  const part = (name) => player.querySelector(`[data-${name}]`);
  const keys = player.dataset.frames.split(" "),
    fps = Number(player.dataset.fps);
  const address = (key) => player.dataset.address.replace("/0.jpg", `/${key}.jpg`);
  const screen = part("screen"),
    scrub = part("scrub"),
    play = part("play"),
    at = part("at");
  const AHEAD = 40,
    kept = new Map();
  let running = false,
    began = 0,
    first = 0;

  const load = (place) => {
    if (place >= keys.length || kept.has(place)) return kept.get(place);
    const picture = new Image();
    picture.src = address(keys[place]);
    kept.set(place, picture);
    return picture;
  };
  const show = (place) => {
    screen.src = load(place).src;
    scrub.value = place + 1;
    at.textContent = `${place + 1} of ${keys.length}`;
    for (let k = 1; k <= AHEAD; k += 1) load(place + k);
  };
  const stop = () => {
    running = false;
    play.textContent = "Play";
  };
  const step = (now) => {
    if (!running) return;
    const place = first + Math.floor(((now - began) * fps) / 1000);
    if (place >= keys.length) {
      show(keys.length - 1);
      return stop();
    }
    const next = load(place);
    // A frame that has not come is waited for: none is left out.
    if (next.complete) show(place);
    else {
      first = Number(scrub.value) - 1;
      began = now;
    }
    requestAnimationFrame(step);
  };
  play.addEventListener("click", () => {
    if (running) return stop();
    running = true;
    play.textContent = "Stop";
    first = Number(scrub.value) >= keys.length ? 0 : Number(scrub.value) - 1;
    began = performance.now();
    requestAnimationFrame(step);
  });
  scrub.addEventListener("input", () => {
    stop();
    show(Number(scrub.value) - 1);
  });
})();
